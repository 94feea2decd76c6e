import type { Plane } from '../picture/plane';
import type { Point, Size } from '../picture/region';
import { edgeChains } from './edgeChains';
import { toLevel } from './level';

/** Chains as long as this share of the long side, and as straight as a lens leaves them: sagitta over chord. */
const LEAST_LENGTH = 0.15;
const MOST_BEND = 0.04;
/** Of so many px a straight edge is off at most before it is no line at all. */
const MOST_OFF_PX = 1.2;
const EVERY = 4;
const MOST_PERCENT = 15;
const STEP_PERCENT = 0.25;
/** Lines that must speak, and by how much straighter they must be than uncorrected for it to be believed. */
const LEAST_LINES = 4;
const LEAST_WON = 0.15;
/** Less is not worth resampling the picture. */
const LEAST_PERCENT = 0.3;

/**
 * By how many percent the lens bends what is straight: the one under which the long edges of the picture are
 * straightest.
 *
 * @param luma - Linear light, the whole frame, some 800 to 2000 px long.
 * @returns Percent at the corner, as *Distortion* takes it; 0 where lines are straight; null without enough of them.
 * Source: Devernay & Faugeras, "Straight lines have to be straight", Machine Vision and Applications 13 (2001).
 */
export function measureDistortion(luma: Plane): number | null {
  const least = LEAST_LENGTH * Math.max(luma.width, luma.height);
  const lines = edgeChains(luma, least)
    .filter((chain) => bendOf(chain) < MOST_BEND)
    .map((chain) => chain.filter((_, i) => i % EVERY === 0));
  if (lines.length < LEAST_LINES) return null;
  let best = { percent: 0, cost: costOf(lines, luma, 0) };
  const uncorrected = best.cost;
  for (let percent = -MOST_PERCENT; percent <= MOST_PERCENT; percent += STEP_PERCENT) {
    const cost = costOf(lines, luma, percent);
    if (cost < best.cost) best = { percent, cost };
  }
  const { percent, cost } = best;
  if (Math.abs(percent) < LEAST_PERCENT) return 0;
  if (Math.abs(percent) === MOST_PERCENT || cost > (1 - LEAST_WON) * uncorrected) return null;
  return percent;
}

/** How far the points lie from their chord at most, over its length. */
function bendOf(chain: readonly Point[]): number {
  const [a, b] = [chain[0], chain[chain.length - 1]];
  const [u, v] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(u, v);
  if (length < 0.8 * chain.length) return Infinity;
  return chain.reduce((most, { x, y }) => Math.max(most, Math.abs((x - a.x) * v - (y - a.y) * u)), 0) / length ** 2;
}

/**
 * Mean squared distance of the points from the line that is best for their chain, px² of the frame; beyond a limit it
 * grows no more.
 */
function costOf(lines: readonly (readonly Point[])[], frame: Size, distortionPercent: number): number {
  const levelling = { frame, straightenDeg: 0, distortionPercent };
  const costs = lines.map((line) => {
    const straightened = spreadOf(line.map((point) => toLevel(levelling, point)));
    // A correction that shrinks must not win by that.
    const off = (straightened.across / straightened.along) * spreadOf(line).along;
    return Math.min(off, MOST_OFF_PX ** 2);
  });
  return costs.reduce((sum, cost) => sum + cost, 0) / costs.length;
}

/** Variances along and across the line that is best for the points: eigenvalues of their covariance, px². */
function spreadOf(points: readonly Point[]): { readonly along: number; readonly across: number } {
  const mean = (pick: (point: Point) => number) => points.reduce((sum, point) => sum + pick(point), 0) / points.length;
  const [x, y] = [mean((point) => point.x), mean((point) => point.y)];
  const xx = mean((point) => (point.x - x) ** 2);
  const yy = mean((point) => (point.y - y) ** 2);
  const xy = mean((point) => (point.x - x) * (point.y - y));
  const apart = Math.sqrt((xx - yy) ** 2 + 4 * xy * xy);
  return { along: (xx + yy + apart) / 2, across: Math.max(0, (xx + yy - apart) / 2) };
}
