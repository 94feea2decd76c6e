import type { Kernels } from '../kernels';
import { logGainOfPsf } from '../spectrum/psfGain';
import { fitSpectrum, samplesUpTo, type FitOptions } from '../spectrum/spectralFit';
import { carriedAt, psfOfCurve, turnedBy, type PathCurve } from '../psf/pathCurve';
import { fitCurve } from './fitCurve';
import { searchCurve } from './searchCurve';
import type { TurnPlace } from './turnPlaces';

/** A way of the camera that turned while it moved. */
export interface TurnFit {
  /** As the pivot saw it. */
  readonly curve: PathCurve;
  /** px by which a place is carried in the whole exposure beyond what the pivot is, for each px it lies away. */
  readonly swing: number;
  /** The curve that a place saw. */
  readonly at: (x: number, y: number) => PathCurve;
}

/**
 * Whole swing at the farthest place, px, from which a turn counts: at 500 px, turns of 2 to 4 px were read as 1.8 to
 * 4.5, none as 0.02 to 0.08.
 */
const LEAST_SWING_PX = 1;
/** What a turn must cost beside no turn: 0.79 to 0.95 where the camera turned, 1 where not. */
const TURN_RATIO = 0.985;
const EVERY = 15;
const ROUNDS = 10;
/** A curve of each place’s own against one for all: cost 0.63 to 0.91 of it where the camera turned by 2 to 4 px at 500 px, 0.92 to 0.94
 * in four photographs where it did not (and 0.71 to 0.87 where something else differed: depth, or a path that was wrong). */
const DIFFERENT_RATIO = 0.915;
const EVERY_OWN = 5;
const ROUNDS_OWN = 12;

/**
 * Whether places saw different paths: one curve for all, bent to each by itself, then explains its spectrum clearly
 * better.
 */
export function placesDiffer(
  places: readonly TurnPlace[],
  options: FitOptions,
  curve: PathCurve,
  kernels: Kernels,
): boolean {
  if (places.length === 0) return false;
  const few = places.map(({ samples }) => ({
    samples: samplesUpTo(samples, 0.5, EVERY_OWN),
    carried: carriedAt({ x: 0, y: 0 }),
  }));
  const path = psfOfCurve(curve);
  const parameters = few.map(({ samples }) =>
    Float64Array.from(fitSpectrum(samples, logGainOfPsf(path, samples), options, ROUNDS).parameters),
  );
  const together = fitCurve(few, options, { curve, turn: null, parameters }, ROUNDS_OWN, kernels);
  const count = few.reduce((sum, { samples }) => sum + samples.count, 0);
  const apart = few.reduce((sum, place, i) => {
    const start = { curve: together.curve, turn: null, parameters: [together.parameters[i]] };
    return sum + (place.samples.count / count) * fitCurve([place], options, start, ROUNDS_OWN, kernels).cost;
  }, 0);
  return apart < DIFFERENT_RATIO * together.cost;
}

/**
 * The curve and the turn at an even pace that explain the spectra of all places together.
 *
 * @param places - At least two.
 * @param pivot - The middle of the piece that the picture is asked about.
 * @returns Null where the camera did not turn, or nothing tells so.
 */
export function readTurn(
  places: readonly TurnPlace[],
  options: FitOptions,
  pivot: { readonly x: number; readonly y: number },
  edgeCost: (curve: PathCurve) => number,
  finalCost: (curve: PathCurve) => number,
  kernels: Kernels,
): TurnFit | null {
  const farthest = Math.max(...places.map(({ x, y }) => Math.hypot(x - pivot.x, y - pivot.y)));
  const carried = (x: number, y: number) => carriedAt({ x: (x - pivot.x) / farthest, y: (y - pivot.y) / farthest });
  const seen = places.map(({ x, y, samples }) => ({ samples, carried: carried(x, y) }));
  const found = searchCurve(seen, options, edgeCost, finalCost, kernels);
  const { curve, turn, score } = found;
  if (turn === null || score === Infinity || 2 * Math.abs(turn) < LEAST_SWING_PX) return null;
  const few = seen.map((place) => ({ ...place, samples: samplesUpTo(place.samples, 0.5, EVERY) }));
  const turning = fitCurve(few, options, found, ROUNDS, kernels);
  const still = fitCurve(few, options, { ...found, turn: null }, ROUNDS, kernels);
  if (turning.cost > TURN_RATIO * still.cost) return null;
  return {
    curve,
    swing: (2 * Math.abs(turn)) / farthest,
    at: (x, y) => turnedBy(curve, turn, carried(x, y)),
  };
}
