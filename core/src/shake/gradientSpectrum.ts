import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';
import type { PathLevel } from './estimatePath';

/**
 * Spectrum of a plane's forward differences, those to the right as the real and those downwards as the imaginary part:
 * the real part of a correlation of two such planes is the sum of both directions'. Differences near the ends of the
 * piece (beyond them nothing was photographed) and off the subject count as 0.
 *
 * @param rim - px from the ends of the piece.
 */
export function gradientSpectrum(
  { width, height, data }: Plane,
  { piece, use }: PathLevel,
  rim: number,
  kernels: Kernels,
): ComplexPlane {
  const out = createComplex(width, height);
  for (let y = rim; y < piece.height - rim; y++) {
    for (let x = rim; x < piece.width - rim; x++) {
      const i = y * width + x;
      const used = use.data[y * piece.width + x];
      out.re[i] = (data[i + 1] - data[i]) * used;
      out.im[i] = (data[i + width] - data[i]) * used;
    }
  }
  kernels.fft2d(out);
  return out;
}
