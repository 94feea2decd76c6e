import { expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import { filledPlane, takeReading, type Plane } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { gaussianPsf } from '../../src/psf/gaussianPsf';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const SIDE = 288;

function read(plane: Plane) {
  return takeReading({
    channels: [plane],
    lumaWeights: [1],
    use: filledPlane(SIDE, SIDE, 1),
    clipped: new Uint8Array(SIDE * SIDE),
    jpeg: false,
    kernels,
  });
}

it('a plain case is sure, a near tie is not', () => {
  const truth = deadLeaves(SIDE, SIDE, 31);
  const plain = withNoise(convolve(truth, discPsf(5)), 0.002, 1);
  const sure = read(plain);
  expect(sure.cause?.method).toBe('missed-focus');
  expect(sure.confidence).toBeGreaterThan(0.9);
  // A disc of r and a Gaussian of σ = r/2 are near twins (Taylor series of their transfer functions agree to f²).
  const tie = read(withNoise(convolve(truth, gaussianPsf(1.1)), 0.01, 2));
  expect(tie.confidence).toBeLessThan(sure.confidence - 0.1);
});
