import type { Kernels } from '../kernels';
import { samplesUpTo, type FitOptions } from '../read/spectralFit';
import { carriedAt, turnedBy, type PathCurve } from './curve';
import { fitCurve } from './fitCurve';
import { searchCurve } from './searchCurve';
import type { TurnPlace } from './turnPlaces';

/** A way of the camera that turned while it moved. */
export interface TurnFit {
  /** As the pivot saw it. */
  readonly curve: PathCurve;
  readonly pivot: { readonly x: number; readonly y: number };
  /** px by which a place is carried in the whole exposure beyond what the pivot is, for each px it lies away. */
  readonly swing: number;
  /** The curve that a place saw. */
  readonly at: (x: number, y: number) => PathCurve;
}

/** Whole swing at the farthest place, px, from which a turn counts. Of 4 px read as 2.1 to 4.5, of none as 0.02 (docs/methods.md). */
const LEAST_SWING_PX = 1;
/** What a turn must cost beside no turn: 0.85 to 0.98 where the camera turned, 1 where not. */
const TURN_RATIO = 0.985;
const EVERY = 15;
const ROUNDS = 10;

/**
 * The curve and the turn at an even pace that explain the spectra of all places together.
 *
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
  if (places.length === 0) return null;
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
    pivot,
    swing: (2 * Math.abs(turn)) / farthest,
    at: (x, y) => turnedBy(curve, turn, carried(x, y)),
  };
}
