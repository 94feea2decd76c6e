import { describe, expect, it } from 'vitest';
import {
  createPlane,
  gaussianBlur,
  mosaicOf,
  RGGB,
  seededRandom,
  sensorNoise,
  type NoiseLine,
  type Plane,
} from '../../src';
import { deadLeaves } from '../synthetic';

const NEUTRAL = [0.5, 1, 0.7];

/** A scene with texture, through a mosaic with noise. */
function noisyMosaic(line: NoiseLine, seed: number): Plane {
  // What falls on a sensor went through a lens.
  const shade = gaussianBlur(deadLeaves(400, 300, seed), 1.2);
  const scene = [0.45, 0.9, 0.6].map((most) => ({ ...shade, data: shade.data.map((value) => value * most) }));
  const mosaic = mosaicOf(scene, RGGB);
  const random = seededRandom(seed);
  const data = mosaic.data.map((value) => value + Math.sqrt(line.a * Math.max(0, value) + line.b) * random.normal());
  return { ...mosaic, data };
}

describe('a sensor’s noise, measured in its mosaic', () => {
  it.each([
    { a: 0.0002, b: 1e-6 },
    { a: 0.001, b: 1e-5 },
    { a: 0.004, b: 1e-4 },
  ])('is found within a quarter, as a spread, at mid-tone: $a, $b', (line) => {
    const found = sensorNoise(noisyMosaic(line, 5), RGGB, NEUTRAL);
    found.forEach(({ a, b }, c) => {
      // A balanced tone of 0.18 stands at 0.18 · neutral in the mosaic; what is added is multiplied back.
      const truth = (line.a * 0.18 * NEUTRAL[c] + line.b) / NEUTRAL[c] ** 2;
      expect(Math.sqrt((a * 0.18 + b) / truth)).toBeGreaterThan(0.75);
      expect(Math.sqrt((a * 0.18 + b) / truth)).toBeLessThan(1.25);
    });
  });

  it('is not measured where samples are clipped', () => {
    const white = createPlane(200, 200);
    white.data.fill(1);
    const half = noisyMosaic({ a: 0.001, b: 1e-5 }, 6);
    for (let y = 0; y < 300; y++) for (let x = 0; x < 200; x++) half.data[y * 400 + x] = 1;
    const found = sensorNoise(half, RGGB, NEUTRAL);
    found.forEach(({ a, b }, c) => {
      const truth = (0.001 * 0.18 * NEUTRAL[c] + 1e-5) / NEUTRAL[c] ** 2;
      expect(Math.sqrt((a * 0.18 + b) / truth)).toBeGreaterThan(0.7);
    });
    expect(sensorNoise(white, RGGB, NEUTRAL)).toHaveLength(3);
  });
});
