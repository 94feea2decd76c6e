import { installedFilters } from './filters';
import { keptWith } from './kept';
import type { Plane } from './plane';

/**
 * Minimum and maximum over the square of 2·reach + 1 px around each sample, cut at the plane's edges. Windows of
 * doubling length are joined, so the cost grows with the logarithm of the reach.
 */
export function neighbourhoodRange(plane: Plane, reach: number): { low: Plane; high: Plane } {
  return (installedFilters(plane)?.neighbourhoodRange ?? plainNeighbourhoodRange)(plane, reach);
}

/** The same of a plane that never changes: the last one is kept, for a reach changes seldom while a slider moves. */
export function keptRange(plane: Plane, reach: number): { low: Plane; high: Plane } {
  const last = keptWith(plane, 'last range', (): { reach: number; range: { low: Plane; high: Plane } | null } => ({
    reach,
    range: null,
  }));
  if (!last.range || last.reach !== reach) Object.assign(last, { reach, range: neighbourhoodRange(plane, reach) });
  return last.range!;
}

/** Twin of kernels/assembly/filters.ts. */
export function plainNeighbourhoodRange(plane: Plane, reach: number): { low: Plane; high: Plane } {
  const { width, height } = plane;
  return {
    low: { width, height, data: aroundAll(plane, reach, leastAhead, Infinity) },
    high: { width, height, data: aroundAll(plane, reach, mostAhead, -Infinity) },
  };
}

function aroundAll(
  { width, height, data }: Plane,
  reach: number,
  join: typeof leastAhead,
  beyond: number,
): Float32Array {
  const window = 2 * reach + 1;
  const tall = new Float32Array(width * (height + 2 * reach)).fill(beyond);
  const line = new Float32Array(width + 2 * reach);
  for (let row = 0; row < data.length; row += width) {
    line.fill(beyond);
    line.set(data.subarray(row, row + width), reach);
    join(line, window, 1);
    tall.set(line.subarray(0, width), row + width * reach);
  }
  join(tall, window, width);
  return tall.subarray(0, data.length);
}

/** In place: each sample becomes the least of itself and the next `window` − 1, a `stride` apart. */
function leastAhead(data: Float32Array, window: number, stride: number): void {
  for (let length = 1, step = 1; length < window; length += step) {
    step = Math.min(length, window - length);
    const ahead = step * stride;
    for (let i = 0; i + ahead < data.length; i++) if (data[i + ahead] < data[i]) data[i] = data[i + ahead];
  }
}

/** As leastAhead, the most. */
export function mostAhead(data: Float32Array, window: number, stride: number): void {
  for (let length = 1, step = 1; length < window; length += step) {
    step = Math.min(length, window - length);
    const ahead = step * stride;
    for (let i = 0; i + ahead < data.length; i++) if (data[i + ahead] > data[i]) data[i] = data[i + ahead];
  }
}
