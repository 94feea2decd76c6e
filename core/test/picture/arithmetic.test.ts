import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  blendOver,
  colourSpaceOf,
  decodePiece,
  filledPlane,
  grow,
  intersect,
  joined,
  mix,
  planeOf,
  seededRandom,
  squaredRatio,
  srgbDecode,
  varianceByTone,
  wholeOf,
  type CodePiece,
  type Region,
} from '../../src';
import { noiseVariances } from '../../src/audit/contradiction';

const row = (...values: number[]) => planeOf(values.length, 1, values);

describe('arithmetic over planes', () => {
  it('mixes three planes by their weights', () => {
    const mixed = mix([row(1, 0, 0, 0.5), row(0, 1, 0, 0.5), row(0, 0, 1, 0.5)], [0.2126, 0.7152, 0.0722]).data;
    [0.2126, 0.7152, 0.0722, 0.5].forEach((value, i) => expect(mixed[i]).toBeCloseTo(value, 6));
  });

  it('lays an answer over what lies below: no weight leaves it, full weight at full share is the answer', () => {
    const [below, own, answer] = [row(0.1, 0.1, 0.1, 0.1), row(0.4, 0.4, 0.4, 0.4), row(0.8, 0.8, 0.8, 0.8)];
    const weight = row(0, 1, 0.5, 1);
    const whole = blendOver(below, own, answer, weight, 1).data;
    [0.1, 0.8, 0.45, 0.8].forEach((value, i) => expect(whole[i]).toBeCloseTo(value, 6));
    // At share 0 the original stands there, wherever the mask is.
    const none = blendOver(below, own, answer, weight, 0).data;
    [0.1, 0.4, 0.25, 0.4].forEach((value, i) => expect(none[i]).toBeCloseTo(value, 6));
    expect(Array.from(below.data)).toEqual(Array.from(row(0.1, 0.1, 0.1, 0.1).data));
  });

  it('a variance by tone is at least what the tones say, at most so many times that', () => {
    const variance = { base: 1e-4, linear: [1e-3], rooted: [2e-3] };
    const tones = row(0, 0.25, 0.25, -1);
    const found = row(0, 5e-4, 1, 0);
    const { data } = varianceByTone([tones], variance, found, 6);
    const expected = 1e-4 + 0.25 * (1e-3 + 2e-3 * 0.5);
    expect(data[0]).toBeCloseTo(1e-4, 9);
    expect(data[1]).toBeCloseTo(expected, 9);
    expect(data[2]).toBeCloseTo(6 * expected, 8);
    expect(data[3]).toBeCloseTo(1e-4, 9);
  });

  it('a squared difference over its variance', () => {
    const [p, q, v, w] = [row(3, 3), row(1, 3), row(1, 1), row(2, 2)];
    expect(Array.from(squaredRatio(p, q, v, w, 0.5).data)).toEqual([2, 0]);
    expect(Array.from(squaredRatio(p, null, v, w, 0.5).data)).toEqual([4.5, 4.5]);
  });
});

describe('rounding to codes as noise', () => {
  // The curve's own slope, numerically: IEC 61966-2-1.
  it.each([
    [0.001, 1.5],
    [0.003, 1.5],
    [0.008, 1.5],
    [0.02, 1.1],
    [0.1, 1.1],
    [0.2, 1.1],
    [0.5, 1.1],
    [0.9, 1.1],
  ])('at light %d is the sRGB curve’s, at most %d times it', (tone, most) => {
    const flat = filledPlane(40, 40, tone);
    const code = (() => {
      let [low, high] = [0, 1];
      for (let i = 0; i < 60; i++) {
        const middle = (low + high) / 2;
        if (srgbDecode(middle) < tone) low = middle;
        else high = middle;
      }
      return low;
    })();
    const slope = (srgbDecode(code + 1e-5) - srgbDecode(code - 1e-5)) / 2e-5;
    const expected = (slope / 255) ** 2 / 12;
    const none = { a: 0, b: 0 };
    const [variance] = noiseVariances({
      original: [flat],
      components: [flat],
      noise: [none],
      noiseFloor: [0],
      clipped: new Uint8Array(1600),
      bits: 8,
    });
    const ratio = Math.sqrt(variance.data[820] / expected);
    expect(ratio).toBeGreaterThan(0.9);
    expect(ratio).toBeLessThan(most);
  });
});

describe('regions and pieces', () => {
  const region = fc.record({
    x: fc.integer({ min: -20, max: 40 }),
    y: fc.integer({ min: -20, max: 40 }),
    width: fc.integer({ min: 1, max: 30 }),
    height: fc.integer({ min: 1, max: 30 }),
  });
  const holds = (outer: Region, inner: Region) =>
    inner.x >= outer.x &&
    inner.y >= outer.y &&
    inner.x + inner.width <= outer.x + outer.width &&
    inner.y + inner.height <= outer.y + outer.height;

  it('the joined region holds both, and none smaller does', () => {
    fc.assert(
      fc.property(region, region, (a, b) => {
        const both = joined(a, b);
        expect(holds(both, a) && holds(both, b)).toBe(true);
        const narrower = [
          { ...both, x: both.x + 1, width: both.width - 1 },
          { ...both, width: both.width - 1 },
          { ...both, y: both.y + 1, height: both.height - 1 },
          { ...both, height: both.height - 1 },
        ];
        for (const less of narrower) expect(holds(less, a) && holds(less, b)).toBe(false);
      }),
    );
  });

  it('a piece is decoded wherever it is asked for; beyond it its border repeats', () => {
    const random = seededRandom(3);
    const piece: CodePiece = {
      region: { x: 5, y: 7, width: 9, height: 6 },
      channels: 3,
      codes: Uint16Array.from({ length: 9 * 6 * 3 }, () => Math.floor(65535 * random.uniform())),
    };
    const space = colourSpaceOf(null, 3);
    fc.assert(
      fc.property(region, (wanted) => {
        const planes = decodePiece(piece, wanted, space);
        planes.forEach(({ data }, c) => {
          const expected = Float32Array.from(data, (_, i) => {
            const x = Math.min(8, Math.max(0, wanted.x + (i % wanted.width) - 5));
            const y = Math.min(5, Math.max(0, wanted.y + Math.floor(i / wanted.width) - 7));
            return space.decode[c][piece.codes[(y * 9 + x) * 3 + c]];
          });
          expect(data).toEqual(expected);
        });
      }),
      { numRuns: 40 },
    );
    const inside = intersect(grow(piece.region, 4), wholeOf({ width: 100, height: 100 }));
    expect(inside).toEqual({ x: 1, y: 3, width: 17, height: 14 });
  });
});
