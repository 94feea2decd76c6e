import { installedFilters } from './filters';
import { createPlane, type Plane } from './plane';

/** Mean over a square of 2·reach + 1 px, cut at the plane's edges. Running sums: the cost does not grow with reach. */
export function boxMean(plane: Plane, reach: number): Plane {
  return (installedFilters(plane)?.boxMean ?? plainBoxMean)(plane, reach);
}

/** Sums in double precision, in one order, as the twin in kernels/assembly/filters.ts. */
export function plainBoxMean(plane: Plane, reach: number): Plane {
  const { width, height } = plane;
  const across = createPlane(width, height);
  for (let y = 0; y < height; y++) meanAlong(plane.data, across.data, y * width, width, reach);
  const out = createPlane(width, height);
  meanDown(across.data, out.data, width, height, reach);
  return out;
}

/** All columns at once, row by row, so that memory is read in order. */
function meanDown(from: Float32Array, to: Float32Array, width: number, height: number, reach: number): void {
  const sums = new Float64Array(width);
  let count = Math.min(reach, height);
  for (let i = 0; i < count * width; i++) sums[i % width] += from[i];
  for (let y = 0; y < height; y++) {
    const ahead = y + reach < height ? (y + reach) * width : -1;
    const behind = (y - reach - 1) * width;
    if (ahead >= 0) count++;
    if (behind >= 0) count--;
    const share = 1 / count;
    for (let x = 0; x < width; x++) {
      sums[x] += (ahead >= 0 ? from[ahead + x] : 0) - (behind >= 0 ? from[behind + x] : 0);
      to[y * width + x] = sums[x] * share;
    }
  }
}

function meanAlong(from: Float32Array, to: Float32Array, start: number, length: number, reach: number): void {
  let sum = 0;
  let count = Math.min(reach, length);
  for (let i = 0; i < count; i++) sum += from[start + i];
  for (let i = 0; i < length; i++) {
    const ahead = i + reach < length;
    const behind = i - reach - 1 >= 0;
    if (ahead) count++;
    if (behind) count--;
    sum += (ahead ? from[start + i + reach] : 0) - (behind ? from[start + i - reach - 1] : 0);
    to[start + i] = sum * (1 / count);
  }
}
