import { createComplex } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { cropPlane, pastePlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { reachOf, type Psf } from '../psf/psf';
import { psfAtOrigin } from '../psf/transfer';
import { keepBlind } from '../spectrum/blindness';

/**
 * What the photograph is blind for hangs on some more around a sample than the blur reaches
 * (core/test/stages/render.test.ts).
 */
const LEAST_REACH_PX = 14;
const MOST_REACH_PX = 32;
/** Power of nature at frequency 1, and by how much more than noise may hide. */
const SIGNAL = 2e-5;
const DOUBT = 4;

/** px around a sample that its part hangs on. */
export const reachOfBlindPart = (psf: Psf): number =>
  Math.min(MOST_REACH_PX, Math.max(LEAST_REACH_PX, Math.ceil(1.5 * reachOf(psf))));

/**
 * What of the planes (linear light, of one size) a photograph with that blur and noise would not have shown: (1 − S) of
 * each frequency, S = |K|²P / (|K|²P + N), P = signal·f^−2.1. Texture no stronger than nature's then
 * vanishes in the noise when it is photographed again. Nothing lies beyond the ends.
 *
 * @param variance - Of the noise of brightness.
 */
export function blindPart(planes: readonly Plane[], psf: Psf, variance: number, kernels: Kernels): Plane[] {
  const { width, height } = planes[0];
  const [w, h] = [
    [width, psf.width],
    [height, psf.height],
  ].map(([own, ofPsf]) => fastLength(Math.max(own + reachOfBlindPart(psf), ofPsf)));
  const otf = { width: w, height: h, re: psfAtOrigin(psf, w, h), im: new Float32Array(w * h) };
  kernels.fft2d(otf);
  const out: Plane[] = [];
  // Two planes go through each transform: what they are weighed by is real.
  for (let first = 0; first < planes.length; first += 2) {
    const pair = createComplex(w, h);
    const held = [pair.re, pair.im].map((data) => ({ width: w, height: h, data }));
    const parts = planes.slice(first, first + 2);
    parts.forEach((part, k) => pastePlane(held[k], part, { x: 0, y: 0 }));
    kernels.fft2d(pair);
    keepBlind([pair], otf, SIGNAL, DOUBT * variance);
    kernels.inverseFft2d(pair);
    out.push(...parts.map((_, k) => cropPlane(held[k], { x: 0, y: 0, width, height })));
  }
  return out;
}
