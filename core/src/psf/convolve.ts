import type { Plane } from '../picture/plane';
import type { Psf } from './psf';
import { transferFunction } from './transfer';
import { createComplex, fft2d, inverseFft2d } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';

/**
 * psf ⊗ plane of each plane (all of one size), or the correlation psf ⋆ plane. Zeros lie beyond the border up to the
 * next fast length; there it wraps around.
 *
 * @throws CoreError PSF_TOO_LARGE
 */
export function convolve(planes: readonly Plane[], psf: Psf, correlates = false): Plane[] {
  const { width, height } = planes[0];
  const [w, h] = [fastLength(width), fastLength(height)];
  const otf = transferFunction(psf, w, h);
  const sign = correlates ? -1 : 1;
  return planes.map(({ data }) => {
    const spectrum = createComplex(w, h);
    const { re, im } = spectrum;
    for (let y = 0; y < height; y++) re.set(data.subarray(y * width, (y + 1) * width), y * w);
    fft2d(spectrum);
    for (let i = 0; i < re.length; i++) {
      const [a, b, c, d] = [re[i], im[i], otf.re[i], sign * otf.im[i]];
      re[i] = a * c - b * d;
      im[i] = a * d + b * c;
    }
    inverseFft2d(spectrum);
    const out = new Float32Array(data.length);
    for (let y = 0; y < height; y++) out.set(re.subarray(y * w, y * w + width), y * width);
    return { width, height, data: out };
  });
}
