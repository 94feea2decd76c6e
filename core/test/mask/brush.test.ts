import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../src';
import { brushProfile, coverSegment, distanceToSegment, type Segment } from '../../src/mask/brush';

describe('the profile of a brush', () => {
  it('without feather falls over one px around its rim, so that edges are smooth', () => {
    expect(brushProfile(19.4, 20, 0, 1)).toBe(1);
    expect(brushProfile(20.6, 20, 0, 1)).toBe(0);
    const within = [19.6, 19.8, 20].map((distance) => brushProfile(distance, 20, 0, 1));
    within.forEach((value, i) => expect(value).toBeLessThan(i === 0 ? 1 : within[i - 1]));
  });

  it.each([0, 20, 60, 100])('with %i %% feather never rises outwards', (feather) => {
    let before = 1;
    for (let distance = 0; distance < 25; distance += 0.1) {
      const value = brushProfile(distance, 20, feather, 1);
      expect(value).toBeLessThanOrEqual(before);
      before = value;
    }
    expect(before).toBe(0);
  });
});

describe('the distance to a straight piece', () => {
  it('is that of the nearest of many points on it', () => {
    const random = seededRandom(5);
    for (let round = 0; round < 30; round++) {
      const [x, y, x0, y0, x1, y1] = Array.from({ length: 6 }, () => 100 * random.uniform());
      let nearest = Infinity;
      for (let i = 0; i <= 2000; i++) {
        const t = i / 2000;
        nearest = Math.min(nearest, Math.hypot(x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0)));
      }
      expect(Math.abs(distanceToSegment(x, y, x0, y0, x1, y1) - nearest)).toBeLessThan(0.05);
    }
  });

  it('of a piece without length is that of its point', () => {
    expect(distanceToSegment(3, 4, 0, 0, 0, 0)).toBe(5);
  });
});

describe('a piece of a stroke', () => {
  const [width, height] = [60, 40];
  const piece: Segment = { x0: 12, y0: 10, x1: 44, y1: 28, radius0: 4, radius1: 9 };

  it('covers by distance, its radius running evenly from end to end', () => {
    const values = new Float32Array(width * height);
    coverSegment(values, width, height, piece, 40);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const along = ((x - 12) * 32 + (y - 10) * 18) / (32 * 32 + 18 * 18);
        const radius = 4 + 5 * Math.min(1, Math.max(0, along));
        const expected = brushProfile(distanceToSegment(x, y, 12, 10, 44, 28), radius, 40, 1);
        expect(values[y * width + x]).toBeCloseTo(expected, 5);
      }
    }
  });

  it('changes nothing outside of what it says may have changed, and never takes away', () => {
    const random = seededRandom(2);
    const before = Float32Array.from({ length: width * height }, () => random.uniform());
    const values = before.slice();
    const changed = coverSegment(values, width, height, piece, 0)!;
    values.forEach((value, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const isInside =
        x >= changed.x && x < changed.x + changed.width && y >= changed.y && y < changed.y + changed.height;
      if (!isInside) expect(value).toBe(before[i]);
      expect(value).toBeGreaterThanOrEqual(before[i]);
    });
  });

  it('beside the picture covers nothing', () => {
    const values = new Float32Array(width * height);
    expect(coverSegment(values, width, height, { ...piece, x0: -90, x1: -60 }, 0)).toBeNull();
    expect(values.every((value) => value === 0)).toBe(true);
  });
});
