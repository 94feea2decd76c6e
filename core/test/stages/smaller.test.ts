import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkPrescription,
  emptyPrescription,
  frameRegionFor,
  pictureOver,
  placedIn,
  cropPlane,
  sizeAfter,
  wholeOf,
  type Plane,
  type Prescription,
} from '../../src';
import { deadLeaves } from '../synthetic';

const withEdge = (longEdgePx: number): Prescription => ({ ...emptyPrescription(), size: { longEdgePx } });
const made = (plane: Plane, longEdgePx: number): Plane => {
  const size = sizeAfter(withEdge(longEdgePx), plane);
  return pictureOver([plane], withEdge(longEdgePx), plane, wholeOf(size))[0];
};
const mean = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0) / data.length;

describe('the finished picture made smaller', () => {
  it('has the wanted longer side and its own shape; a smaller picture stays as it is', () => {
    expect(sizeAfter(withEdge(3000), { width: 6000, height: 4000 })).toEqual({ width: 3000, height: 2000 });
    expect(sizeAfter(withEdge(1000), { width: 2000, height: 3000 })).toEqual({ width: 667, height: 1000 });
    expect(sizeAfter(withEdge(9000), { width: 600, height: 400 })).toEqual({ width: 600, height: 400 });
  });

  it('is the mean of what each sample covers, without a shift', () => {
    const plane = { width: 6, height: 4, data: Float32Array.from({ length: 24 }, (_, i) => i) };
    expect([...made(plane, 3).data]).toEqual([3.5, 5.5, 7.5, 15.5, 17.5, 19.5]);
    // Five on two: the middle one lies half in each.
    const row = { width: 5, height: 1, data: Float32Array.of(1, 1, 6, 2, 2) };
    [2, 2.8].forEach((value, i) => expect(made(row, 2).data[i]).toBeCloseTo(value, 6));
  });

  it('keeps the mean and a level', () => {
    const plane = deadLeaves(97, 61, 3);
    for (const edge of [96, 64]) expect(Math.abs(mean(made(plane, edge)) - mean(plane))).toBeLessThan(2e-3);
    const flat = { ...plane, data: plane.data.map(() => 0.25) };
    for (const value of made(flat, 70).data) expect(value).toBeCloseTo(0.25, 6);
  });

  it('is the same in parts as whole, to the bit', () => {
    const plane = deadLeaves(97, 61, 4);
    const whole = made(plane, 70);
    const nat = (most: number) => fc.integer({ min: 0, max: most });
    fc.assert(
      fc.property(nat(60), nat(35), nat(8), nat(7), (x, y, w, h) => {
        const region = { x, y, width: w + 1, height: h + 1 };
        const needed = frameRegionFor(withEdge(70), plane, region);
        const part = pictureOver([cropPlane(plane, needed)], withEdge(70), plane, region)[0];
        expect(part).toEqual(cropPlane(whole, placedIn(region, wholeOf(whole))));
      }),
      { numRuns: 60 },
    );
  });

  it('is kept in a prescription, within limits', () => {
    expect(checkPrescription(withEdge(2048)).size).toEqual({ longEdgePx: 2048 });
    expect(checkPrescription(emptyPrescription()).size).toBeUndefined();
    for (const longEdgePx of [10, 40_000, 512.5, Number.NaN]) {
      expect(() => checkPrescription(withEdge(longEdgePx))).toThrow();
    }
  });
});
