import { describe, expect, it } from 'vitest';
import { filledPlane, gaussianPsf, type Plane } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { linePsf } from '../../src/psf/linePsf';
import { findCause } from '../../src/spectrum/cause';
import { localSpectra } from '../../src/spectrum/powerSpectrum';
import { convolve, deadLeaves, withNoise } from '../synthetic';

/** A sharp scene as a camera draws it: a little soft. */
const truth = convolve(deadLeaves(300, 300, 23), gaussianPsf(0.6));

function causeOf(picture: Plane, sigma: number) {
  const { width, height } = picture;
  const everywhere = filledPlane(width, height, 1);
  return findCause(localSpectra(picture, everywhere, new Uint8Array(width * height)), sigma ** 2, false);
}

describe('The cause by the spectrum alone', () => {
  it('a disc, with its radius', () => {
    const { best } = causeOf(withNoise(convolve(truth, discPsf(3.4)), 0.004, 2), 0.004);
    expect(best?.cause).toBe('missed-focus');
    expect(Math.abs(best!.size - 3.4)).toBeLessThan(0.2);
  });

  it('a line, with its length', () => {
    const { best } = causeOf(withNoise(convolve(truth, linePsf(13, 25)), 0.004, 3), 0.004);
    expect(best?.cause).toBe('straight-movement');
    expect(Math.abs(best!.size - 13)).toBeLessThan(1);
  });

  it('a Gaussian, with its width', () => {
    const { best } = causeOf(withNoise(convolve(truth, gaussianPsf(2)), 0.004, 4), 0.004);
    expect(best?.cause).toBe('ordinary-softness');
    expect(Math.abs(best!.size - Math.hypot(2, 0.6))).toBeLessThan(0.3);
  });

  it('none where nothing explains the picture better than sharpness; what came nearest is told', () => {
    const { best, runnerUp } = causeOf(withNoise(truth, 0.01, 5), 0.01);
    expect(best).toBeNull();
    expect(runnerUp).not.toBeNull();
  });
});
