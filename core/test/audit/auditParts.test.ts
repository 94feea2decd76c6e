import { describe, expect, it } from 'vitest';
import {
  BlurOver,
  cropPlane,
  filledPlane,
  gaussianBlur,
  noiseVariances,
  PLAIN_KERNELS,
  seededRandom,
  toOpponent,
  type Plane,
} from '../../src';
import { contradiction } from '../../src/audit/contradiction';
import { flatSquares } from '../../src/audit/grainRise';
import { discPsf } from '../../src/psf/discPsf';
import { deadLeaves } from '../synthetic';

const [WIDTH, HEIGHT] = [96, 64];

describe('contradiction at white', () => {
  it('what the photograph saw as white may be brighter, never darker', () => {
    const original = [filledPlane(WIDTH, HEIGHT, 1)];
    const clipped = new Uint8Array(WIDTH * HEIGHT).fill(1);
    const photograph = {
      original,
      components: toOpponent(original),
      noise: [{ a: 0, b: 1e-5 }],
      noiseFloor: [1e-5],
      clipped,
      bits: 16 as const,
    };
    const blur = new BlurOver([{ psf: discPsf(2), share: null }], PLAIN_KERNELS);
    const level = (value: number) => {
      const result = [filledPlane(WIDTH, HEIGHT, value)];
      const found = contradiction(photograph, result, blur, noiseVariances(photograph), filledPlane(WIDTH, HEIGHT, 1));
      return found.brightness.data[32 * WIDTH + 48];
    };
    expect(level(1.5)).toBe(0);
    expect(level(0.7)).toBeGreaterThan(4);
  });
});

describe('contradiction beside the local contrast', () => {
  it('forgives a hundredth of it, as blurs are never known exactly; a tenth of it, all over, is no honest error', () => {
    const scene = deadLeaves(WIDTH, HEIGHT, 5, 4);
    const blur = new BlurOver([{ psf: discPsf(2), share: null }], PLAIN_KERNELS);
    const original = blur.blur([scene]);
    const photograph = {
      original,
      components: toOpponent(original),
      noise: [{ a: 0, b: 1e-6 }],
      noiseFloor: [1e-6],
      clipped: new Uint8Array(WIDTH * HEIGHT),
      bits: 16 as const,
    };
    /** The scene with so much more contrast than it has. */
    const figure = (more: number) => {
      const mean = gaussianBlur(scene, 6);
      const data = scene.data.map((value, i) => value + more * (value - mean.data[i]));
      const known = filledPlane(WIDTH, HEIGHT, 1);
      const found = contradiction(photograph, [{ ...scene, data }], blur, noiseVariances(photograph), known);
      const inside = cropPlane(found.brightness, { x: 16, y: 16, width: WIDTH - 32, height: HEIGHT - 32 });
      return inside.data.reduce((sum, value) => sum + value, 0) / inside.data.length;
    };
    expect(figure(0.01)).toBeLessThan(1);
    expect(figure(0.1)).toBeGreaterThan(3);
  });
});

describe('grain in flat squares', () => {
  const noisy = (sigma: number): Plane => {
    const random = seededRandom(9);
    return {
      ...filledPlane(WIDTH, HEIGHT, 0),
      data: Float32Array.from({ length: WIDTH * HEIGHT }, () => 0.5 + sigma * random.normal()),
    };
  };

  it('is measured after as it is before: twice the noise is four times the variance, half of it a quarter', () => {
    const before = noisy(0.02);
    const noise = filledPlane(WIDTH, HEIGHT, 0.02 ** 2);
    const use = new Uint8Array(WIDTH * HEIGHT).fill(1);
    for (const times of [2, 1, 0.5]) {
      const squares = flatSquares(before, noisy(0.02 * times), noise, use);
      expect(squares.length).toBeGreaterThan(20);
      const sum = (which: 'before' | 'after') => squares.reduce((all, square) => all + square[which], 0);
      expect(sum('after') / sum('before') / times ** 2).toBeGreaterThan(0.93);
      expect(sum('after') / sum('before') / times ** 2).toBeLessThan(1.07);
    }
  });
});
