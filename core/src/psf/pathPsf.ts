import { normalisedPsf, type Psf } from './psf';

/** A point of a path, px from its centre; y down. */
export interface PathPoint {
  readonly x: number;
  readonly y: number;
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
