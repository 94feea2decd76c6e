import {
  blockPlaces,
  checkSplittingOptions,
  CoreError,
  frequencyWeights,
  GRADIENT_PENALTY_PER_LAMBDA,
  lanePlan,
  LAST_PENALTY,
  PENALTY_GROWTH,
  psfAtOrigin,
  sigmasOf,
  THRESHOLD,
  type Evidence,
  type Kernels,
  type Plane,
  type Psf,
  type SlidingDctOptions,
  type SplittingOptions,
} from '@vitrocept/core';
import { KernelMemory } from './memory';

/** What assembly/index.ts exports; all numbers but the penalties are addresses in bytes or counts. */
interface KernelExports {
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
      mu: number,
      rows: number,
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
  spectraToRows(
    ...args: [spectra: number, w: number, h: number, planX: number, work: number, a: number, b: number]
  ): void;
  transformRows(plane: number, width: number, height: number, left: number, count: number, out: number): void;
  cutBlocks(
    ...args: [rows: number, count: number, top: number, limits: number, sums: number, weights: number, block: number]
  ): void;
  shrinkBlocks(
    ...args: [
      rows: number,
      pilotRows: number,
      count: number,
      top: number,
      variances: number,
      sums: number,
      weights: number,
      block: number,
    ]
  ): void;
  spreadRows(
    ...args: [
      sums: number,
      weights: number,
      width: number,
      height: number,
      left: number,
      count: number,
      plane: number,
      shares: number,
    ]
  ): void;
  hardGradients(x: number, w: number, h: number, least: number, px: number, py: number): void;
  solveEdges(
    ...args: [
      re: number,
      im: number,
      yRe: number,
      yIm: number,
      kRe: number,
      kIm: number,
      w: number,
      h: number,
      across: number,
      down: number,
      penalty: number,
      scale: number,
    ]
  ): void;
}

/** The hot loops on SIMD WebAssembly. One instance serves one thread; its memory grows to the largest picture seen. */
export async function createKernels(binary: Uint8Array<ArrayBuffer> | ArrayBuffer): Promise<Kernels> {
  const { instance } = await WebAssembly.instantiate(binary, {
    env: {
      abort: () => {
        throw new Error('A kernel stopped by itself.');
      },
    },
  });
  const kernel = instance.exports as unknown as KernelExports;
  const memory = new KernelMemory(kernel.memory);
  return {
    deconvolve: (evidence, psf, options) => deconvolve(kernel, memory, evidence, psf, options),
    fft2d: ({ width, height, re, im }) => transform(kernel, memory, width, height, re, im, 1),
    slidingDct: (plane, options) => slidingDct(kernel, memory, plane, options),
    fewEdges: (photograph, path, price) => fewEdges(kernel, memory, photograph, path, price),
    // Exchanging the real and imaginary parts turns the forward transform into the inverse.
    inverseFft2d: ({ width, height, re, im }) => transform(kernel, memory, width, height, im, re, 1 / (width * height)),
  };
}

function transform(
  kernel: KernelExports,
  memory: KernelMemory,
  width: number,
  height: number,
  re: Float32Array,
  im: Float32Array,
  scale: number,
): void {
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const atRe = memory.place(re);
  const atIm = memory.place(im);
  kernel.fft2d(width, height, planX, planY, atRe, atIm, work);
  for (const [at, values] of [
    [atRe, re],
    [atIm, im],
  ] as const) {
    const answer = memory.floats(at, values.length);
    if (scale === 1) values.set(answer);
    else for (let i = 0; i < values.length; i++) values[i] = answer[i] * scale;
  }
}

/** Room for sixteen columns as the kernels' FFT takes them. */
function placeWork(memory: KernelMemory, width: number, height: number): number {
  return memory.take(32 * Math.max(width, height) * 4);
}

