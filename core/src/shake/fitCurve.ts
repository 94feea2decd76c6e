import type { Kernels } from '../kernels';
import { solveSymmetric } from '../spectrum/solveSymmetric';
import { PRIOR_SHARE, priorsOf, type FitOptions, type SpectrumSamples } from '../spectrum/spectralFit';
import { PARAMETERS } from '../spectrum/spectralSums';
import { turnedBy, type PathCurve } from '../psf/pathCurve';
import { COORDINATES, UNKNOWNS, type CurveSums } from '../spectrum/curveSums';

/**
 * A place of the frame: what was measured there, and how a turning camera carries the curve's coordinates there
 * (`carriedAt`).
 */
export interface CurvePlace {
  readonly samples: SpectrumSamples;
  readonly carried: Float64Array;
}

/** A curve and the spectra it was fitted with. */
export interface CurveFit {
  readonly curve: PathCurve;
  /**
   * px by which the farthest place is carried from the middle of the exposure to its end; null: the camera does not
   * turn.
   */
  readonly turn: number | null;
  /** As of a spectral fit, for every place. */
  readonly parameters: readonly Float64Array[];
  /** Mean Huber loss and what the priors cost. */
  readonly cost: number;
}

export type CurveStart = Omit<CurveFit, 'cost'>;

/** How much a step from control to control usually differs from the one before, px. */
const BEND_SPREAD_PX = 7;
const TURN_SPREAD_PX = 8;
const FIRST_DAMPING = 0.01;
const LEAST_STIFFNESS = 1e-3;
const MOST_TRIES = 6;
const MOST_MOVE_PX = 3;
const MOST_STEP = 1.5;
/** A round that gains less than this share of the cost is the last. */
const LEAST_GAIN = 5e-4;

/**
 * Bends a curve until its power spectrum explains the measured one, together with the sharp picture's spectrum and the
 * noise floor: Levenberg–Marquardt on the cost of the spectral fit. The spectrum knows no phase, so that a curve turned
 * by half a circle fits as well. Where the camera may turn, the spectra of several places are explained together: by
 * one curve and one turn.
 *
 * @param start - A turn of null stays so.
 * Source: Levenberg, Quarterly of Applied Mathematics 2 (1944); Marquardt, Journal of SIAM 11 (1963).
 */
export function fitCurve(
  places: readonly CurvePlace[],
  options: FitOptions,
  start: CurveStart,
  rounds: number,
  kernels: Kernels,
): CurveFit {
  const count = places.reduce((sum, { samples }) => sum + samples.count, 0);
  let now = start;
  let damping = FIRST_DAMPING;
  let sums = sumsOf(places, now, options, true, kernels);
  for (let round = 0; round < rounds; round++) {
    const before = sums.cost;
    let isBetter = false;
    for (let tries = 0; tries < MOST_TRIES && !isBetter; tries++) {
      const next = moved(now, stepOf(sums, damping, count));
      isBetter = sumsOf(places, next, options, false, kernels).cost < before;
      damping *= isBetter ? 0.3 : 4;
      if (isBetter) now = next;
    }
    if (!isBetter) break;
    sums = sumsOf(places, now, options, true, kernels);
    if (before - sums.cost < LEAST_GAIN * before) break;
  }
  const { curve, turn, parameters } = now;
  return { curve, turn, parameters, cost: sums.cost };
}

function limited(value: number, most: number): number {
  return Math.max(-most, Math.min(most, value));
}

/**
 * Where the unknowns of a step stand. Places' parameters hardly meet each other: where there are several places they
 * come first.
 */
interface Order {
  readonly curve: number;
  /** The turn's, where it is free. */
  readonly turn: number;
  readonly parameters: number;
  readonly size: number;
}

function orderOf({ turn, parameters }: CurveStart): Order {
  const own = PARAMETERS * parameters.length;
  return turn === null
    ? { curve: 0, turn: -1, parameters: COORDINATES, size: COORDINATES + own }
    : { curve: own, turn: own + COORDINATES, parameters: 0, size: own + COORDINATES + 1 };
}

function moved(start: CurveStart, step: Float64Array): CurveStart {
  const { curve, turn, parameters } = start;
  const order = orderOf(start);
  return {
    curve: curve.map((value, i) => value + limited(step[order.curve + i], MOST_MOVE_PX)),
    turn: turn === null ? null : turn + limited(step[order.turn], MOST_MOVE_PX),
    parameters: parameters.map((own, p) =>
      own.map((value, i) => value + limited(step[order.parameters + p * PARAMETERS + i], MOST_STEP)),
    ),
  };
}

interface Sums {
  readonly cost: number;
  /** Lower triangle. */
  readonly normal: Float64Array;
  readonly right: Float64Array;
}

