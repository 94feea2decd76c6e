import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createPlane, Shrinking, sizeWithin, type Plane } from '../../src';
import { deadLeaves } from '../synthetic';

const mean = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0) / data.length;
/** Every sample has a code of its own, of which the table says its light. */
const shrunk = (plane: Plane, side: number, rows = plane.height) => {
  const small = new Shrinking(plane, [plane.data], sizeWithin(plane, side));
  for (let y = 0; y < plane.height; y += rows) {
    const height = Math.min(rows, plane.height - y);
    const codes = Uint16Array.from({ length: height * plane.width }, (_, i) => y * plane.width + i);
    small.add(codes, y);
  }
  return small.result[0];
};

describe('a picture made smaller while it comes in', () => {
  it('is the mean of what each sample covers', () => {
    const plane = { width: 6, height: 4, data: Float32Array.from({ length: 24 }, (_, i) => i) };
    expect([...shrunk(plane, 3).data]).toEqual([3.5, 5.5, 7.5, 15.5, 17.5, 19.5]);
    // Five columns on two: the middle one lies half in each.
    const row = { width: 5, height: 1, data: Float32Array.of(1, 1, 6, 2, 2) };
    expect([...shrunk(row, 2).data]).toEqual([(1 + 1 + 3) / 2.5, (3 + 2 + 2) / 2.5].map(Math.fround));
  });

  it('keeps the mean and a level, whatever the sizes and however the rows come', () => {
    const size = fc.integer({ min: 1, max: 70 });
    fc.assert(
      fc.property(size, size, fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 9 }), (w, h, side, rows) => {
        const plane = deadLeaves(w, h, w + 100 * h);
        const small = shrunk(plane, side, rows);
        expect(mean(small)).toBeCloseTo(mean(plane), 5);
        expect(shrunk(plane, side).data).toEqual(small.data);
        const flat = createPlane(w, h);
        flat.data.fill(0.37);
        for (const value of shrunk(flat, side, rows).data) expect(value).toBeCloseTo(0.37, 5);
      }),
      { numRuns: 60, seed: 3 },
    );
  });

  it('stays as it is where it is small enough', () => {
    const plane = deadLeaves(40, 30, 8);
    expect(shrunk(plane, 64)).toEqual(plane);
  });
});
