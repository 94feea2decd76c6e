import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { filledPlane, fitNoise, noiseAtMidTonePercent, planeOf, type Plane } from '../../src';
import { stabilise, unbiasedInverse, unstabilise } from '../../src/noise/anscombe';
import { lookUp } from '../../src/picture/arithmetic';
import { localNoise } from '../../src/noise/localNoise';
import { deadLeaves, normal, seeded, withNoise } from '../synthetic';

const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
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

  it('noise that falls with light has no negative slope: it is taken as the same everywhere', () => {
    const random = seeded(12);
    const [width, height] = [320, 240];
    const plane = filledPlane(width, height, 0);
    for (let i = 0; i < plane.data.length; i++) {
      const tone = 0.1 + 0.7 * ((i % width) / width);
      plane.data[i] = tone + (0.03 - 0.025 * tone) * normal(random);
    }
    const [{ a, b }] = fitNoise([plane], filledPlane(width, height, 1));
    expect(a).toBe(0);
    expect(Math.sqrt(b)).toBeGreaterThan(0.008);
    expect(Math.sqrt(b)).toBeLessThan(0.03);
  });

  it('local noise of white noise is its variance (Immerkær 1996)', () => {
    const local = localNoise(withNoise(filledPlane(128, 128, 0.5), 0.05, 1));
    const mean = local.data.reduce((sum, value) => sum + value, 0) / local.data.length;
    expect(Math.sqrt(mean)).toBeCloseTo(0.05, 2.5);
  });

  it('variance is stable after the Anscombe transform: 1 ± 0.005 for means ≥ 4, by summing the Poisson law', () => {
    // Variance of 2·√(k + 3/8), k after Poisson: Anscombe (1948); summed, not drawn. Light 1 is 100 counts.
    const line = { a: 0.01, b: 0 };
    const inverse = unbiasedInverse(line);
    const light = (d: number) => lookUp(inverse, d);
    for (const mean of [4, 6, 10, 25, 60]) {
      let [weight, first, second] = [Math.exp(-mean), 0, 0];
      let total = 0;
      for (let k = 0; k < 400; k++) {
        const value = stabilise(k / 100, line);
        total += weight;
        first += weight * value;
        second += weight * value * value;
        weight *= mean / (k + 1);
      }
      expect(total).toBeCloseTo(1, 9);
      expect(Math.abs(second - first * first - 1)).toBeLessThan(mean < 6 ? 0.02 : 0.005);
      // The unbiased inverse undoes the mean of the transformed values; the plain one would not.
      expect(Math.abs(100 * light(first) - mean)).toBeLessThan(0.05);
      expect(unstabilise(stabilise(mean / 100, line), line)).toBeCloseTo(mean / 100, 9);
    }
  });

  it('noise cut off at black and white is undone: the mean of clipped samples comes back as their light', () => {
    const line = { a: 0.004, b: 0.0004 };
    const inverse = unbiasedInverse(line);
    const light = (d: number) => lookUp(inverse, d);
    const random = seeded(4);
    for (const y of [0, 0.004, 0.02, 0.1, 0.5, 0.97]) {
      let sum = 0;
      for (let i = 0; i < 60000; i++) {
        const sample = y + Math.sqrt(line.a * y + line.b) * normal(random);
        sum += stabilise(Math.min(1, Math.max(0, sample)), line);
      }
      expect(Math.abs(light(sum / 60000) - y)).toBeLessThan(0.002);
    }
    expect(light(stabilise(0, line))).toBe(0);
    expect(light(stabilise(1, line))).toBe(1);
  });

  it('on sharp grey texture, too, noise is read within 15 % where three channels tell it from texture', () => {
    const texture = deadLeaves(256, 256, 3, 1.2);
    const smooth = { ...texture, data: texture.data.map((value) => 0.15 + 0.5 * value) };
    for (const sigma of [0.01, 0.03]) {
      const noisy = [1, 2, 3].map((seed) => withNoise(smooth, sigma, seed));
      const together = fitNoise(noisy, filledPlane(256, 256, 1));
      const alone = fitNoise([noisy[0]], filledPlane(256, 256, 1));
      const [read, readAlone] = [together[0], alone[0]].map(({ a, b }) => Math.sqrt(a * 0.4 + b) / sigma);
      expect(Math.abs(read - 1)).toBeLessThan(0.15);
      // Alone it cannot be told so well.
      expect(readAlone).toBeLessThan(1.25);
    }
  });

  it('where all noise is cut off at black at times it is still read, within a quarter', () => {
    const random = seeded(12);
    const dark = filledPlane(256, 256, 0.01);
    for (let i = 0; i < dark.data.length; i++) dark.data[i] = Math.max(0, dark.data[i] + 0.02 * normal(random));
    const [{ a, b }] = fitNoise([dark], filledPlane(256, 256, 1));
    const sigma = Math.sqrt(a * 0.01 + b);
    expect(sigma).toBeGreaterThan(0.015);
    expect(sigma).toBeLessThan(0.025);
  });
});
