import type { Kernels } from '../kernels';
import { solveSymmetric } from '../read/solveSymmetric';
import { PRIOR_SHARE, priorsOf, type FitOptions, type SpectrumSamples } from '../read/spectralFit';
import { PARAMETERS } from '../read/spectralSums';
import type { PathCurve } from './curve';
import { COORDINATES, UNKNOWNS } from './curveSums';

/** A curve and the spectrum it was fitted with. */
export interface CurveFit {
  readonly curve: PathCurve;
  /** As of a spectral fit. */
  readonly parameters: Float64Array;
  /** Mean Huber loss and what the priors cost. */
  readonly cost: number;
}

/** How much a step from control to control usually differs from the one before, px. */
const BEND_SPREAD_PX = 7;
const FIRST_DAMPING = 0.01;
const LEAST_STIFFNESS = 1e-3;
const MOST_TRIES = 6;
const MOST_MOVE_PX = 3;
const MOST_STEP = 1.5;
/** A round that gains less than this share of the cost is the last. */
const LEAST_GAIN = 5e-4;

/**
 * Bends a curve until its power spectrum explains the measured one, together with the sharp picture's spectrum and the
 * noise floor: Levenberg–Marquardt on the cost of the spectral fit. The spectrum knows no phase, so that a curve turned by half a
 * circle fits as well.
 *
 * Source: Levenberg, Quarterly of Applied Mathematics 2 (1944); Marquardt, Journal of SIAM 11 (1963).
 */
export function fitCurve(
  samples: SpectrumSamples,
  options: FitOptions,
  start: Pick<CurveFit, 'curve' | 'parameters'>,
  rounds: number,
  kernels: Kernels,
): CurveFit {
  const sumsAt = (curve: PathCurve, parameters: Float64Array, wantsEquations: boolean) =>
    withPriors(kernels.curveSums(samples, curve, parameters, wantsEquations), curve, parameters, samples, options);
  let { curve, parameters } = start;
  let damping = FIRST_DAMPING;
  let sums = sumsAt(curve, parameters, true);
  for (let round = 0; round < rounds; round++) {
    const before = sums.cost;
    let isBetter = false;
    for (let tries = 0; tries < MOST_TRIES && !isBetter; tries++) {
      const step = stepOf(sums.normal!, sums.right, damping, samples.count);
      const moved = curve.map((value, i) => value + limited(step[i], MOST_MOVE_PX));
      const changed = parameters.map((value, i) => value + limited(step[COORDINATES + i], MOST_STEP));
      isBetter = sumsAt(moved, changed, false).cost < before;
      damping *= isBetter ? 0.3 : 4;
      if (isBetter) [curve, parameters] = [moved, changed];
    }
    if (!isBetter) break;
    sums = sumsAt(curve, parameters, true);
    if (before - sums.cost < LEAST_GAIN * before) break;
  }
  return { curve, parameters, cost: sums.cost };
}

function limited(value: number, most: number): number {
  return Math.max(-most, Math.min(most, value));
}

function stepOf(normal: Float64Array, right: Float64Array, damping: number, count: number): Float64Array {
  const matrix = normal.slice();
  for (let i = 0; i < normal.length; i += UNKNOWNS + 1) matrix[i] += damping * (normal[i] + LEAST_STIFFNESS * count);
  return solveSymmetric(matrix, right.slice());
}

/** The mean cost with what straying from the priors and bending cost; their pull is added to the equations. */
function withPriors(
  { cost, normal, right }: ReturnType<Kernels['curveSums']>,
  curve: PathCurve,
  parameters: Float64Array,
  { count }: SpectrumSamples,
  options: FitOptions,
): ReturnType<Kernels['curveSums']> {
  const { prior, spread } = priorsOf(options);
  const weight = PRIOR_SHARE * count;
  let strain = 0;
  for (let j = 1; j < PARAMETERS; j++) {
    const off = (prior[j] - parameters[j]) / spread[j];
    strain += off * off;
    const at = COORDINATES + j;
    right[at] += (weight * off) / spread[j];
    if (normal) normal[at * UNKNOWNS + at] += weight / (spread[j] * spread[j]);
  }
  const pull = weight / (BEND_SPREAD_PX * BEND_SPREAD_PX);
  for (let here = 2; here < COORDINATES - 2; here++) {
    const [before, after] = [here - 2, here + 2];
    const bend = curve[before] - 2 * curve[here] + curve[after];
    strain += (bend / BEND_SPREAD_PX) ** 2;
    right[before] -= pull * bend;
    right[here] += 2 * pull * bend;
    right[after] -= pull * bend;
    if (!normal) continue;
    normal[before * UNKNOWNS + before] += pull;
    normal[here * UNKNOWNS + here] += 4 * pull;
    normal[after * UNKNOWNS + after] += pull;
    normal[here * UNKNOWNS + before] -= 2 * pull;
    normal[after * UNKNOWNS + here] -= 2 * pull;
    normal[after * UNKNOWNS + before] += pull;
  }
  return { cost: cost / count + 0.5 * PRIOR_SHARE * strain, normal, right };
}
