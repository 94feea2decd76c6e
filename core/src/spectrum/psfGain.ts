import { createComplex, fft2d, type ComplexPlane } from '../fourier/fft2d';
import type { Psf } from '../psf/psf';
import type { SpectrumSamples } from './spectralFit';

/** Below this power the transfer function counts as nothing: windows leak that much into its zeros. */
export const GAIN_FLOOR = 3e-4;

/** ln |H|² of any point spread function at every sample. */
export function logGainOfPsf(psf: Psf, samples: SpectrumSamples): Float64Array {
  const { re, im } = transferOnGrid(psf, samples.side);
  return Float64Array.from(binsOf(samples), (at) => Math.log(re[at] ** 2 + im[at] ** 2 + GAIN_FLOOR));
}

/**
 * The transform of a point spread function on the grid of 1/side that the samples lie on, first sample at the origin:
 * wrapped round that side the function has the same transform there.
 */
export function transferOnGrid(psf: Psf, side: number, transform = fft2d): ComplexPlane {
  const wrapped = createComplex(side, side);
  for (let y = 0; y < psf.height; y++) {
    for (let x = 0; x < psf.width; x++) wrapped.re[(y % side) * side + (x % side)] += psf.data[y * psf.width + x];
  }
  transform(wrapped);
  return wrapped;
}

/** Place of every sample on that grid. */
export function binsOf({ count, side, fx, fy }: SpectrumSamples): Int32Array {
  const bin = (frequency: number) => (Math.round(frequency * side) + side) % side;
  return Int32Array.from({ length: count }, (_, i) => bin(fy[i]) * side + bin(fx[i]));
}
