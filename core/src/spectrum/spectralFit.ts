import { installedSums, type SpectralSums, type SpectrumTable } from '../picture/filters';
import { keptWith } from '../picture/kept';
import type { PowerSpectrum } from './powerSpectrum';
import { NATURAL_SLOPE as SLOPE } from './naturalSlope';
import { solveSymmetric } from './solveSymmetric';
import { LINEAR, PARAMETERS, sumUp } from './spectralSums';

/** The frequencies the fit looks at: one half-plane, without the lowest ones. */
export interface SpectrumSamples {
  readonly count: number;
  /** Side of the windows, px: every frequency is a whole number of 1/side. */
  readonly side: number;
  readonly fx: Float64Array;
  /** Down the picture, as fx runs to the right. */
  readonly fy: Float64Array;
  readonly f: Float64Array;
  readonly logPower: Float64Array;
  /** Columns of the linear part: 1, −ln f, cos 2φ, sin 2φ, cos 4φ, sin 4φ; count values each. */
  readonly basis: readonly Float64Array[];
}

export interface FitOptions {
  /** ln of the noise floor expected, and how far it may stray. */
  readonly logFloor: number;
  readonly floorSpread: number;
}

export interface SpectralFit {
  /** Mean Huber loss of ln P − ln S, plus the cost of straying from the priors. */
  readonly cost: number;
  /** Fitted noise floor, a variance per sample in linear light. */
  readonly floor: number;
  readonly parameters: readonly number[];
}

const SLOPE_SPREAD = 0.3;
const ANGULAR_SPREAD = 1.2;
/** The priors weigh like this share of the samples, so that their say does not depend on the window's side. */
export const PRIOR_SHARE = 0.01;
/** The sharpest a camera gives: a Gaussian of this σ stands for pixel and lens. */
const BASE_SIGMA_PX = 0.6;

export function samplesOf({ side, power }: PowerSpectrum, highest: number, thin: number): SpectrumSamples {
  const picked: number[][] = [];
  for (let v = 0; v <= side / 2; v++) {
    for (let u = 0; u < side; u++) {
      if (thin > 1 && (u + v * 2) % thin !== 0) continue;
      if ((v === 0 || v === side / 2) && u > side / 2) continue;
      const fx = (u <= side / 2 ? u : u - side) / side;
      const fy = v / side;
      const f = Math.hypot(fx, fy);
      if (f < 2.9 / side || f > highest) continue;
      picked.push([fx, fy, f, Math.log(Math.max(power[v * side + u], 1e-30))]);
    }
  }
  const column = (pick: (row: number[]) => number) => Float64Array.from(picked, pick);
  const angle = column(([fx, fy]) => Math.atan2(fy, fx));
  return {
    count: picked.length,
    side,
    fx: column((row) => row[0]),
    fy: column((row) => row[1]),
    f: column((row) => row[2]),
    logPower: column((row) => row[3]),
    basis: [
      new Float64Array(picked.length).fill(1),
      column((row) => -Math.log(row[2])),
      angle.map((phi) => Math.cos(2 * phi)),
      angle.map((phi) => Math.sin(2 * phi)),
      angle.map((phi) => Math.cos(4 * phi)),
      angle.map((phi) => Math.sin(4 * phi)),
    ],
  };
}

/** The samples up to a lower frequency, of those every so many. */
export function samplesUpTo(samples: SpectrumSamples, highest: number, every = 1): SpectrumSamples {
  let met = 0;
  const keeps = samples.f.map((f) => (f <= highest && met++ % every === 0 ? 1 : 0));
  const kept = (column: Float64Array) => column.filter((_, i) => keeps[i] === 1);
  const { side, fx, fy, f, logPower, basis } = samples;
  return {
    count: kept(f).length,
    side,
    fx: kept(fx),
    fy: kept(fy),
    f: kept(f),
    logPower: kept(logPower),
    basis: basis.map(kept),
  };
}

/**
 * Fits ln P = ln( exp(θ·basis) · |H|² · base + N ) by Gauss–Newton with Huber weights, H given.
 *
 * @param logGain - ln(|H|²) at each sample (floored by the caller).
 * @param start - Parameters to start from, of an earlier fit; saves rounds.
 */
