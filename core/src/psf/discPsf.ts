import { CoreError } from '../errors';
import { normalisedPsf, type Psf } from './psf';

const SUBROWS = 64;

/**
 * The picture of a point out of focus through a round aperture: a disc of radius `radiusPx`, every pixel weighted
 * by the area the disc covers in it. Transfer function 2·J₁(x)/x, x = 2πrf (Goodman, Introduction to Fourier Optics).
 */
export function discPsf(radiusPx: number): Psf {
  if (!(radiusPx >= 0)) throw new CoreError('PSF_SIZE', `A disc needs a radius of at least 0 px, not ${radiusPx}.`);
  const reach = Math.max(1, Math.ceil(radiusPx + 0.5));
  const side = 2 * reach + 1;
  const values = new Float64Array(side * side);
  if (radiusPx < 1e-3) values[(values.length - 1) / 2] = 1;
  for (let row = 0; row < side; row++) {
    for (let sub = 0; sub < SUBROWS; sub++) {
      const y = row - reach - 0.5 + (sub + 0.5) / SUBROWS;
      if (Math.abs(y) >= radiusPx) continue;
      const half = Math.sqrt(radiusPx * radiusPx - y * y);
      for (let column = 0; column < side; column++) {
        const left = Math.max(column - reach - 0.5, -half);
        const right = Math.min(column - reach + 0.5, half);
        if (right > left) values[row * side + column] += right - left;
      }
    }
  }
  return normalisedPsf(side, side, values);
}
