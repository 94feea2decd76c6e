import { createComplex, fft2d, type ComplexPlane } from '../fourier/fft2d';
import { CoreError } from '../errors';
import type { Psf } from './psf';

/** The transfer function of `psf` on the frequency grid of a width × height FFT; its origin is the centre sample. */
export function transferFunction(psf: Psf, width: number, height: number): ComplexPlane {
  const otf = createComplex(width, height);
  otf.re.set(psfAtOrigin(psf, width, height));
  fft2d(otf);
  return otf;
}

/**
 * `psf` with its centre sample at (0, 0) of a width × height grid, wrapped around.
 * @throws CoreError PSF_TOO_LARGE
 */
export function psfAtOrigin(psf: Psf, width: number, height: number): Float32Array {
  if (psf.width > width || psf.height > height) {
    throw new CoreError(
      'PSF_TOO_LARGE',
      `The point spread function (${psf.width} × ${psf.height} px) is larger than the picture (${width} × ${height} px).`,
    );
  }
  const centreX = (psf.width - 1) / 2;
  const centreY = (psf.height - 1) / 2;
  const values = new Float32Array(width * height);
  for (let y = 0; y < psf.height; y++) {
    const row = (y - centreY + height) % height;
    for (let x = 0; x < psf.width; x++) {
      values[row * width + ((x - centreX + width) % width)] = psf.data[y * psf.width + x];
    }
  }
  return values;
}

/** Value of the transfer function at one frequency (cycles per px; x to the right, y down), by direct summation. */
export function transferAt(psf: Psf, fx: number, fy: number): { re: number; im: number } {
  const centreX = (psf.width - 1) / 2;
  const centreY = (psf.height - 1) / 2;
  let re = 0;
  let im = 0;
  for (let y = 0; y < psf.height; y++) {
    for (let x = 0; x < psf.width; x++) {
      const phase = -2 * Math.PI * (fx * (x - centreX) + fy * (y - centreY));
      re += psf.data[y * psf.width + x] * Math.cos(phase);
      im += psf.data[y * psf.width + x] * Math.sin(phase);
    }
  }
  return { re, im };
}
