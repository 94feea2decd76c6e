import { describe, expect, it } from 'vitest';
import { automaticCleaning, filledPlane, type AcceptedReading, type Plane } from '../../src';
import { flatSpectrum, powerAt, SHAPE_LENGTH } from '../../src/noise/flatSpectrum';
import { halved } from '../../src/picture/halved';
import { immerkaer } from '../../src/noise/localNoise';
import { ownPower, productsOver } from '../../src/noise/sharedTexture';
import { stabilised } from '../../src/noise/anscombe';
import { cleanPlane, reachOfLevels } from '../../src/clean/cleanPlane';
import { dct8, inverseDct8 } from '../../src/fourier/dct8';
import { cropPlane, PLAIN_KERNELS } from '../../src';
import { deadLeaves, normal, seeded, withNoise } from '../synthetic';

const SIDE = 128;
const white = (sigma: number, seed: number): Plane => withNoise(filledPlane(SIDE, SIDE, 0.4), sigma, seed);

describe('the discrete cosine transform of a block', () => {
  it('keeps energy, comes back, and holds a mean and a single wave in one coefficient each', () => {
    const random = seeded(3);
    const block = Float64Array.from({ length: 64 }, () => random());
    const [changed, spare] = [block.slice(), new Float64Array(64)];
    dct8(changed, spare);
    const energy = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 0);
    expect(energy(changed)).toBeCloseTo(energy(block), 10);
    inverseDct8(changed, spare);
    changed.forEach((value, i) => expect(value).toBeCloseTo(block[i], 12));
    // cos((2n + 1)·3π/16) across is the third frequency of DCT-II, by its definition.
    const wave = Float64Array.from({ length: 64 }, (_, i) => Math.cos(((2 * (i % 8) + 1) * 3 * Math.PI) / 16));
    dct8(wave, spare);
    expect(wave[3]).toBeCloseTo(8 * Math.sqrt(0.5), 10);
    expect(energy(wave) - wave[3] ** 2).toBeCloseTo(0, 10);
  });
});

describe('spectrum of the flattest blocks', () => {
  it('of white noise is level, at its variance', () => {
    const spectrum = flatSpectrum(white(0.03, 5), filledPlane(SIDE, SIDE, 1));
    expect(spectrum).toHaveLength(SHAPE_LENGTH);
    for (const places of [
      [1, 2],
      [3, 4, 5],
      [6, 7],
      [8, 9, 10],
    ]) {
      expect(powerAt(spectrum, places) / 0.03 ** 2).toBeGreaterThan(0.85);
      expect(powerAt(spectrum, places) / 0.03 ** 2).toBeLessThan(1.15);
    }
  });

  it('looks only where it may, and says 0 where that is nowhere', () => {
    const noisy = white(0.03, 6);
    // The right half is far noisier and not to be used.
    for (let i = 0; i < noisy.data.length; i++) if (i % SIDE >= 64) noisy.data[i] *= 1 + 3 * (i % 2);
    const left = filledPlane(SIDE, SIDE, 1);
    for (let i = 0; i < left.data.length; i++) if (i % SIDE >= 64) left.data[i] = 0;
    expect(powerAt(flatSpectrum(noisy, left), [4, 5, 6]) / 0.03 ** 2).toBeLessThan(1.3);
    expect(Math.max(...flatSpectrum(noisy, filledPlane(SIDE, SIDE, 0)))).toBe(0);
  });
});