function stepOf({ normal, right }: Sums, damping: number, count: number): Float64Array {
  const matrix = normal.slice();
  for (let i = 0; i < normal.length; i += right.length + 1) {
    matrix[i] += damping * (normal[i] + LEAST_STIFFNESS * count);
  }
  return solveSymmetric(matrix, right.slice());
}

/** The mean cost over all places with what straying from the priors and bending cost, and the equations of a step. */
function sumsOf(
  places: readonly CurvePlace[],
  start: CurveStart,
  options: FitOptions,
  wantsEquations: boolean,
  kernels: Kernels,
): Sums {
  const { curve, turn, parameters } = start;
  const order = orderOf(start);
  const { size } = order;
  const normal = new Float64Array(wantsEquations ? size * size : 0);
  const right = new Float64Array(wantsEquations ? size : 0);
  const { prior, spread } = priorsOf(options);
  const count = places.reduce((sum, { samples }) => sum + samples.count, 0);
  let cost = 0;
  let strain = 0;
  places.forEach(({ samples, carried }, p) => {
    const seen = turn === null ? curve : turnedBy(curve, turn, carried);
    const sums = kernels.curveSums(samples, seen, parameters[p], wantsEquations);
    const share = samples.count / count;
    cost += share * (sums.cost / samples.count);
    const at = order.parameters + p * PARAMETERS;
    if (wantsEquations) addPlace(normal, right, sums, order, at, carried);
    const weight = PRIOR_SHARE * samples.count;
    for (let j = 1; j < PARAMETERS; j++) {
      const off = (prior[j] - parameters[p][j]) / spread[j];
      strain += share * (off * off);
      if (!wantsEquations) continue;
      right[at + j] += (weight * off) / spread[j];
      normal[(at + j) * size + at + j] += weight / (spread[j] * spread[j]);
    }
  });
  const weight = PRIOR_SHARE * count;
  if (turn !== null) {
    strain += (turn / TURN_SPREAD_PX) ** 2;
    if (wantsEquations) {
      right[order.turn] -= (weight * turn) / TURN_SPREAD_PX ** 2;
      normal[order.turn * size + order.turn] += weight / TURN_SPREAD_PX ** 2;
    }
  }
  const pull = weight / (BEND_SPREAD_PX * BEND_SPREAD_PX);
  for (let j = 2; j < COORDINATES - 2; j++) {
    const bend = curve[j - 2] - 2 * curve[j] + curve[j + 2];
    strain += (bend / BEND_SPREAD_PX) ** 2;
    if (!wantsEquations) continue;
    const [before, here, after] = [order.curve + j - 2, order.curve + j, order.curve + j + 2];
    right[before] -= pull * bend;
    right[here] += 2 * pull * bend;
    right[after] -= pull * bend;
    normal[before * size + before] += pull;
    normal[here * size + here] += 4 * pull;
    normal[after * size + after] += pull;
    normal[here * size + before] -= 2 * pull;
    normal[after * size + here] -= 2 * pull;
    normal[after * size + before] += pull;
  }
  return { cost: cost + 0.5 * PRIOR_SHARE * strain, normal, right };
}

/**
 * Adds one place's equations; its own parameters stand from `at` on, and its curve moves with the turn as it is
 * carried.
 */
function addPlace(
  normal: Float64Array,
  right: Float64Array,
  sums: CurveSums,
  { curve, turn, size }: Order,
  at: number,
  carried: Float64Array,
): void {
  const own = sums.normal!;
  for (let row = 0; row < UNKNOWNS; row++) {
    const to = row < COORDINATES ? curve + row : at + row - COORDINATES;
    right[to] += sums.right[row];
    for (let column = 0; column <= row; column++) {
      const other = column < COORDINATES ? curve + column : at + column - COORDINATES;
      normal[to > other ? to * size + other : other * size + to] += own[row * UNKNOWNS + column];
    }
  }
  if (turn < 0) return;
  const pulled = new Float64Array(UNKNOWNS);
  for (let row = 0; row < UNKNOWNS; row++) {
    for (let column = 0; column <= row && column < COORDINATES; column++) {
      const value = own[row * UNKNOWNS + column];
      pulled[row] += value * carried[column];
      if (row < COORDINATES && row !== column) pulled[column] += value * carried[row];
    }
  }
  for (let j = 0; j < COORDINATES; j++) {
    right[turn] += carried[j] * sums.right[j];
    normal[turn * size + curve + j] += pulled[j];
    normal[turn * size + turn] += carried[j] * pulled[j];
  }
  for (let j = 0; j < PARAMETERS; j++) normal[turn * size + at + j] += pulled[COORDINATES + j];
}
