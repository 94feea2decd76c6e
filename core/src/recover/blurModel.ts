import { discPsf } from '../psf/discPsf';
import { FWHM_PER_SIGMA, gaussianPsf } from '../psf/gaussianPsf';
import { linePsf } from '../psf/linePsf';
import type { Psf } from '../psf/psf';

export const BLUR_METHODS = ['ordinary-softness', 'missed-focus', 'straight-movement'] as const;
export type BlurMethod = (typeof BLUR_METHODS)[number];
export const METHODS = [...BLUR_METHODS, 'edge-contrast'] as const;
export type Method = (typeof METHODS)[number];

export function isBlurMethod(method: Method): method is BlurMethod {
  return (BLUR_METHODS as readonly string[]).includes(method);
}

/** The point spread function of a method at a blur size: full width at half maximum, diameter or length in px and direction (°). */
export function psfOf(method: BlurMethod, blurSizePx: number, directionDeg: number): Psf {
  switch (method) {
    case 'ordinary-softness':
      return gaussianPsf(blurSizePx / FWHM_PER_SIGMA);
    case 'missed-focus':
      return discPsf(blurSizePx / 2);
    case 'straight-movement':
      return linePsf(blurSizePx, directionDeg);
  }
}
