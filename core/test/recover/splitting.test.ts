import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { filledPlane, normalisedPsf, planeOf, PLAIN_KERNELS, type Plane, splittingDeconvolve } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { linePsf } from '../../src/psf/linePsf';
import { convolve, deadLeaves, psnr, withNoise } from '../synthetic';

const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
  width: number;
  height: number;
  truth: number[];
  noisy: number[];
  psf: { width: number; height: number; values: number[] };
  psnr: Record<string, number>;
};

describe('splittingDeconvolve', () => {
  it('beats the best skimage.restoration.richardson_lucy on an asymmetric PSF and a picture that is not square', () => {
    // Same picture, same PSF, convolved by scipy: a mirrored or shifted PSF would lose everything here.
    const truth = planeOf(golden.width, golden.height, golden.truth);
    const blurred = planeOf(golden.width, golden.height, golden.noisy);
    const psf = normalisedPsf(golden.psf.width, golden.psf.height, golden.psf.values);
    const known = filledPlane(golden.width, golden.height, 1);
    const [answer] = splittingDeconvolve({ blurred: [blurred], weight: [known], clipped: null }, psf, {
      lambda: 12 * 4e-6,
      iterations: 60,
      dataPenalty: 0.3,
    });
    expect(psnr(answer, truth, 10)).toBeGreaterThan(golden.psnr.richardsonLucy);
  });

  it('brings back a sharp picture through disc and line, and shifts nothing', () => {
    const truth = deadLeaves(120, 96, 3, 3);
    for (const psf of [discPsf(2.5), linePsf(8, 25)]) {
      const blurred = withNoise(convolve(truth, psf), 0.003, 5);
      // The transform is periodic: a rim of unknown samples keeps opposite edges apart.
      const weight = filledPlane(120, 96, 0);
      for (let y = 6; y < 90; y++) weight.data.fill(1, y * 120 + 6, y * 120 + 114);
      const [answer] = splittingDeconvolve({ blurred: [blurred], weight: [weight], clipped: null }, psf, {
        lambda: 12 * 1e-5,
        iterations: 60,
        dataPenalty: 0.3,
      });
      expect(psnr(answer, truth, 16) - psnr(blurred, truth, 16)).toBeGreaterThan(3);
      const moved = { ...truth, data: Float32Array.from(truth.data, (_, i) => truth.data[Math.max(0, i - 1)]) };
      expect(psnr(answer, truth, 16)).toBeGreaterThan(psnr(answer, moved, 16));
    }
  });

  it('recovers colours together better than each alone: their edges stand at the same places', () => {
    const truth = [0.9, 0.5, 0.2].map((share) => {
      const leaves = deadLeaves(96, 96, 7);
      return { ...leaves, data: leaves.data.map((value) => share * value) };
    });
    const psf = discPsf(2);
    const blurred = truth.map((plane, c) => withNoise(convolve(plane, psf), 0.02, 11 + c));
    const weight = truth.map(() => filledPlane(96, 96, 1));
    const options = { lambda: 20 * 4e-4, iterations: 40, dataPenalty: 0.3 };
    const together = splittingDeconvolve({ blurred, weight, clipped: null }, psf, options);
    const alone = blurred.map((plane, c) => {
      const evidence = { blurred: [plane], weight: [weight[c]], clipped: null };
      return splittingDeconvolve(evidence, psf, { ...options, lambda: 12 * 4e-4 })[0];
    });
    const mean = (planes: readonly Plane[]) => planes.reduce((sum, plane, c) => sum + psnr(plane, truth[c], 8), 0) / 3;
    expect(mean(together)).toBeGreaterThan(mean(alone) + 0.3);
  });

  it('takes white only as a lower bound: a clipped highlight does not darken its surroundings', () => {
    const truth = filledPlane(64, 64, 0.2);
    for (let y = 28; y < 36; y++) for (let x = 28; x < 36; x++) truth.data[y * 64 + x] = 2;
    const light = convolve(truth, discPsf(3));
    const clipped = Uint8Array.from(light.data, (value) => (value >= 1 ? 1 : 0));
    const blurred = { ...light, data: light.data.map((value) => Math.min(1, value)) };
    const options = { lambda: 2e-4, iterations: 120, dataPenalty: 0.3 };
    const weight = filledPlane(64, 64, 1);
    const [told] = splittingDeconvolve(
      { blurred: [blurred], weight: [weight], clipped: [clipped] },
      discPsf(3),
      options,
    );
    const [untold] = splittingDeconvolve({ blurred: [blurred], weight: [weight], clipped: null }, discPsf(3), options);
    const darkest = (data: Float32Array) =>
      data.reduce((least, value, i) => (clipped[i] ? least : Math.min(least, value)), 1);
    expect(darkest(told.data)).toBeGreaterThan(darkest(untold.data));
    expect(darkest(told.data)).toBeGreaterThan(0.1);
  });

  it('can be stopped between two iterations and refuses senseless options', () => {
    const blurred = filledPlane(16, 16, 0.5);
    const evidence = { blurred: [blurred], weight: [blurred], clipped: null };
    let asked = 0;
    const options = { lambda: 1e-3, iterations: 50, dataPenalty: 0.3, shouldStop: () => ++asked === 3 };
    expect(() => PLAIN_KERNELS.deconvolve(evidence, discPsf(1), options)).toThrow('Stopped.');
    expect(asked).toBe(3);
    for (const wrong of [{ lambda: 0 }, { iterations: 0 }, { dataPenalty: NaN }]) {
      expect(() => splittingDeconvolve(evidence, discPsf(1), { ...options, ...wrong })).toThrow(/must be positive/);
    }
  });
});
