import { createPlane, type Plane } from '../picture/plane';

/**
 * Holds `result` to the range of `original` in its neighbourhood: a sample may leave [minimum, maximum] of the square
 * of 2·reach + 1 px around it by at most `limitPercent` of that range. In place on `result`.
 */
export function limitHalos(result: Plane, original: Plane, reach: number, limitPercent: number): void {
  const low = slidingExtreme(original, reach, Math.min);
  const high = slidingExtreme(original, reach, Math.max);
  for (let i = 0; i < result.data.length; i++) {
    const room = ((high.data[i] - low.data[i]) * limitPercent) / 100;
    const value = result.data[i];
    if (value > high.data[i] + room) result.data[i] = high.data[i] + room;
    else if (value < low.data[i] - room) result.data[i] = low.data[i] - room;
  }
}

function slidingExtreme(plane: Plane, reach: number, pick: (a: number, b: number) => number): Plane {
  const { width, height } = plane;
  const across = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let best = plane.data[y * width + x];
      for (let at = Math.max(0, x - reach); at <= Math.min(width - 1, x + reach); at++) {
        best = pick(best, plane.data[y * width + at]);
      }
      across.data[y * width + x] = best;
    }
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let best = across.data[y * width + x];
      for (let at = Math.max(0, y - reach); at <= Math.min(height - 1, y + reach); at++) {
        best = pick(best, across.data[at * width + x]);
      }
      out.data[y * width + x] = best;
    }
  }
  return out;
}
