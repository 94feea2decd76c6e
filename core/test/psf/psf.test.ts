import { describe, expect, it } from 'vitest';
import { FWHM_PER_SIGMA, gaussianPsf, normalisedPsf, psfAtOrigin, psfOf, transferAt, type Psf } from '../../src';
import { astigmaticPsf } from '../../src/psf/astigmaticPsf';
import { besselJ1 } from '../../src/psf/bessel';
import { bladedPsf } from '../../src/psf/bladedPsf';
import { discPsf } from '../../src/psf/discPsf';
import { linePsf } from '../../src/psf/linePsf';

function centroid({ width, height, data }: Psf) {
  let [x, y, sum] = [0, 0, 0];
  data.forEach((value, i) => {
    x += value * ((i % width) - (width - 1) / 2);
    y += value * (Math.floor(i / width) - (height - 1) / 2);
    sum += value;
  });
  return { x, y, sum };
}

/** First frequency along an angle (picture angle, y up) at which |H| falls to `level`. */
function frequencyAt(psf: Psf, level: number, angleDeg = 0): number {
  const [c, s] = [Math.cos((angleDeg * Math.PI) / 180), -Math.sin((angleDeg * Math.PI) / 180)];
  for (let f = 0.001; f < 0.5; f += 0.0005) if (transferAt(psf, f * c, f * s).re <= level) return f;
  return Infinity;
}

describe('Bessel J₁', () => {
  // Zeros: Abramowitz & Stegun, table 9.5. J₁(1) = 0.4400505857 (table 9.1).
  it.each([3.8317, 7.0156, 10.1735])('vanishes at %f', (zero) => expect(Math.abs(besselJ1(zero))).toBeLessThan(2e-5));
  it('is 0.44005 at 1 and odd', () => {
    expect(besselJ1(1)).toBeCloseTo(0.4400505857, 6);
    expect(besselJ1(-1)).toBeCloseTo(-0.4400505857, 6);
  });
});

describe('point spread functions', () => {
  it.each([
    ['disc', discPsf(3.3)],
    ['Gaussian', gaussianPsf(0.5)],
    ['Gaussian', gaussianPsf(1.7)],
    ['line', linePsf(11.3, 37)],
    ['a disc of nothing', discPsf(0)],
    ['a line of nothing', linePsf(0, 12)],
  ])('%s: energy 1, centred', (_, psf) => {
    const { x, y, sum } = centroid(psf);
    expect(Math.abs(sum - 1)).toBeLessThan(1e-6);
    expect(Math.hypot(x, y)).toBeLessThan(1e-5);
  });

  // Zeros of 2·J₁(x)/x at 0.6098/r, 1.1166/r, 1.6192/r; MTF50 at 0.3525/r (from the Bessel zeros; Goodman).
  // Area-weighted pixels multiply by the pixel's own sinc, which moves no zero and lowers MTF50 a little.
  it('disc: zeros of the transfer function where theory has them', () => {
    for (const r of [2.5, 4, 6]) {
      expect(frequencyAt(discPsf(r), 0)).toBeCloseTo(0.6098 / r, 2);
      for (const zero of [0.6098, 1.1166, 1.6192]) {
        if (zero / r < 0.35) expect(Math.abs(transferAt(discPsf(r), zero / r, 0).re)).toBeLessThan(0.015);
      }
    }
    expect(frequencyAt(discPsf(6), 0.5)).toBeCloseTo(0.3525 / 6, 2);
  });

  it('Gaussian: MTF50 at 0.1874/σ', () => {
    for (const sigma of [1, 2, 3]) expect(frequencyAt(gaussianPsf(sigma), 0.5)).toBeCloseTo(0.1874 / sigma, 2);
  });

  it('line: zeros at multiples of 1/L along its direction, none across, MTF50 at 0.6034/L', () => {
    const psf = linePsf(10, 30);
    expect(frequencyAt(psf, 0, 30)).toBeCloseTo(0.1, 2);
    expect(frequencyAt(psf, 0.5, 30)).toBeCloseTo(0.06034, 2);
    expect(frequencyAt(psf, 0.5, 120)).toBeGreaterThan(0.3);
  });

  it('line: as long as it is said to be, its spread L²/12 along it', () => {
    for (const length of [8, 20.5, 37]) {
      const { width, data } = linePsf(length, 0);
      const spread = data.reduce((sum, value, i) => sum + value * ((i % width) - (width - 1) / 2) ** 2, 0);
      // Sharing a point between two pixels adds between 0 and 1/4, 1/6 on the average.
      expect(Math.abs(Math.sqrt(12 * (spread - 1 / 6)) / length - 1)).toBeLessThan(0.01);
    }
  });

  it('disc and diaphragm: a pixel inside holds 1 over the area, which is that of the circle', () => {
    for (const radius of [4, 7.3]) {
      const inside = 1 / (Math.PI * radius ** 2);
      expect(Math.abs(Math.max(...discPsf(radius).data) / inside - 1)).toBeLessThan(2e-3);
      for (const blades of [5, 7, 8])
        expect(Math.abs(Math.max(...bladedPsf(radius, blades, 13).data) / inside - 1)).toBeLessThan(2e-3);
    }
  });

  it('diaphragm: its first corner lies counter-clockwise from the right, as seen', () => {
    for (const rotation of [0, 20, 50]) {
      const { width, data } = bladedPsf(12, 5, rotation);
      const middle = (width - 1) / 2;
      const at = (angleDeg: number, radius: number) => {
        const angle = (angleDeg * Math.PI) / 180;
        const [x, y] = [Math.round(middle + radius * Math.cos(angle)), Math.round(middle - radius * Math.sin(angle))];
        return data[y * width + x] * Math.PI * 12 ** 2;
      };
      // Corners stand at 13.8 px, the middles of the sides at 11.1: at 12.4 px there is light at a corner only.
      expect(at(rotation, 12.4)).toBeGreaterThan(0.5);
      expect(at(rotation + 36, 12.4)).toBeLessThan(0.2);
    }
  });

  it('direction runs counter-clockwise as seen: 45° rises to the right', () => {
    const { width, data } = linePsf(8, 45);
    const middle = (width - 1) / 2;
    expect(data[(middle - 2) * width + middle + 2]).toBeGreaterThan(0.03);
    expect(data[(middle + 2) * width + middle + 2]).toBe(0);
  });

  it('sizes on screen: full width at half maximum, diameter, length', () => {
    const narrow = (psf: Psf) => psf.data[((psf.height - 1) / 2) * psf.width + (psf.width - 1) / 2];
    expect(narrow(psfOf({ method: 'ordinary-softness', blurSizePx: 2 * FWHM_PER_SIGMA, directionDeg: 0 }))).toBeCloseTo(
      narrow(gaussianPsf(2)),
      7,
    );
    expect(psfOf({ method: 'missed-focus', blurSizePx: 8, directionDeg: 0 }).data).toEqual(discPsf(4).data);
    expect(psfOf({ method: 'straight-movement', blurSizePx: 9, directionDeg: 20 }).data).toEqual(linePsf(9, 20).data);
  });

  it('a PSF of one’s own: odd sides, no negative values, not black, not larger than the picture', () => {
    expect(() => normalisedPsf(4, 3, new Array(12).fill(1))).toThrow(/odd sides, not 4 × 3/);
    expect(() => normalisedPsf(3, 1, [1, -1, 1])).toThrow(/negative/);
    expect(() => normalisedPsf(3, 1, [0, 0, 0])).toThrow(/black/);
    expect(normalisedPsf(3, 1, [1, 2, 1]).data[1]).toBe(0.5);
    expect(() => psfAtOrigin(discPsf(9), 12, 12)).toThrow(/larger than the picture/);
    expect(() => discPsf(NaN)).toThrow(/radius/);
    expect(() => linePsf(-1, 0)).toThrow(/length/);
  });
});

