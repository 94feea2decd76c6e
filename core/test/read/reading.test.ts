import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import { filledPlane, gaussianPsf, pileOf, takeReading, type Plane } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { linePsf } from '../../src/psf/linePsf';
import { convolve, deadLeaves, withNoise } from '../synthetic';

/** A sharp camera's picture: pixel and lens together blur like a Gaussian of 0.6 px. */
const truth = convolve(deadLeaves(230, 200, 11), gaussianPsf(0.6));

function readingOf(luma: Plane) {
  return takeReading({
    channels: [luma],
    lumaWeights: [1],
    use: filledPlane(luma.width, luma.height, 1),
    clipped: new Uint8Array(luma.data.length),
    jpeg: false,
    kernels,
  });
}

describe('the Reading', () => {
  it('finds a disc and its size', () => {
    const { cause, pile } = readingOf(withNoise(convolve(truth, discPsf(3.2)), 0.004, 2));
    expect(cause?.method).toBe('missed-focus');
    expect(Math.abs(cause!.blurSizePx / 2 - 3.2)).toBeLessThan(0.15);
    expect(pile).toBe('soft');
  });

  it('finds a movement, its length and direction', () => {
    const { cause } = readingOf(withNoise(convolve(truth, linePsf(12, 35)), 0.004, 3));
    expect(cause?.method).toBe('straight-movement');
    expect(Math.abs(cause!.blurSizePx - 12)).toBeLessThan(0.5);
    expect(Math.abs(cause!.directionDeg - 35)).toBeLessThan(1.5);
  });

  it('finds a Gaussian', () => {
    const { cause } = readingOf(withNoise(convolve(truth, gaussianPsf(1.4)), 0.003, 4));
    expect(cause?.method).toBe('ordinary-softness');
    expect(Math.abs(cause!.blurSizePx / 2.355 - 1.4)).toBeLessThan(0.1);
  });

  it('leaves a sharp picture alone, clean or grainy', () => {
    expect(readingOf(withNoise(truth, 0.003, 5)).cause).toBeNull();
    const grainy = readingOf(withNoise(truth, 0.03, 6));
    expect(grainy.cause).toBeNull();
    expect(grainy.pile).toBe('grainy');
  });

  it('says which area it needs where it gets too little', () => {
    expect(() => readingOf(filledPlane(40, 40, 0.3))).toThrow(/at least 64 px/);
    const white = filledPlane(200, 200, 1);
    const input = {
      channels: [white],
      lumaWeights: [1],
      use: white,
      clipped: new Uint8Array(white.data.length).fill(1),
      jpeg: false,
      kernels,
    };
    expect(() => takeReading(input)).toThrow(/too bright/);
  });

  it('piles by the limits', () => {
    expect(pileOf(1.4, 0.5, 0.3)).toBe('good-as-is');
    expect(pileOf(1.4, 2, 0.3)).toBe('grainy');
    expect(pileOf(5, 2, 0.2)).toBe('soft');
    expect(pileOf(30, 3, 0.05)).toBe('beyond-recovery');
  });
});
