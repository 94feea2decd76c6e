import { CoreError } from '../errors';
import { normalisedPsf, type Psf } from './psf';

const SUBROWS = 64;

/**
 * The picture of a point out of focus through a diaphragm of straight blades: a regular polygon of the same area as
 * the circle of radius `radiusPx`, drawn with exact coverage along rows. `rotationDeg`: first corner,
 * counter-clockwise from +x.
 *
 * @param blades - 5 to 11.
 * @throws CoreError PSF_SIZE, PSF_BLADES
 */
export function bladedPsf(radiusPx: number, blades: number, rotationDeg: number): Psf {
  if (!(radiusPx > 0)) throw new CoreError('PSF_SIZE', `A diaphragm needs a radius above 0 px, not ${radiusPx}.`);
  if (!Number.isInteger(blades) || blades < 5 || blades > 11) {
    throw new CoreError('PSF_BLADES', `A diaphragm has 5 to 11 blades, not ${blades}.`);
  }
  const corners = cornersOf(radiusPx, blades, rotationDeg);
  const reach = Math.max(1, Math.ceil(Math.max(...corners.flatMap(([x, y]) => [Math.abs(x), Math.abs(y)])) + 0.5));
  const side = 2 * reach + 1;
  const values = new Float64Array(side * side);
  for (let row = 0; row < side; row++) {
    for (let sub = 0; sub < SUBROWS; sub++) {
      const span = spanAt(corners, row - reach - 0.5 + (sub + 0.5) / SUBROWS);
      if (!span) continue;
      for (let column = 0; column < side; column++) {
        const left = Math.max(column - reach - 0.5, span[0]);
        const right = Math.min(column - reach + 0.5, span[1]);
        if (right > left) values[row * side + column] += right - left;
      }
    }
  }
  return normalisedPsf(side, side, values);
}

type Corner = readonly [number, number];

/** Radius of the circle through the corners: πr² = ½·n·R²·sin(2π/n). */
function cornersOf(radiusPx: number, blades: number, rotationDeg: number): Corner[] {
  const outer = radiusPx * Math.sqrt((2 * Math.PI) / (blades * Math.sin((2 * Math.PI) / blades)));
  return Array.from({ length: blades }, (_, i) => {
    const angle = (rotationDeg * Math.PI) / 180 + (2 * Math.PI * i) / blades;
    return [outer * Math.cos(angle), -outer * Math.sin(angle)];
  });
}

/** Where the row at height y enters and leaves the polygon. */
function spanAt(corners: readonly Corner[], y: number): [number, number] | null {
  const crossings: number[] = [];
  corners.forEach(([x1, y1], i) => {
    const [x2, y2] = corners[(i + 1) % corners.length];
    if (y1 <= y !== y2 <= y) crossings.push(x1 + ((y - y1) / (y2 - y1)) * (x2 - x1));
  });
  return crossings.length >= 2 ? [Math.min(...crossings), Math.max(...crossings)] : null;
}