describe('the ellipse of an astigmatic lens', () => {
  it('is centred, of energy 1, and a disc where it is not squeezed', () => {
    const { x, y, sum } = centroid(astigmaticPsf(5, 40, 25));
    expect(Math.abs(sum - 1)).toBeLessThan(1e-6);
    expect(Math.hypot(x, y)).toBeLessThan(1e-5);
    const [round, disc] = [astigmaticPsf(4, 0, 10), discPsf(4)];
    for (const f of [0.05, 0.1, 0.2]) {
      expect(transferAt(round, f, 0.02).re).toBeCloseTo(transferAt(disc, f, 0.02).re, 2);
    }
  });

  // A stretched picture's transform is squeezed (scaling theorem), so the disc's first zero at 0.6098/r moves with each
  // axis.
  it.each([0, 30, 90, 135])('has its zeros where its axes are, turned by %i°', (longDeg) => {
    const [radius, squeeze] = [6, 50];
    const [long, narrow] = [radius / Math.sqrt(0.5), radius * Math.sqrt(0.5)];
    const psf = astigmaticPsf(radius, squeeze, longDeg);
    expect(frequencyAt(psf, 0, longDeg)).toBeCloseTo(0.6098 / long, 2);
    expect(frequencyAt(psf, 0, longDeg + 90)).toBeCloseTo(0.6098 / narrow, 2);
  });

  it('is what a missed focus that is squeezed takes back; blades come first', () => {
    const focus = { method: 'missed-focus', blurSizePx: 9, directionDeg: 0 } as const;
    const squeezed = { ...focus, squeezePercent: 30, squeezeDeg: 70 };
    expect(psfOf(squeezed).data).toEqual(astigmaticPsf(4.5, 30, 70).data);
    expect(psfOf({ ...squeezed, blades: 6 }).data).toEqual(bladedPsf(4.5, 6, 0).data);
    expect(psfOf({ ...focus, squeezePercent: 0 }).data).toEqual(discPsf(4.5).data);
    expect(() => astigmaticPsf(0, 10, 0)).toThrow(/above 0/);
    expect(() => astigmaticPsf(3, 80, 0)).toThrow(/0 to 70/);
  });
});
