import { describe, expect, it } from 'vitest';
import { createPlane, filledPlane, inverted, seededRandom, type Plane } from '../../src';
import { feathered, grown, holesOf, reachOfFeather, shrunkBy, specksOf } from '../../src/mask/morphology';

function softPlane(width: number, height: number, seed: number): Plane {
  const random = seededRandom(seed);
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.uniform() ** 4;
  return plane;
}

/**
 * Dilation as the books define it (Serra, Image Analysis and Mathematical Morphology, 1982): the most over the disc.
 */
function mostWithin(plane: Plane, radius: number): Plane {
  const { width, height, data } = plane;
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let most = 0;
      for (let v = 0; v < height; v++) {
        if (Math.abs(v - y) > Math.floor(radius)) continue;
        const half = Math.floor(Math.sqrt(radius * radius - (v - y) ** 2) + 0.5);
        for (let u = Math.max(0, x - half); u <= Math.min(width - 1, x + half); u++) {
          most = Math.max(most, data[v * width + u]);
        }
      }
      out.data[y * width + x] = most;
    }
  }
  return out;
}

describe('growing and shrinking', () => {
  it.each([1, 2, 3.4, 5, 9])('by %f px is the most and the least over a disc', (radius) => {
    const plane = softPlane(31, 23, 3);
    expect(grown(plane, radius)).toEqual(mostWithin(plane, radius));
    expect(shrunkBy(plane, radius)).toEqual(inverted(mostWithin(inverted(plane), radius)));
  });

  it('by less than a px changes nothing', () => {
    const plane = softPlane(12, 9, 4);
    expect(grown(plane, 0.9)).toBe(plane);
  });

  it('never leaves what was covered, nor covers what was clear', () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const plane = softPlane(25, 18, seed);
      const [more, less] = [grown(plane, 2), shrunkBy(plane, 2)];
      plane.data.forEach((value, i) => {
        expect(more.data[i]).toBeGreaterThanOrEqual(value);
        expect(less.data[i]).toBeLessThanOrEqual(value + 1e-6);
      });
      // Opening lies below, closing above: they smooth a mask from one side each.
      const [opened, closed] = [grown(less, 2), shrunkBy(more, 2)];
      plane.data.forEach((value, i) => {
        expect(opened.data[i]).toBeLessThanOrEqual(value + 1e-6);
        expect(closed.data[i]).toBeGreaterThanOrEqual(value - 1e-6);
      });
    }
  });
});

describe('a feathered hard edge', () => {
  const edge = filledPlane(400, 40, 0);
  for (let y = 0; y < 40; y++) edge.data.fill(1, y * 400 + 200, (y + 1) * 400);

  it.each([3, 8, 20, 60])('falls from 90 to 10 %% over %i px, its middle where it was', (px) => {
    const row = feathered(edge, px).data.subarray(20 * 400, 21 * 400);
    const at = (share: number) => {
      const i = row.findIndex((value) => value >= share);
      return i - (row[i] - share) / (row[i] - row[i - 1]);
    };
    expect(Math.abs(at(0.9) - at(0.1) - px)).toBeLessThan(0.05 * px + 0.2);
    expect(at(0.5)).toBeCloseTo(199.5, 1);
    const reach = reachOfFeather(px);
    expect(row[200 - reach - 1]).toBeLessThan(1e-3);
    expect(row[200 + reach]).toBeGreaterThan(1 - 1e-3);
  });
});

describe('holes and specks', () => {
  const mask = filledPlane(40, 30, 0);
  const cover = (x: number, y: number, w: number, h: number, value: number) => {
    for (let row = y; row < y + h; row++) mask.data.fill(value, row * 40 + x, row * 40 + x + w);
  };
  cover(5, 5, 20, 20, 1);
  cover(8, 8, 3, 3, 0);
  cover(14, 14, 6, 6, 0);
  cover(30, 3, 2, 2, 1);
  cover(0, 28, 2, 2, 1);
  const count = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0);

  it('are told by their size; what reaches the border is no hole, but may be a speck', () => {
    expect(count(holesOf(mask, 9))).toBe(9);
    expect(count(holesOf(mask, 36))).toBe(45);
    expect(count(holesOf(mask, 10_000))).toBe(45);
    expect(count(specksOf(mask, 4))).toBe(8);
    expect(count(specksOf(mask, 3))).toBe(0);
  });
});