describe('what channels share', () => {
  const texture = immerkaer(deadLeaves(SIDE, SIDE, 4, 2));
  const mixed = (gains: readonly number[], sigmas: readonly number[]) =>
    gains.map((gain, c) => {
      const random = seeded(40 + c);
      return { ...texture, data: texture.data.map((value) => gain * value + sigmas[c] * normal(random)) };
    });
  const own = (planes: readonly Plane[], c: number) => ownPower(productsOver(planes, 0, 0, SIDE), c) / SIDE ** 2;

  it('is taken out, whatever the colour of the texture: the noise of each channel is left', () => {
    const sigmas = [0.02, 0.02, 0.02];
    const planes = mixed([1, 0.7, 0.4], sigmas);
    for (const c of [0, 1, 2]) {
      const all = planes[c].data.reduce((sum, value) => sum + value * value, 0) / SIDE ** 2;
      expect(all).toBeGreaterThan(1.5 * sigmas[c] ** 2);
    }
    // Where the channels do not agree the largest share that is left counts for all: never less than the noise.
    expect(own(planes, 2) / 0.02 ** 2).toBeGreaterThan(0.9);
    expect(own(planes, 2) / 0.02 ** 2).toBeLessThan(1.2);
  });

  it('is nothing where there is only noise', () => {
    const planes = mixed([0, 0, 0], [0.01, 0.02, 0.03]);
    [0.01, 0.02, 0.03].forEach((sigma, c) => expect(own(planes, c) / sigma ** 2).toBeCloseTo(1, 1));
  });
});

describe('cleaning at several scales', () => {
  it('halves keep the mean; white noise falls to half', () => {
    const noisy = white(0.04, 8);
    const half = halved(noisy);
    const spread = (plane: Plane) => Math.sqrt(plane.data.reduce((s, v) => s + (v - 0.4) ** 2, 0) / plane.data.length);
    expect(half.width).toBe(64);
    expect(spread(half) / spread(noisy)).toBeCloseTo(0.5, 1);
    expect(halved(filledPlane(5, 3, 0.7), 1, 1).data.every((value) => Math.abs(value - 0.7) < 1e-6)).toBe(true);
  });

  it('a piece, wherever it begins, is cleaned as the whole is', () => {
    const plane = stabilised(white(0.04, 9), { a: 0, b: 0.0016 });
    const clean = (piece: Plane, x: number, y: number) =>
      cleanPlane(piece, { sigma: 1 }, [0.5, 0.25], x, y, PLAIN_KERNELS);
    const whole = clean(plane, 0, 0);
    const reach = reachOfLevels(2);
    expect(reach).toBeLessThan(80);
    for (const [x, y] of [
      [0, 0],
      [3, 5],
    ]) {
      const piece = clean(cropPlane(plane, { x, y, width: SIDE - x, height: SIDE - y }), x, y);
      // Far from the borders that the piece cut anew.
      for (let v = reach; v < SIDE - y; v += 5) {
        for (let u = reach; u < SIDE - x; u += 5) {
          expect(Math.abs(piece.data[v * piece.width + u] - whole.data[(v + y) * SIDE + u + x])).toBeLessThan(1e-3);
        }
      }
    }
  });
});

describe('cleaning on Automatic', () => {
  const reading = (noisePercent: number, colourByScale: readonly number[] | null) =>
    ({
      noise: [0, 1, 2].map(() => ({ a: 0, b: 1e-4 })),
      sizes: [],
      measured: { noisePercent },
      ...(colourByScale && {
        grain: {
          noise: [0, 1, 2].map(() => ({ a: 0, b: (noisePercent / 100) ** 2 })),
          brightness: new Array<number>(SHAPE_LENGTH).fill(1),
          colour: new Array<number>(SHAPE_LENGTH).fill(1),
          colourByScale,
        },
      }),
    }) as unknown as AcceptedReading;

  it('keeps more where there is little noise, 20 % at the usual 2 %, and never all or none', () => {
    const kept = (percent: number) => automaticCleaning(reading(percent, null)).detailKept.value;
    expect([0.3, 1, 2, 4, 9].map(kept)).toEqual([50, 40, 20, 10, 10]);
    expect(automaticCleaning(null).detailKept.value).toBe(20);
  });

  it('wide blotches are cleaned where colour noise is strong at twice the scale, and no wider than one step', () => {
    const blotch = (byScale: readonly number[] | null) => automaticCleaning(reading(2, byScale)).blotchPx.value;
    expect(blotch(null)).toBe(8);
    expect(blotch([1.1, 1.3, 1.6])).toBe(8);
    expect(blotch([2.2, 2.7, 3.4])).toBe(16);
  });
});
