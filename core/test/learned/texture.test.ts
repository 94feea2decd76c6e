import { describe, expect, it } from 'vitest';
import {
  cropPlane,
  filledPlane,
  gaussianBlur,
  seededRandom,
  wholeOf,
  withTexture,
  type Kernels,
  type Plane,
  type TextureInput,
} from '../../src';
import { blindPart, reachOfBlindPart } from '../../src/learned/blindPart';
import { missingTexture } from '../../src/learned/missingTexture';
import { shareVouchedFor } from '../../src/learned/vouchedTexture';
import { discPsf } from '../../src/psf/discPsf';
import { convolve, LOPSIDED } from '../synthetic';
import { fastKernels } from '../fastKernels';

const SIDE = 96;
const DISC = discPsf(4);
const VARIANCE = 1e-5;

function scattered(seed: number, size: number, about = 0): Plane {
  const random = seededRandom(seed);
  const data = Float32Array.from({ length: SIDE * SIDE }, () => about + size * random.normal());
  return { width: SIDE, height: SIDE, data };
}

/** A wave across with so many px a turn. */
const wave = (px: number): Plane => {
  const data = Float32Array.from({ length: SIDE * SIDE }, (_, i) => Math.cos((2 * Math.PI * (i % SIDE)) / px));
  return { width: SIDE, height: SIDE, data };
};

const inner = (plane: Plane) => cropPlane(plane, { x: 24, y: 24, width: 48, height: 48 }).data;
const rms = (values: Float32Array) => Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length);

describe('what the photograph is blind for', () => {
  it('is what the blur takes away, not what it lets through', () => {
    const kept = (px: number) =>
      rms(inner(blindPart([wave(px)], DISC, VARIANCE, fastKernels)[0])) / rms(inner(wave(px)));
    expect(kept(24)).toBeLessThan(0.02);
    // The first zero of a disc's transfer lies at 1.22 / diameter.
    expect(kept(8 / 1.22)).toBeGreaterThan(0.8);
    expect(kept(2.2)).toBeGreaterThan(0.7);
  });

  it.each([
    ['a disc', DISC],
    ['a lopsided blur', LOPSIDED],
  ])('vanishes in the noise when it is photographed again: %s', (_, psf) => {
    const texture = gaussianBlur(scattered(5, 0.03), 1);
    const [blind] = blindPart([texture], psf, VARIANCE, fastKernels);
    expect(rms(inner(convolve(texture, psf)))).toBeGreaterThan(2 * rms(inner(convolve(blind, psf))));
    expect(rms(inner(convolve(blind, psf)))).toBeLessThan(Math.sqrt(VARIANCE));
  });

  it('grows with the noise, and planes go through two by two without touching each other', () => {
    const planes = [1, 2, 3].map((seed) => scattered(seed, 0.05));
    const together = blindPart(planes, DISC, VARIANCE, fastKernels);
    planes.forEach((plane, c) => {
      const [alone] = blindPart([plane], DISC, VARIANCE, fastKernels);
      alone.data.forEach((value, i) => expect(Math.abs(value - together[c].data[i])).toBeLessThan(1e-6));
    });
    const [noisy] = blindPart(planes.slice(0, 1), DISC, 100 * VARIANCE, fastKernels);
    expect(rms(inner(noisy))).toBeGreaterThan(rms(inner(together[0])));
  });
});

describe('how much texture is vouched for', () => {
  const [texture, own, plain] = [scattered(1, 0.02), scattered(2, 0.02), filledPlane(SIDE, SIDE, 0.3)];
  const times = (plane: Plane, by: number) => ({ ...plane, data: plane.data.map((value) => by * value) });
  const meanShare = (...asked: Parameters<typeof shareVouchedFor>) => {
    const values = inner(shareVouchedFor(...asked));
    return values.reduce((sum, value) => sum + value, 0) / values.length;
  };

  it('all of it up to half as strong as what the recovery holds itself, then that much', () => {
    expect(meanShare(times(texture, 0.2), own, plain)).toBe(1);
    expect(meanShare(texture, own, plain)).toBeCloseTo(0.5, 1);
    expect(meanShare(times(texture, 2), own, plain)).toBeCloseTo(0.25, 1);
  });

  it('contrast of the recovery counts a little, a plain ground not at all', () => {
    const nothing = filledPlane(SIDE, SIDE, 0);
    expect(meanShare(texture, nothing, plain)).toBeLessThan(1e-3);
    const edge = { ...plain, data: plain.data.map((_, i) => (i % SIDE < SIDE / 2 ? 0.2 : 0.5)) };
    const beside = shareVouchedFor(texture, nothing, edge);
    expect(beside.data[(SIDE / 2) * SIDE + SIDE / 2]).toBeGreaterThan(0.4);
    expect(beside.data[(SIDE / 2) * SIDE + 12]).toBeLessThan(1e-3);
  });
});

describe('learned texture', () => {
  const input = (): TextureInput => ({
    recovered: [1, 2, 3].map((seed) => scattered(seed, 0.02, 0.3)),
    weaker: [4, 5, 6].map((seed) => scattered(seed, 0.06, 0.3)),
    given: [7, 8, 9].map((seed) => scattered(seed, 0.03, 0.3)),
    noise: [{ a: 0, b: VARIANCE }],
    noiseGuard: 50,
    hidesNoise: false,
    psf: DISC,
    variance: VARIANCE,
    originX: 0,
    originY: 0,
  });

  it('adds the blind part of what is missing to what was wanted, and nothing elsewhere', () => {
    const given = input();
    const wanted = { x: 30, y: 33, width: 20, height: 12 };
    const out = withTexture(given, wanted, fastKernels);
    out.forEach(({ data }, c) => {
      data.forEach((value, i) => {
        const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
        const isIn = x >= 30 && x < 50 && y >= 33 && y < 45;
        if (!isIn) expect(value).toBe(given.recovered[c].data[i]);
      });
      const own = cropPlane(given.recovered[c], wanted).data;
      expect(rms(cropPlane(out[c], wanted).data.map((value, i) => value - own[i]))).toBeGreaterThan(1e-4);
    });
    expect(reachOfBlindPart(DISC)).toBe(14);
  });

  it('adds next to nothing where the recovery itself knows nothing', () => {
    const flat = [1, 2, 3].map(() => filledPlane(SIDE, SIDE, 0.3));
    const given = { ...input(), recovered: flat };
    const wanted = { x: 30, y: 30, width: 36, height: 36 };
    const missing = missingTexture(given, wanted, fastKernels)[1];
    const out = cropPlane(withTexture(given, wanted, fastKernels)[1], wanted);
    expect(rms(missing.data)).toBeGreaterThan(1e-3);
    expect(rms(out.data.map((value) => value - 0.3))).toBeLessThan(1e-5);
  });

  it('asks the network once, and passes on what stops it', () => {
    let runs = 0;
    const counting: Kernels = { ...fastKernels, runNetwork: (...asked) => (runs++, fastKernels.runNetwork(...asked)) };
    withTexture(input(), wholeOf(filledPlane(SIDE, SIDE, 0)), counting);
    expect(runs).toBe(1);
    expect(() => withTexture(input(), { x: 30, y: 30, width: 8, height: 8 }, counting, () => true)).toThrow('Stopped.');
  });
});
