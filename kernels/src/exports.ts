/** What assembly/index.ts exports; all numbers but the penalties are addresses in bytes or counts. */
export interface KernelExports {
  memory: WebAssembly.Memory;
  fft2d(width: number, height: number, planX: number, planY: number, re: number, im: number, work: number): void;
  sweepRows(
    ...args: [
      table: number,
      channels: number,
      w: number,
      h: number,
      planX: number,
      work: number,
      threshold: number,
      rows: number,
      kept: number,
      isStart: boolean,
    ]
  ): void;
  divergence(px: number, py: number, w: number, h: number, out: number): void;
  rowsToSpectra(
    ...args: [a: number, b: number, w: number, h: number, planX: number, work: number, spectra: number]
  ): void;
  prepareSolving(
    ...args: [
      spectra: number,
      w: number,
      h: number,
      planY: number,
      across: number,
      down: number,
      mu: number,
      gamma: number,
      scale: number,
      kept: number,
    ]
  ): void;
  solveColumns(
    ...args: [
      tables: number,
      words: number,
      channels: number,
      w: number,
      h: number,
      planY: number,
      kept: number,
      mu: number,
      gamma: number,
    ]
  ): void;
  filterColumns(
    ...args: [spectra: number, w: number, h: number, planY: number, kept: number, sign: number, scale: number]
  ): void;
  spectraToRows(
    ...args: [spectra: number, w: number, h: number, planX: number, work: number, a: number, b: number]
  ): void;
  rowsToSpectrum(...args: [a: number, w: number, h: number, planX: number, work: number, spectrum: number]): void;
  spectrumToRows(
    ...args: [spectrum: number, w: number, h: number, planX: number, work: number, a: number, spare: number]
  ): void;
  cleanRun(
    ...args: [
      from: number,
      pilot: number,
      width: number,
      left: number,
      count: number,
      tops: number,
      topCount: number,
      table: number,
      work: number,
      block: number,
      plane: number,
      shares: number,
    ]
  ): void;
  overShares(sums: number, shares: number, original: number, bytes: number): void;
  hardGradients(x: number, w: number, h: number, least: number, px: number, py: number): void;
  prepareEdges(
    ...args: [
      path: number,
      photograph: number,
      w: number,
      h: number,
      planY: number,
      across: number,
      down: number,
      kept: number,
    ]
  ): void;
  solveEdges(
    ...args: [spectrum: number, w: number, h: number, planY: number, kept: number, penalty: number, scale: number]
  ): void;
  smoothAcross(
    ...args: [from: number, to: number, w: number, h: number, weights: number, reach: number, line: number]
  ): void;
  smoothDown(from: number, to: number, w: number, h: number, weights: number, reach: number): void;
  meansAcross(from: number, to: number, w: number, h: number, reach: number): void;
  meansDown(from: number, to: number, w: number, h: number, reach: number, sums: number): void;
  drawnOver(
    ...args: [
      from: number,
      w: number,
      across: number,
      columns: number,
      down: number,
      rows: number,
      row: number,
      out: number,
    ]
  ): void;
  product(p: number, q: number, bytes: number, out: number): void;
  guidedSlopes(means: number, bytes: number, stiffness: number): void;
  guidedSum(planes: number, guide: number, bytes: number, out: number): void;
  leastOfTwo(data: number, count: number, ahead: number): void;
  mostOfTwo(data: number, count: number, ahead: number): void;
  squaredImmerkaer(from: number, to: number, w: number, h: number, across: number): void;
  mixes(p: number, q: number, r: number, bytes: number, weights: number, count: number): void;
  blendOver(...args: [shown: number, own: number, answer: number, weight: number, bytes: number, share: number]): void;
  addByTone(tones: number, bytes: number, linear: number, rooted: number, sum: number): void;
  holdAbove(values: number, least: number, bytes: number, most: number): void;
  squaredRatio(p: number, q: number, v: number, w: number, bytes: number, share: number): void;
  rooted(p: number, bytes: number, slope: number, base: number, scale: number): void;
  lit(p: number, light: number, bytes: number): void;
  lookedUp(p: number, bytes: number, low: number, perUnit: number, values: number, last: number): void;
  demosaicTile(
    ...args: [
      cfa: number,
      width: number,
      height: number,
      pattern: number,
      work: number,
      out: number,
      codes: number,
      becomes: number,
    ]
  ): void;
  spectralSums(
    ...args: [table: number, stride: number, count: number, logGain: number, parameters: number, sums: number]
  ): number;
  sumsAcross(
    ...args: [
      codes: number,
      rows: number,
      rowBytes: number,
      stride: number,
      table: number,
      starts: number,
      ends: number,
      before: number,
      after: number,
      ratio: number,
      count: number,
      to: number,
    ]
  ): void;
  codesOf(from: number, count: number, lights: number, guess: number, to: number, stride: number): void;
  solveDown(data: number, pitch: number, count: number, factors: number): void;
  stretchDown(
    ...args: [from: number, pitch: number, height: number, first: number, weights: number, count: number, to: number]
  ): void;
  turnOver(from: number, pitch: number, height: number, to: number, pitchAfter: number): void;
  logLight(p: number, bytes: number): void;
  convolve3x3(
    ...args: [
      from: number,
      inputs: number,
      to: number,
      outputs: number,
      width: number,
      height: number,
      pitch: number,
      weights: number,
      mode: number,
    ]
  ): void;
  repeatEnds(stack: number, channels: number, width: number, height: number, pitch: number): void;
  sharesOfWeights(weights: number, bytes: number, penalty: number): void;
  curveSums(
    table: number,
    count: number,
    turns: number,
    waves: number,
    highest: number,
    side: number,
    shares: number,
    parameters: number,
    wantsEquations: number,
    normal: number,
    room: number,
  ): number;
}
