import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  boxMean,
  filledPlane,
  gaussianBlur,
  neighbourhoodRange,
  PLAIN_KERNELS,
  planeOf,
  seededRandom,
  type Plane,
} from '../../src';

/** Made by core/golden/make.py with Debian's python3-scipy. */
const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
  width: number;
  height: number;
  truth: number[];
  psf: { width: number; height: number; values: number[] };
  blurred: number[];
};
const truth = planeOf(golden.width, golden.height, golden.truth);
const psf = planeOf(golden.psf.width, golden.psf.height, golden.psf.values);

function noisePlane(width: number, height: number, seed: number): Plane {
  const random = seededRandom(seed);
  const plane = filledPlane(width, height, 0);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.uniform();
  return plane;
}

/** The samples of the square around a place that lie in the plane. */
function around({ width, height, data }: Plane, i: number, reach: number): number[] {
  const [x, y] = [i % width, Math.floor(i / width)];
  const found: number[] = [];
  for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++) {
    for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++) found.push(data[v * width + u]);
  }
  return found;
}

const product = (a: Plane, b: Plane) => a.data.reduce((sum, value, i) => sum + value * b.data[i], 0);

describe('convolution', () => {
  it('equals scipy.signal.fftconvolve for an asymmetric PSF on a picture that is not square', () => {
    const [blurred] = PLAIN_KERNELS.convolve([truth], psf);
    blurred.data.forEach((value, i) => expect(value).toBeCloseTo(golden.blurred[i], 5));
  });

  it('correlation is its adjoint: ⟨k ⊗ a, b⟩ = ⟨a, k ⋆ b⟩', () => {
    const [a, b] = [noisePlane(37, 51, 1), noisePlane(37, 51, 2)];
    const [forward] = PLAIN_KERNELS.convolve([a], psf);
    const [back] = PLAIN_KERNELS.convolve([b], psf, true);
    expect(product(forward, b)).toBeCloseTo(product(a, back), 2);
    // They differ: this PSF is not its own mirror image.
    expect(Math.abs(product(forward, b) - product(PLAIN_KERNELS.convolve([a], psf, true)[0], b))).toBeGreaterThan(0.1);
  });

  it('keeps several planes apart, and refuses a PSF larger than they are', () => {
    const planes = [1, 2, 3].map((seed) => noisePlane(24, 20, seed));
    const together = PLAIN_KERNELS.convolve(planes, psf);
    planes.forEach((plane, k) => expect(together[k]).toEqual(PLAIN_KERNELS.convolve([plane], psf)[0]));
    expect(() => PLAIN_KERNELS.convolve([noisePlane(8, 4, 1)], psf)).toThrow('larger than the picture');
  });
});

describe('filters', () => {
  it.each([1, 4, 30])('means, least and most over squares of reach %i are those of the samples in them', (reach) => {
    const plane = noisePlane(31, 23, reach);
    const mean = boxMean(plane, reach);
    const { low, high } = neighbourhoodRange(plane, reach);
    for (let i = 0; i < plane.data.length; i += 7) {
      const samples = around(plane, i, reach);
      expect(mean.data[i]).toBeCloseTo(samples.reduce((sum, value) => sum + value, 0) / samples.length, 6);
      expect(low.data[i]).toBe(Math.min(...samples));
      expect(high.data[i]).toBe(Math.max(...samples));
    }
  });

  it('smoothing leaves an even plane as it is and sums to the same', () => {
    const even = gaussianBlur(filledPlane(20, 9, 0.37), 2);
    even.data.forEach((value) => expect(value).toBeCloseTo(0.37, 6));
    const spot = filledPlane(41, 41, 0);
    spot.data[20 * 41 + 20] = 1;
    const spread = gaussianBlur(spot, 2.4);
    expect(spread.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
    const variance = spread.data.reduce((sum, value, i) => sum + value * ((i % 41) - 20) ** 2, 0);
    // Drawn to 3 σ: a little narrower than the whole bell.
    expect(Math.sqrt(variance)).toBeGreaterThan(0.97 * 2.4);
    expect(Math.sqrt(variance)).toBeLessThan(2.4);
  });
});
