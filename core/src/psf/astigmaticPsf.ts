import { CoreError } from '../errors';
import { normalisedPsf, type Psf } from './psf';

const SUBROWS = 64;

/**
 * The picture of a point out of focus through an astigmatic lens: an ellipse of the same area as the circle of radius
 * `radiusPx`, drawn with exact coverage along rows.
 *
 * @param squeezePercent - By how much it is narrower than long: 100 · (1 − narrow / long), 0 to 70.
 * @param longDeg - Direction in which it is long, counter-clockwise from +x.
 * @throws CoreError PSF_SIZE, PSF_SQUEEZE
 */
export function astigmaticPsf(radiusPx: number, squeezePercent: number, longDeg: number): Psf {
  if (!(radiusPx > 0)) throw new CoreError('PSF_SIZE', `An ellipse needs a radius above 0 px, not ${radiusPx}.`);
  if (!(squeezePercent >= 0 && squeezePercent <= 70)) {
    throw new CoreError('PSF_SQUEEZE', `An ellipse is squeezed by 0 to 70 %, not ${squeezePercent}.`);
  }
  const ratio = Math.sqrt(1 - squeezePercent / 100);
  const [long, narrow] = [radiusPx / ratio, radiusPx * ratio];
  const [cos, sin] = [Math.cos((longDeg * Math.PI) / 180), -Math.sin((longDeg * Math.PI) / 180)];
  // The ellipse as a·x² + 2·b·x·y + c·y² = 1, y downwards.
  const a = (cos / long) ** 2 + (sin / narrow) ** 2;
  const b = cos * sin * (1 / long ** 2 - 1 / narrow ** 2);
  const c = (sin / long) ** 2 + (cos / narrow) ** 2;
  const reach = Math.max(1, Math.ceil(long + 0.5));
  const side = 2 * reach + 1;
  const values = new Float64Array(side * side);
  for (let row = 0; row < side; row++) {
    for (let sub = 0; sub < SUBROWS; sub++) {
      const y = row - reach - 0.5 + (sub + 0.5) / SUBROWS;
      const within = (b * y) ** 2 - a * (c * y * y - 1);
      if (within <= 0) continue;
      const [middle, half] = [(-b * y) / a, Math.sqrt(within) / a];
      for (let column = 0; column < side; column++) {
        const left = Math.max(column - reach - 0.5, middle - half);
        const right = Math.min(column - reach + 0.5, middle + half);
        if (right > left) values[row * side + column] += right - left;
      }
    }
  }
  return normalisedPsf(side, side, values);
}
