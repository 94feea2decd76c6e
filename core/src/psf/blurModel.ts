import { bladedPsf } from './bladedPsf';
import { discPsf } from './discPsf';
import { FWHM_PER_SIGMA, gaussianPsf } from './gaussianPsf';
import { linePsf } from './linePsf';
import type { Psf } from './psf';
import { CoreError } from '../errors';
import { psfOfPath, type StoredPath } from './storedPath';

export const BLUR_METHODS = ['ordinary-softness', 'missed-focus', 'straight-movement', 'camera-shake'] as const;
export type BlurMethod = (typeof BLUR_METHODS)[number];
export const METHODS = [...BLUR_METHODS, 'edge-contrast', 'fine-texture'] as const;
export type Method = (typeof METHODS)[number];

export function isBlurMethod(method: Method): method is BlurMethod {
  return (BLUR_METHODS as readonly string[]).includes(method);
}

/** What the point spread function of a method needs: full width at half maximum, diameter or length in px, direction (°). */
export interface BlurModel {
  readonly method: Method;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  /** Of a camera shake; the others need none. */
  readonly path?: StoredPath;
  /** Of a missed focus: straight blades of the diaphragm, 5 to 11; 0 or left out is round. */
  readonly blades?: number;
  /** First corner of a bladed diaphragm, degrees counter-clockwise from +x. */
  readonly bladesDeg?: number;
}

/** @throws CoreError NO_PATH for a camera shake without its path. */
export function psfOf({ method, blurSizePx, directionDeg, path, blades, bladesDeg }: BlurModel): Psf {
  switch (method) {
    case 'edge-contrast':
    case 'fine-texture':
      throw new RangeError(`${method} has no blur model`);
    case 'camera-shake':
      if (!path) throw new CoreError('NO_PATH', 'Camera shake needs a path; measure the frame first.');
      return psfOfPath(path, blurSizePx);
    case 'ordinary-softness':
      return gaussianPsf(blurSizePx / FWHM_PER_SIGMA);
    case 'missed-focus':
      return blades ? bladedPsf(blurSizePx / 2, blades, bladesDeg ?? 0) : discPsf(blurSizePx / 2);
    case 'straight-movement':
      return linePsf(blurSizePx, directionDeg);
  }
}
