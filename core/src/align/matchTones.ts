import { gaussianBlur } from '../picture/gaussianBlur';
import type { Plane } from '../picture/plane';

const STEPS = 64;
/** Detail differs between versions, tones hardly: they are compared after smoothing. */
const SMOOTHING_PX = 6;

/**
 * The tone curve that makes `version` like `original`: never falling, straight between 64 steps. Returned as the
 * version passed through it.
 *
 * @param original, version - Linear light, one channel, on one grid.
 * @param covered - 1 where both are known. The fit never falls by pooling neighbours: Ayer, Brunk, Ewing, Reid,
 * Silverman, Annals of Mathematical Statistics 26 (1955).
 */
export function matchTones(original: Plane, version: Plane, covered: Plane): Plane {
  const [y, x] = [original, version].map((plane) => gaussianBlur(plane, SMOOTHING_PX));
  const sums = new Float64Array(STEPS);
  const places = new Float64Array(STEPS);
  const counts = new Float64Array(STEPS);
  // Even steps in the square root: dark tones are many and near.
  for (let i = 0; i < x.data.length; i++) {
    if (covered.data[i] === 0) continue;
    const value = Math.min(1, Math.max(0, x.data[i]));
    const step = Math.min(STEPS - 1, Math.floor(Math.sqrt(value) * STEPS));
    sums[step] += y.data[i];
    places[step] += value;
    counts[step]++;
  }
  const knots = poolFalling(sums, places, counts);
  if (knots.length < 2) return version;
  return { ...version, data: version.data.map((value) => curveAt(knots, value)) };
}

interface Knot {
  readonly from: number;
  readonly to: number;
  readonly count: number;
}

function poolFalling(sums: Float64Array, places: Float64Array, counts: Float64Array): Knot[] {
  const knots: Knot[] = [];
  for (let i = 0; i < STEPS; i++) {
    if (counts[i] < 20) continue;
    let knot = { from: places[i] / counts[i], to: sums[i] / counts[i], count: counts[i] };
    for (let last = knots.at(-1); last && last.to >= knot.to; last = knots.at(-1)) {
      const count = last.count + knot.count;
      knot = {
        from: (last.from * last.count + knot.from * knot.count) / count,
        to: (last.to * last.count + knot.to * knot.count) / count,
        count,
      };
      knots.pop();
    }
    knots.push(knot);
  }
  return knots;
}

/** Straight between knots; beyond the ends with the slope of the line through black, or of the last two. */
function curveAt(knots: readonly Knot[], value: number): number {
  const first = knots[0];
  if (value <= first.from) return first.to + (value - first.from) * (first.from > 0 ? first.to / first.from : 1);
  let i = 1;
  while (i < knots.length - 1 && value > knots[i].from) i++;
  const [a, b] = [knots[i - 1], knots[i]];
  return a.to + ((value - a.from) * (b.to - a.to)) / Math.max(1e-9, b.from - a.from);
}
