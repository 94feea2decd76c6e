import { describe, expect, it } from 'vitest';
import { filledPlane, HAND_PATHS, handPath, seededRandom, throughMosaic, type Plane } from '../../src';
import { deadLeaves } from '../synthetic';

describe('ways of a hand', () => {
  it.each(HAND_PATHS)('%s: repeatable, in its box, its middle at 0', (kind) => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const path = handPath(kind, seededRandom(seed), 15);
      expect(handPath(kind, seededRandom(seed), 15)).toEqual(path);
      const range = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
      const [xs, ys] = [path.map(({ x }) => x), path.map(({ y }) => y)];
      expect(Math.max(range(xs), range(ys))).toBeCloseTo(15, 6);
      for (const values of [xs, ys]) {
        expect(values.reduce((sum, value) => sum + value, 0) / values.length).toBeCloseTo(0, 6);
      }
    }
  });

  it('are unlike each other', () => {
    const drawn = HAND_PATHS.map((kind) => JSON.stringify(handPath(kind, seededRandom(9), 12)));
    expect(new Set(drawn).size).toBe(HAND_PATHS.length);
  });

  it('a jolt rests before and after', () => {
    const path = handPath('jolt', seededRandom(4), 20);
    const steps = path.slice(1).map(({ x, y }, i) => Math.hypot(x - path[i].x, y - path[i].y));
    const fast = steps.filter((step) => step > 0.25 * Math.max(...steps)).length;
    expect(fast / steps.length).toBeLessThan(0.6);
  });
});

describe('a colour mosaic', () => {
  const grey = deadLeaves(40, 40, 3, 4);
  it('keeps what was measured where it was measured', () => {
    const channels = [
      grey,
      { ...grey, data: grey.data.map((v) => 0.5 * v) },
      { ...grey, data: grey.data.map((v) => 0.2 * v) },
    ];
    const filled = throughMosaic(channels);
    const at = (plane: Plane, x: number, y: number) => plane.data[y * plane.width + x];
    for (let y = 4; y < 36; y += 2) {
      for (let x = 4; x < 36; x += 2) {
        expect(at(filled[0], x, y)).toBe(at(channels[0], x, y));
        expect(at(filled[1], x + 1, y)).toBe(at(channels[1], x + 1, y));
        expect(at(filled[2], x + 1, y + 1)).toBe(at(channels[2], x + 1, y + 1));
      }
    }
  });

  it('leaves an even colour as it is', () => {
    const even = [0.5, 0.3, 0.1].map((value) => filledPlane(20, 20, value));
    throughMosaic(even).forEach((plane, c) => {
      for (const value of plane.data) expect(value).toBeCloseTo([0.5, 0.3, 0.1][c], 6);
    });
  });
});
