import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { filledPlane, fitNoise, noiseAtMidTonePercent, PLAIN_KERNELS, planeOf, type Plane } from '../src';
import { stabilise, unstabilise } from '../src/clean/anscombe';
import { cleanChannels } from '../src/clean/cleanChannels';
import { localNoise } from '../src/read/localNoise';
import { deadLeaves, normal, psnr, seeded, withNoise } from './synthetic';

const golden = JSON.parse(readFileSync(new URL('../golden/skimage.json', import.meta.url), 'utf8')) as {
  white: { side: number; values: number[]; estimateSigma: number };
};

function ramp(width: number, height: number): Plane {
  const plane = filledPlane(width, height, 0);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = 0.02 + (0.85 * (i % width)) / width;
  return plane;
}

describe('noise', () => {
  it('white noise: within 5 % of skimage.restoration.estimate_sigma', () => {
    const plane = planeOf(golden.white.side, golden.white.side, golden.white.values);
    const [{ a, b }] = fitNoise([plane], filledPlane(plane.width, plane.height, 1));
    const sigma = Math.sqrt(a * 0.4 + b);
    expect(sigma / golden.white.estimateSigma).toBeGreaterThan(0.95);
    expect(sigma / golden.white.estimateSigma).toBeLessThan(1.05);
  });

  it('Poisson–Gaussian noise: σ at mid-tone within 5 % on a flat-enough picture, over four ISO levels', () => {
    for (const gain of [2e-5, 1e-4, 4e-4, 1.6e-3]) {
      const clean = ramp(512, 256);
      const random = seeded(Math.round(gain * 1e6));
      const noisy = { ...clean, data: clean.data.map((y) => y + Math.sqrt(gain * y + 2e-6) * normal(random)) };
      const lines = fitNoise([noisy, noisy, noisy], filledPlane(512, 256, 1));
      const measured = noiseAtMidTonePercent([lines[0]], [1]) / 100;
      expect(measured / Math.sqrt(gain * 0.18 + 2e-6)).toBeGreaterThan(0.95);
      expect(measured / Math.sqrt(gain * 0.18 + 2e-6)).toBeLessThan(1.05);
    }
  });

  it('local noise of white noise is its variance (Immerkær 1996)', () => {
    const local = localNoise(withNoise(filledPlane(128, 128, 0.5), 0.05, 1));
    const mean = local.data.reduce((sum, value) => sum + value, 0) / local.data.length;
    expect(Math.sqrt(mean)).toBeCloseTo(0.05, 2.5);
  });

  it('variance is stable after the Anscombe transform: 1 ± 0.005 for means ≥ 4, by summing the Poisson law', () => {
    // Variance of 2·√(k + 3/8), k after Poisson: Anscombe (1948); summed, not drawn.
    for (const mean of [4, 6, 10, 25, 60]) {
      let [weight, first, second] = [Math.exp(-mean), 0, 0];
      let total = 0;
      for (let k = 0; k < 400; k++) {
        const value = stabilise(k, { a: 1, b: 0 });
        total += weight;
        first += weight * value;
        second += weight * value * value;
        weight *= mean / (k + 1);
      }
      expect(total).toBeCloseTo(1, 9);
      expect(Math.abs(second - first * first - 1)).toBeLessThan(mean < 6 ? 0.02 : 0.005);
      // The exact unbiased inverse undoes the mean of the transformed values.
      expect(unstabilise(first, { a: 1, b: 0 })).toBeCloseTo(mean, 1);
    }
  });

  it('cleaning: raises PSNR of noise, keeps the share that is asked for, leaves brightness alone', () => {
    const truth = deadLeaves(96, 96, 4, 5);
    const noisy = withNoise(truth, 0.04, 9);
    const noise = [{ a: 0, b: 0.0016 }];
    const [clean] = cleanChannels([noisy], { noise, detailKeptPercent: 0 }, 0, 0, PLAIN_KERNELS);
    expect(psnr(clean, truth) - psnr(noisy, truth)).toBeGreaterThan(1.5);
    const [half] = cleanChannels([noisy], { noise, detailKeptPercent: 50 }, 0, 0, PLAIN_KERNELS);
    for (let i = 0; i < half.data.length; i += 17)
      expect(half.data[i]).toBeCloseTo((clean.data[i] + noisy.data[i]) / 2, 5);
    const mean = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0) / data.length;
    expect(mean(clean)).toBeCloseTo(mean(noisy), 3);
  });
});