/** See assembly/lanes.ts. */
function placePlan(memory: KernelMemory, length: number): number {
  const { stages } = lanePlan(length);
  const places = memory.take(length * 4);
  memory.words(places, length).set(placesOfFrequencies(length));
  const twiddles = stages.map((stage) => memory.place(stage.twiddles));
  const words = [length, stages.length, places, ...stages.flatMap((stage, i) => [stage.radix, stage.groups, twiddles[i]])];
  const at = memory.take(4 * words.length);
  memory.words(at, words.length).set(words);
  return at;
}

/** Where decimation in frequency leaves each frequency: its digits reversed. */
function placesOfFrequencies(length: number): Int32Array {
  const { stages } = lanePlan(length);
  return Int32Array.from({ length }, (_, frequency) => {
    let place = 0;
    for (const { radix, groups } of stages) {
      place += (frequency % radix) * groups;
      frequency = Math.floor(frequency / radix);
    }
    return place;
  });
}

function deconvolve(
  kernel: KernelExports,
  memory: KernelMemory,
  evidence: Evidence,
  psf: Psf,
  options: SplittingOptions,
): Plane[] {
  checkSplittingOptions(options);
  const { lambda, iterations, dataPenalty } = options;
  const { width, height } = evidence.blurred[0];
  const count = width * height;
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const blocks = Math.floor(width / 8) + 1;
  const kept = memory.take(blocks * height * 48);
  const across = memory.place(frequencyWeights(width));
  const down = memory.place(frequencyWeights(height));
  const noneOpen = memory.place(new Float32Array(width));
  const channels = evidence.blurred.map((_, c) => [
    memory.take(blocks * (height + 4) * 64),
    ...placeChannel(memory, evidence, c, noneOpen),
  ]);
  const table = memory.take(channels.length * CHANNEL_WORDS * 4);
  const rows = memory.take((1 + 29 * channels.length) * width * 4);
  const [out, spare] = [0, 1].map(() => memory.take(count * 4));
  memory.words(table, channels.length * CHANNEL_WORDS).set(channels.flat());

  const penalties = [dataPenalty, GRADIENT_PENALTY_PER_LAMBDA * lambda] as const;
  memory.floats(out, count).set(psfAtOrigin(psf, width, height));
  memory.floats(spare, count).fill(0);
  const [spectra] = channels[0];
  kernel.rowsToSpectra(out, spare, width, height, planX, work, spectra);
  kernel.prepareSolving(spectra, width, height, planY, across, down, ...penalties, 1 / count, kept);
  const of = [channels.length, width, height] as const;
  const threshold = 1 / GRADIENT_PENALTY_PER_LAMBDA;
  for (let iteration = 0; iteration < iterations; iteration++) {
    kernel.sweepRows(table, ...of, planX, work, threshold, dataPenalty, rows, iteration === 0);
    kernel.solveColumns(table, CHANNEL_WORDS, ...of, planY, kept, ...penalties);
    if (options.shouldStop?.()) throw new CoreError('STOPPED', 'Stopped.');
  }
  return channels.map(([spectra]) => {
    kernel.spectraToRows(spectra, width, height, planX, work, out, spare);
    return { width, height, data: memory.floats(out, count).slice() };
  });
}

function fewEdges(kernel: KernelExports, memory: KernelMemory, photograph: Plane, path: Psf, price: number): Plane {
  const { width, height, data } = photograph;
  const count = data.length;
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const [re, im, yIm, kIm, pullX, pullY] = Array.from({ length: 6 }, () => memory.take(count * 4));
  const yRe = memory.place(data);
  const kRe = memory.place(psfAtOrigin(path, width, height));
  const across = memory.place(frequencyWeights(width));
  const down = memory.place(frequencyWeights(height));
  memory.floats(re, count).set(data);
  for (const empty of [yIm, kIm]) memory.floats(empty, count).fill(0);
  kernel.fft2d(width, height, planX, planY, yRe, yIm, work);
  kernel.fft2d(width, height, planX, planY, kRe, kIm, work);
  for (let penalty = 2 * price; penalty < LAST_PENALTY; penalty *= PENALTY_GROWTH) {
    kernel.hardGradients(re, width, height, price / penalty, pullX, pullY);
    kernel.divergence(pullX, pullY, width, height, re);
    memory.floats(im, count).fill(0);
    kernel.fft2d(width, height, planX, planY, re, im, work);
    kernel.solveEdges(re, im, yRe, yIm, kRe, kIm, width, height, across, down, penalty, 1 / count);
    kernel.fft2d(width, height, planX, planY, im, re, work);
  }
  return { width, height, data: memory.floats(re, count).slice() };
}

