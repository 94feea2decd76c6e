import { keptWith } from '../picture/kept';
import { GAIN_FLOOR } from './psfGain';
import { sharpestOf, type SpectrumSamples } from './spectralFit';
import { HUBER, LINEAR, PARAMETERS } from './spectralSums';
import { CONTROL_SHARES, CONTROLS, POINTS, POINTS_PER_SPAN, pointsOf, SPAN, type PathCurve } from '../psf/pathCurve';

export const COORDINATES = 2 * CONTROLS;
/** The curve's coordinates, and what the spectral fit has beside. */
export const UNKNOWNS = COORDINATES + PARAMETERS;

/** What a curve costs, and the normal equations of a step from it. */
export interface CurveSums {
  /** Sum of the Huber losses of ln of the power. */
  readonly cost: number;
  /** UNKNOWNS × UNKNOWNS, lower triangle; null where not asked for. */
  readonly normal: Float64Array | null;
  readonly right: Float64Array;
}

/** Values of a sample in the table: frequencies across and down as whole numbers of 1/side, ln of the sharpest power, ln of the
 * measured one, and the spectral fit's columns but the first. */
export const TABLE_VALUES = 4 + LINEAR - 1;

export function curveTable(samples: SpectrumSamples): Float32Array<ArrayBuffer> {
  return keptWith(samples, 'curve table', () => {
    const { count, side, fx, fy, logPower, basis } = samples;
    const base = sharpestOf(samples);
    const table = new Float32Array(count * TABLE_VALUES);
    for (let i = 0; i < count; i++) {
      const columns = basis.slice(1).map((column) => column[i]);
      table.set(
        [Math.round(fx[i] * side), Math.round(fy[i] * side), base[i], logPower[i], ...columns],
        i * TABLE_VALUES,
      );
    }
    return table;
  });
}

/** Highest frequency in the table, in whole numbers of 1/side. */
export function highestOf(samples: SpectrumSamples): number {
  return keptWith(samples, 'highest', () => {
    const most = (column: Float64Array) => column.reduce((high, f) => Math.max(high, Math.abs(f)), 0);
    return Math.round(Math.max(most(samples.fx), most(samples.fy)) * samples.side);
  });
}

/** exp(−2πi·n·place/side) of every place, n from 0 to `highest`. */
function fillWaves(places: Float64Array, side: number, highest: number, cos: Float64Array, sin: Float64Array): void {
  for (let k = 0; k < places.length; k++) {
    const angle = (-2 * Math.PI * places[k]) / side;
    const [stepCos, stepSin] = [Math.cos(angle), Math.sin(angle)];
    let [re, im] = [1, 0];
    for (let n = 0, at = k; n <= highest; n++, at += places.length) {
      cos[at] = re;
      sin[at] = im;
      [re, im] = [re * stepCos - im * stepSin, re * stepSin + im * stepCos];
    }
  }
}

/** The plain twin of the kernel, in double precision. */
export function curveSums(
  samples: SpectrumSamples,
  curve: PathCurve,
  parameters: Float64Array,
  wantsEquations: boolean,
): CurveSums {
  const { side, count } = samples;
  const table = curveTable(samples);
  const highest = highestOf(samples);
  const [cosX, sinX, cosY, sinY] = Array.from({ length: 4 }, () => new Float64Array((highest + 1) * POINTS));
  const { x, y } = pointsOf(curve);
  fillWaves(x, side, highest, cosX, sinX);
  fillWaves(y, side, highest, cosY, sinY);
  const normal = wantsEquations ? new Float64Array(UNKNOWNS * UNKNOWNS) : null;
  const right = new Float64Array(UNKNOWNS);
  const row = new Float64Array(UNKNOWNS);
  const [re, im] = [new Float64Array(POINTS), new Float64Array(POINTS)];
  const floor = Math.exp(parameters[LINEAR]);
  let cost = 0;
  for (let i = 0; i < count; i++) {
    const at = i * TABLE_VALUES;
    const [u, v] = [table[at], table[at + 1]];
    const sign = u < 0 ? -1 : 1;
    const [a, b] = [Math.abs(u) * POINTS, v * POINTS];
    let [sumRe, sumIm] = [0, 0];
    for (let k = 0; k < POINTS; k++) {
      re[k] = cosX[a + k] * cosY[b + k] - sign * sinX[a + k] * sinY[b + k];
      im[k] = cosX[a + k] * sinY[b + k] + sign * sinX[a + k] * cosY[b + k];
      sumRe += re[k];
      sumIm += im[k];
    }
    const [gainRe, gainIm] = [sumRe / POINTS, sumIm / POINTS];
    let logSharp = table[at + 2] + parameters[0];
    for (let j = 1; j < LINEAR; j++) logSharp += parameters[j] * table[at + 3 + j];
    const sharp = Math.exp(logSharp);
    const signal = sharp * (gainRe * gainRe + gainIm * gainIm + GAIN_FLOOR);
    const total = signal + floor;
    const residual = table[at + 3] - Math.log(total);
    const size = Math.abs(residual);
    cost += size <= HUBER ? 0.5 * residual * residual : HUBER * (size - 0.5 * HUBER);
    if (!normal) continue;
    // The derivative of a wave by its point's place is −2πif times itself.
    const pace = (-4 * Math.PI * sharp) / (total * POINTS * side);
    row.fill(0);
    for (let k = 0; k < POINTS; k++) {
      const turn = gainIm * re[k] - gainRe * im[k];
      const first = 2 * Math.floor(k / POINTS_PER_SPAN);
      const shares = SPAN * (k % POINTS_PER_SPAN);
      for (let z = 0; z < SPAN; z++) row[first + 2 * z] += CONTROL_SHARES[shares + z] * turn;
    }
    for (let j = 0; j < COORDINATES; j += 2) {
      row[j + 1] = pace * v * row[j];
      row[j] *= pace * u;
    }
    row[COORDINATES] = signal / total;
    for (let j = 1; j < LINEAR; j++) row[COORDINATES + j] = (signal / total) * table[at + 3 + j];
    row[COORDINATES + LINEAR] = floor / total;
    const weight = size <= HUBER ? 1 : HUBER / size;
    for (let j = 0; j < UNKNOWNS; j++) {
      const value = weight * row[j];
      right[j] += value * residual;
      for (let k = 0; k <= j; k++) normal[j * UNKNOWNS + k] += value * row[k];
    }
  }
  return { cost, normal, right };
}
