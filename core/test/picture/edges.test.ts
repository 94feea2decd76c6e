import { describe, expect, it } from 'vitest';
import { filledPlane, fitNoise, gaussianPsf, seededRandom, srgbEncode, transferAt } from '../../src';

/**
 * Slanted edge after ISO 12233:2017, annex D (edge spread by projection along the edge, four bins a pixel, derivative,
 * transform; the derivative's own response sinc-corrected): of a Gaussian blur seen by box pixels the MTF50 is where
 * exp(−2π²σ²f²)·sinc(f) is one half: 0.1800 cycles/px at σ 1, 0.0927 at σ 2.
 */
function slantedEdgeMtf50(sigma: number): number {
  const [width, height, slope] = [64, 80, Math.tan((5 * Math.PI) / 180)];
  const erf = (x: number) => {
    // Abramowitz & Stegun 7.1.26, good to 1.5e-7.
    const t = 1 / (1 + 0.3275911 * Math.abs(x));
    const p = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t;
    return Math.sign(x) * (1 - p * Math.exp(-x * x));
  };
  const bins = new Map<number, { sum: number; count: number }>();
  const scale = Math.cos(Math.atan(slope));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      // The pixel is the mean of the blurred edge over its square.
      let value = 0;
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < 4; i++) {
          const across = (x + (i + 0.5) / 4 - 0.5 - 32 - slope * (y + (j + 0.5) / 4 - 0.5 - 40)) * scale;
          value += 0.5 * (1 + erf(across / (sigma * Math.SQRT2)));
        }
      const place = Math.round((x - 32 - slope * (y - 40)) * scale * 4);
      const bin = bins.get(place) ?? { sum: 0, count: 0 };
      bins.set(place, { sum: bin.sum + value / 16, count: bin.count + 1 });
    }
  }
  const half = 80;
  const spread = Array.from({ length: 2 * half + 1 }, (_, i) => bins.get(i - half)!.sum / bins.get(i - half)!.count);
  const line = spread.slice(1).map((value, i) => value - spread[i]);
  const at = (f: number) => {
    let [re, im] = [0, 0];
    line.forEach((value, i) => {
      const phase = (2 * Math.PI * f * i) / 4;
      re += value * Math.cos(phase);
      im += value * Math.sin(phase);
    });
    const correction = (Math.PI * f) / 4 / Math.sin((Math.PI * f) / 4);
    return Math.hypot(re, im) * correction;
  };
  const whole = at(1e-6);
  for (let f = 0.01; f < 0.5; f += 1e-4) if (at(f) <= 0.5 * whole) return f;
  return NaN;
}

describe('a slanted edge', () => {
  it.each([
    [1, 0.18],
    [2, 0.0927],
  ])(
    'of a Gaussian of σ %f and box pixels has its MTF50 at %f cycles/px, as our transfer function does',
    (sigma, mtf50) => {
      // Bins of a quarter pixel widen the edge a little: 1 % covers it.
      expect(Math.abs(slantedEdgeMtf50(sigma) / mtf50 - 1)).toBeLessThan(0.015);
      const sinc = (f: number) => Math.sin(Math.PI * f) / (Math.PI * f);
      const ours = (f: number) => transferAt(gaussianPsf(sigma), f, 0).re;
      // gaussianPsf is weighted by the area of its pixels already or not: either way within 3 % of the two.
      const closest = Math.min(Math.abs(ours(mtf50) - 0.5), Math.abs(ours(mtf50) * sinc(mtf50) - 0.5));
      expect(closest).toBeLessThan(0.015);
    },
  );
});

describe('photon transfer', () => {
  it('the noise line is that of the sensor: variance against mean of even fields, slope 1/full well, offset read noise²', () => {
    // A sensor of 9000 electrons full well and 12 electrons read noise: Janesick, Photon Transfer (2007), σ² = S/K +
    // σ_r².
    const [well, read] = [9000, 12];
    const random = seededRandom(41);
    const [width, height] = [512, 256];
    const plane = filledPlane(width, height, 0);
    for (let i = 0; i < plane.data.length; i++) {
      const field = Math.floor((i % width) / 64) + 8 * Math.floor(Math.floor(i / width) / 128);
      const electrons = well * (0.03 + 0.055 * field);
      plane.data[i] = (electrons + Math.sqrt(electrons + read * read) * random.normal()) / well;
    }
    const [{ a, b }] = fitNoise([plane], filledPlane(width, height, 1));
    expect(Math.abs(a * well - 1)).toBeLessThan(0.08);
    expect(Math.abs(Math.sqrt(b) * well - read)).toBeLessThan(4);
  });
});

describe('18 % grey', () => {
  it('is 118 of 255 in sRGB and L* 49.5 (IEC 61966-2-1; CIE 15, 116·∛0.18 − 16)', () => {
    expect(Math.round(255 * srgbEncode(0.18))).toBe(118);
    expect(116 * Math.cbrt(0.18) - 16).toBeCloseTo(49.5, 1);
  });
});