export function fitSpectrum(
  samples: SpectrumSamples,
  logGain: Float64Array,
  options: FitOptions,
  rounds: number,
  start?: readonly number[],
): SpectralFit {
  const parameters = start ? [...start] : firstGuess(samples, logGain, options);
  const { prior, spread } = priorsOf(options);
  const priorWeight = PRIOR_SHARE * samples.count;
  const sumsAt = summing(samples, logGain);
  let cost = 0;
  for (let round = 0; round <= rounds; round++) {
    const sums = sumsAt(parameters);
    cost = sums.cost;
    if (round === rounds) break;
    const { normal, right } = sums;
    for (let j = 0; j < PARAMETERS; j++) {
      const stiffness = priorWeight / (spread[j] * spread[j]);
      normal[j * PARAMETERS + j] += stiffness + 1e-6 * samples.count;
      right[j] += stiffness * (prior[j] - parameters[j]);
      for (let k = 0; k < j; k++) normal[j * PARAMETERS + k] = normal[k * PARAMETERS + j];
    }
    const step = solveSymmetric(normal, right);
    for (let j = 0; j < PARAMETERS; j++) parameters[j] += Math.max(-1.5, Math.min(1.5, step[j]));
  }
  let strain = 0;
  for (let j = 1; j < PARAMETERS; j++) strain += ((parameters[j] - prior[j]) / spread[j]) ** 2;
  return { cost: cost / samples.count + 0.5 * PRIOR_SHARE * strain, floor: Math.exp(parameters[LINEAR]), parameters };
}

/** The sums at given parameters, by what a host installed or plainly. */
function summing(samples: SpectrumSamples, logGain: Float64Array): (parameters: readonly number[]) => SpectralSums {
  const installed = installedSums();
  if (installed) return installed(tableOf(samples), logGain);
  return (parameters) => sumUp(samples, sharpestOf(samples), logGain, parameters);
}

function tableOf(samples: SpectrumSamples): SpectrumTable {
  return keptWith(samples, 'table', () => {
    const { count, basis, logPower } = samples;
    const pitch = 4 * Math.ceil(count / 4);
    const columns = new Float32Array(7 * pitch);
    [...basis.slice(1), sharpestOf(samples), logPower].forEach((column, k) => columns.set(column, k * pitch));
    return { count, pitch, columns };
  });
}

/** Where the parameters are expected and how far they may stray: the first, the amplitude, as far as it likes. */
export function priorsOf({ logFloor, floorSpread }: FitOptions): { prior: number[]; spread: number[] } {
  const angular = [ANGULAR_SPREAD, ANGULAR_SPREAD, ANGULAR_SPREAD, ANGULAR_SPREAD];
  return { prior: [0, SLOPE, 0, 0, 0, 0, logFloor], spread: [Infinity, SLOPE_SPREAD, ...angular, floorSpread] };
}

/** ln of the power that the sharpest camera leaves, at every sample. */
export function sharpestOf(samples: SpectrumSamples): Float64Array {
  return keptWith(samples, 'sharpest', () => samples.f.map((f) => -4 * (Math.PI * BASE_SIGMA_PX * f) ** 2));
}

/** The fitted spectrum before any blur and noise, at every sample. */
export function sharpSpectrum(samples: SpectrumSamples, { parameters }: SpectralFit): Float64Array {
  return Float64Array.from({ length: samples.count }, (_, i) => {
    let logSignal = -4 * (Math.PI * BASE_SIGMA_PX * samples.f[i]) ** 2;
    for (let j = 0; j < LINEAR; j++) logSignal += parameters[j] * samples.basis[j][i];
    return Math.exp(logSignal);
  });
}

function firstGuess(samples: SpectrumSamples, logGain: Float64Array, options: FitOptions): number[] {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < samples.count; i++) {
    if (samples.f[i] > 0.08) continue;
    sum += samples.logPower[i] - Math.max(logGain[i], -3) - SLOPE * samples.basis[1][i];
    count++;
  }
  return [count ? sum / count : 0, SLOPE, 0, 0, 0, 0, options.logFloor];
}
