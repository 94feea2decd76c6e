import { pathPsf, type PathPoint } from './pathPsf';
import type { Psf } from './psf';
import type { SeededRandom } from '../seededRandom';

/**
 * The way of a shaken camera in even time: control points of a uniform cubic B-spline, x0, y0, x1, y1 … in px, y down.
 * Slow stretches have points close together and weigh more.
 */
export type PathCurve = Float64Array;

export const CONTROLS = 14;
/**
 * A place on the curve is a mean of so many controls that follow each other; between two of them lie so many points.
 */
export const SPAN = 4;
export const POINTS_PER_SPAN = 6;
/** Points in even time that stand for the curve. */
export const POINTS = (CONTROLS - SPAN + 1) * POINTS_PER_SPAN;
/** Shares of the controls in each point of a span: SPAN values each. */
export const CONTROL_SHARES = Float64Array.from({ length: POINTS_PER_SPAN }, (_, k) => (k + 0.5) / POINTS_PER_SPAN)
  .reduce<number[]>(
    (all, u) => [...all, (1 - u) ** 3, 3 * u ** 3 - 6 * u ** 2 + 4, 1 + 3 * (u + u ** 2 - u ** 3), u ** 3],
    [],
  )
  .map((share) => share / 6);

export function pointsOf(curve: PathCurve): { readonly x: Float64Array; readonly y: Float64Array } {
  const x = new Float64Array(POINTS);
  const y = new Float64Array(POINTS);
  for (let k = 0; k < POINTS; k++) {
    const first = 2 * Math.floor(k / POINTS_PER_SPAN);
    const shares = SPAN * (k % POINTS_PER_SPAN);
    for (let z = 0; z < SPAN; z++) {
      x[k] += CONTROL_SHARES[shares + z] * curve[first + 2 * z];
      y[k] += CONTROL_SHARES[shares + z] * curve[first + 2 * z + 1];
    }
  }
  return { x, y };
}

/** Between two points of a long curve lie more than one sample: so many are drawn for each. */
const DRAWN_PER_POINT = 4;

/** The curve drawn, its centroid in the middle sample. */
export function psfOfCurve(curve: PathCurve): Psf {
  const { x, y } = pointsOf(curve);
  const drawn: PathPoint[] = [];
  for (let k = 0; k + 1 < POINTS; k++) {
    for (let step = 0; step < DRAWN_PER_POINT; step++) {
      const share = step / DRAWN_PER_POINT;
      drawn.push({ x: x[k] + share * (x[k + 1] - x[k]), y: y[k] + share * (y[k + 1] - y[k]) });
    }
  }
  const mean = (pick: (point: PathPoint) => number) =>
    drawn.reduce((sum, point) => sum + pick(point), 0) / drawn.length;
  const middle = { x: mean((point) => point.x), y: mean((point) => point.y) };
  return pathPsf(drawn.map((point) => ({ x: point.x - middle.x, y: point.y - middle.y })));
}

/** Turned by half a circle: the same power spectrum. */
export function mirrored(curve: PathCurve): PathCurve {
  return curve.map((value) => -value);
}

/** Where a place lies, seen from where the curve itself holds, as a share of the farthest place's distance; y down. */
export interface Away {
  readonly x: number;
  readonly y: number;
}

/** How far each coordinate of a curve is carried at a place when the farthest one is carried by 1 px at the end of the exposure: the camera
 * turns at an even pace, and stands as the curve itself has it in the middle of the time. */
export function carriedAt({ x, y }: Away): Float64Array {
  const carried = new Float64Array(2 * CONTROLS);
  for (let j = 0; j < CONTROLS; j++) {
    const turned = (2 * j - CONTROLS + 1) / (CONTROLS - SPAN + 1);
    carried[2 * j] = -turned * y;
    carried[2 * j + 1] = turned * x;
  }
  return carried;
}

/** The curve as a place sees it whose coordinates are so carried. */
export function turnedBy(curve: PathCurve, turn: number, carried: Float64Array): PathCurve {
  return curve.map((value, i) => value + turn * carried[i]);
}

/** Share of its direction that the hand keeps from one control to the next. */
const STEADINESS = 0.75;

/** A curve as a hand might draw it, the longer side of its box `extentPx`. */
export function wanderingCurve(random: SeededRandom, extentPx: number): PathCurve {
  const curve = new Float64Array(2 * CONTROLS);
  for (const axis of [0, 1]) {
    let place = 0;
    let pace = random.normal();
    for (let j = 0; j < CONTROLS; j++) {
      pace = STEADINESS * pace + Math.sqrt(1 - STEADINESS ** 2) * random.normal();
      place += pace;
      curve[2 * j + axis] = place;
    }
  }
  const { x, y } = pointsOf(curve);
  const extent = (values: Float64Array) => Math.max(...values) - Math.min(...values);
  const scale = extentPx / Math.max(extent(x), extent(y));
  return curve.map((value) => scale * value);
}
