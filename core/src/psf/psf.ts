import { CoreError } from '../errors';
import { planeOf, type Plane } from '../picture/plane';

/**
 * A point spread function: the picture of a point of light. Odd sides, origin at the centre sample, every value
 * at least 0, sum 1. The photograph is the convolution with it.
 */
export type Psf = Plane;

/** Scales to sum 1 and checks the shape. */
export function normalisedPsf(width: number, height: number, values: ArrayLike<number>): Psf {
  if (width % 2 === 0 || height % 2 === 0) {
    throw new CoreError('PSF_NOT_ODD', `A point spread function needs odd sides, not ${width} × ${height}.`);
  }
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    if (!(values[i] >= 0)) throw new CoreError('PSF_NEGATIVE', 'A point spread function has no negative values.');
    sum += values[i];
  }
  if (!(sum > 0)) throw new CoreError('PSF_EMPTY', 'The point spread function is black everywhere.');
  return planeOf(
    width,
    height,
    Array.from(values, (value) => value / sum),
  );
}

/** The farthest a non-negligible sample lies from the centre, in px along either axis. */
export function reachOf(psf: Psf): number {
  const centreX = (psf.width - 1) / 2;
  const centreY = (psf.height - 1) / 2;
  let reach = 0;
  for (let y = 0; y < psf.height; y++) {
    for (let x = 0; x < psf.width; x++) {
      if (psf.data[y * psf.width + x] > 1e-4) {
        reach = Math.max(reach, Math.abs(x - centreX), Math.abs(y - centreY));
      }
    }
  }
  return reach;
}
