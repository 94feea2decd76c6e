import { CoreError } from '../errors';
import { normalisedPsf, type Psf } from './psf';

/** Full width at half maximum over σ: 2·√(2·ln 2). */
export const FWHM_PER_SIGMA = 2 * Math.sqrt(2 * Math.log(2));

/**
 * Gaussian of standard deviation `sigmaPx`, drawn to 4 σ. Transfer function exp(−2π²σ²f²).
 * Averaged over 9 × 9 places in each pixel below σ 0.7, where samples at centres alone would be too pointed.
 */
export function gaussianPsf(sigmaPx: number): Psf {
  if (!(sigmaPx >= 0)) throw new CoreError('PSF_SIZE', `A Gaussian needs σ ≥ 0 px, not ${sigmaPx}.`);
  const reach = Math.max(1, Math.ceil(4 * sigmaPx));
  const line = Array.from({ length: 2 * reach + 1 }, (_, i) => profile(i - reach, sigmaPx));
  const values = line.flatMap((down) => line.map((across) => down * across));
  return normalisedPsf(line.length, line.length, values);
}

function profile(distance: number, sigma: number): number {
  if (sigma < 0.05) return distance === 0 ? 1 : 0;
  const at = (x: number) => Math.exp((-x * x) / (2 * sigma * sigma));
  if (sigma >= 0.7) return at(distance);
  let sum = 0;
  for (let i = -4; i <= 4; i++) sum += at(distance + i / 9);
  return sum;
}
