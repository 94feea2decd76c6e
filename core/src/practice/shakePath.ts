import { normalisedPsf, type Psf } from '../psf/psf';
import type { SeededRandom } from './seededRandom';

const STEPS = 400;
/** Share of its direction that the hand keeps from one step to the next. */
const STEADINESS = 0.985;

/** A point of a path, px from its centre; y down. */
export interface PathPoint {
  readonly x: number;
  readonly y: number;
}

/**
 * The way a hand-held camera wanders during one exposure: a velocity that keeps its direction for a while, scaled so
 * that the longer side of its box is `extentPx`. Even time between points, so slow stretches weigh more.
 */
export function shakePath(random: SeededRandom, extentPx: number): PathPoint[] {
  let [x, y, vx, vy] = [0, 0, random.normal(), random.normal()];
  const raw: PathPoint[] = [];
  const kick = Math.sqrt(1 - STEADINESS * STEADINESS);
  for (let i = 0; i < STEPS; i++) {
    vx = STEADINESS * vx + kick * random.normal();
    vy = STEADINESS * vy + kick * random.normal();
    x += vx;
    y += vy;
    raw.push({ x, y });
  }
  const range = (pick: (point: PathPoint) => number) => {
    const values = raw.map(pick);
    return { low: Math.min(...values), high: Math.max(...values) };
  };
  const across = range((point) => point.x);
  const down = range((point) => point.y);
  const scale = extentPx / Math.max(across.high - across.low, down.high - down.low, 1e-9);
  const middle = { x: mean(raw, (point) => point.x), y: mean(raw, (point) => point.y) };
  return raw.map((point) => ({ x: (point.x - middle.x) * scale, y: (point.y - middle.y) * scale }));
}

function mean(points: readonly PathPoint[], pick: (point: PathPoint) => number): number {
  return points.reduce((sum, point) => sum + pick(point), 0) / points.length;
}

/** Draws a path as a point spread function; every point is shared between its four nearest pixels by distance. */
export function pathPsf(path: readonly PathPoint[]): Psf {
  const reach = 1 + Math.max(1, ...path.map(({ x, y }) => Math.ceil(Math.max(Math.abs(x), Math.abs(y)))));
  const side = 2 * reach + 1;
  const values = new Float64Array(side * side);
  for (const { x, y } of path) {
    const left = Math.floor(x) + reach;
    const top = Math.floor(y) + reach;
    const right = x + reach - left;
    const down = y + reach - top;
    values[top * side + left] += (1 - right) * (1 - down);
    values[top * side + left + 1] += right * (1 - down);
    values[(top + 1) * side + left] += (1 - right) * down;
    values[(top + 1) * side + left + 1] += right * down;
  }
  return normalisedPsf(side, side, values);
}
