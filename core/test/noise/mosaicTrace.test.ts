import { describe, expect, it } from 'vitest';
import { discPsf, exposed, filledPlane, readNoise, seededRandom, throughMosaic, type Plane } from '../../src';
import { isFilledIn } from '../../src/noise/mosaicTrace';
import { convolve, deadLeaves } from '../synthetic';

const line = { a: 0, b: 1e-4 };
const noisy = (channels: readonly Plane[], seed: number) => exposed(channels, [line, line, line], seededRandom(seed));
const scene = [0.9, 1, 0.8].map((share, c) => {
  const plane = deadLeaves(256, 256, 61 + c, 2);
  return { ...plane, data: plane.data.map((value) => share * value) };
});
const use = filledPlane(256, 256, 1);

describe('the trace of a colour mosaic', () => {
  it('is there where channels were filled in, sharp or soft, and nowhere else', () => {
    const soft = scene.map((plane) => convolve(plane, discPsf(3)));
    for (const channels of [scene, soft]) {
      expect(isFilledIn(noisy(channels, 1))).toBe(false);
      expect(isFilledIn(throughMosaic(noisy(channels, 1)))).toBe(true);
    }
    expect(isFilledIn([scene[0]])).toBe(false);
    expect(isFilledIn([filledPlane(32, 32, 0.4), filledPlane(32, 32, 0.4), filledPlane(32, 32, 0.4)])).toBe(false);
  });

  it('lets the noise behind it be read as strong as it was', () => {
    const flat = [0.3, 0.3, 0.3].map((value) => filledPlane(256, 256, value));
    const { noise, grain } = readNoise(throughMosaic(noisy(flat, 2)), use);
    // The finest scale has lost most of it, twice that scale has it all.
    for (const { a, b } of noise) expect(a * 0.3 + b).toBeLessThan(0.4e-4);
    for (const { a, b } of grain!.noise) {
      expect(a * 0.3 + b).toBeGreaterThan(0.7e-4);
      expect(a * 0.3 + b).toBeLessThan(1.5e-4);
    }
  });
});