/** Past the last block of a run the kernel reads and writes this many samples more. */
const RUN_SLACK = 32;

function slidingDct(kernel: KernelExports, memory: KernelMemory, plane: Plane, options: SlidingDctOptions): Plane {
  const { width, height, data } = plane;
  const { tops, lefts } = blockPlaces(plane, options);
  const { pilot } = options;
  const runs = runsOf(lefts);
  memory.reset();
  const room = (data.length + RUN_SLACK) * 4;
  const [from, guess, sum, shares] = Array.from({ length: 4 }, () => memory.take(room));
  const block = memory.take(128 * 16);
  const sigmas = sigmasOf(options);
  const table = memory.place(sigmas.map((sigma) => (pilot ? sigma ** 2 + 1e-20 : THRESHOLD * sigma)));
  const groups = Math.max(0, ...runs.map(({ count }) => Math.ceil(count / 4)));
  const [rows, sums] = [0, 1].map(() => memory.take(height * groups * 128));
  const pilotRows = pilot ? memory.take(height * groups * 128) : 0;
  const weights = memory.take(height * groups * 16);
  memory.floats(from, data.length).set(data);
  if (pilot) memory.floats(guess, data.length).set(pilot.data);
  for (const empty of [sum, shares]) memory.floats(empty, data.length + RUN_SLACK).fill(0);
  for (const { left, count } of runs) {
    const places = height * Math.ceil(count / 4);
    memory.floats(sums, places * 32).fill(0);
    memory.floats(weights, places * 4).fill(0);
    kernel.transformRows(from, width, height, left, count, rows);
    if (pilot) kernel.transformRows(guess, width, height, left, count, pilotRows);
    for (const top of tops) {
      if (pilot) kernel.shrinkBlocks(rows, pilotRows, count, top, table, sums, weights, block);
      else kernel.cutBlocks(rows, count, top, table, sums, weights, block);
    }
    kernel.spreadRows(sums, weights, width, height, left, count, sum, shares);
  }
  const all = memory.floats(sum, data.length);
  const parts = memory.floats(shares, data.length);
  const out = new Float32Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = parts[i] > 0 ? all[i] / parts[i] : data[i];
  return { width, height, data: out };
}

/** Places two samples apart belong to one run. */
function runsOf(lefts: readonly number[]): { left: number; count: number }[] {
  const runs: { left: number; count: number }[] = [];
  for (const left of lefts) {
    const last = runs[runs.length - 1];
    if (last && left === last.left + 2 * last.count) last.count++;
    else runs.push({ left, count: 1 });
  }
  return runs;
}

const CHANNEL_WORDS = 8;

/** Addresses in the order of the table of sweepRows, all but the first. */
function placeChannel(
  memory: KernelMemory,
  { blurred, weight, clipped }: Evidence,
  c: number,
  noneOpen: number,
): number[] {
  const { width, data } = blurred[c];
  const [y, w] = [data, weight[c].data].map((values) => memory.place(values));
  const [dualData, dualX, dualY] = Array.from({ length: 3 }, () => memory.take(data.length * 4));
  memory.floats(dualData, data.length * 3).fill(0);
  const flags = clipped?.[c];
  if (!flags?.includes(1)) return [dualX, dualY, y, w, dualData, noneOpen, 0];
  const open = memory.take(data.length * 4);
  const openWords = memory.words(open, data.length);
  for (let i = 0; i < openWords.length; i++) openWords[i] = flags[i] ? -1 : 0;
  return [dualX, dualY, y, w, dualData, open, width * 4];
}
