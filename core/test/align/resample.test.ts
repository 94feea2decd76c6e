import { describe, expect, it } from 'vitest';
import { coveredBy, createPlane, resampled, seededRandom, type Plane } from '../../src';

function drawn(width: number, height: number, value: (x: number, y: number) => number): Plane {
  const plane = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) plane.data[i] = value(x, y);
  return plane;
}

const HERE = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };

describe('cubic convolution', () => {
  it('leaves a picture where it is', () => {
    const random = seededRandom(1);
    const plane = drawn(17, 11, () => random.uniform());
    expect(resampled(plane, HERE, plane)).toEqual(plane);
  });

  it.each([0.25, 0.5, 0.8])('is exact for planes and paraboloids, shifted by %f px', (shift) => {
    // Keys 1981: third-order convergence, so that polynomials of degree 2 come out whole.
    const surface = (x: number, y: number) =>
      0.3 + 0.02 * x - 0.01 * y + 0.001 * x * x - 0.002 * x * y + 0.0005 * y * y;
    const plane = drawn(24, 20, surface);
    const moved = resampled(plane, { ...HERE, shiftX: shift, shiftY: -shift }, plane);
    for (let y = 3; y < 17; y++) {
      for (let x = 3; x < 21; x++) expect(moved.data[y * 24 + x]).toBeCloseTo(surface(x + shift, y - shift), 5);
    }
  });

  it('halves a fine pattern to its mean instead of folding it over', () => {
    const stripes = drawn(80, 60, (x) => (x % 2 === 0 ? 0.9 : 0.1));
    const half = resampled(stripes, { scaleX: 2, scaleY: 2, shiftX: 0.5, shiftY: 0.5 }, { width: 40, height: 30 });
    for (let x = 5; x < 35; x++) expect(Math.abs(half.data[15 * 40 + x] - 0.5)).toBeLessThan(0.03);
  });

  it('enlarges a slow wave to the wave itself', () => {
    const wave = (x: number) => 0.5 + 0.4 * Math.sin((2 * Math.PI * x) / 20);
    const plane = drawn(80, 8, wave);
    const large = resampled(
      plane,
      { scaleX: 0.25, scaleY: 0.25, shiftX: -0.375, shiftY: -0.375 },
      { width: 320, height: 32 },
    );
    for (let x = 20; x < 300; x++)
      expect(Math.abs(large.data[16 * 320 + x] - wave(0.25 * x - 0.375))).toBeLessThan(0.004);
  });

  it('tells which samples of the frame the other picture holds', () => {
    const other = { width: 10, height: 6 };
    const covered = coveredBy(other, { scaleX: 0.5, scaleY: 0.5, shiftX: -1, shiftY: 0 }, { width: 30, height: 20 });
    const inRow = (y: number) => covered.data.subarray(y * 30, (y + 1) * 30).reduce((sum, value) => sum + value, 0);
    // 0.5·x − 1 from −0.5 to 9.5: x from 1 to 21.
    expect(inRow(0)).toBe(21);
    expect(inRow(11)).toBe(21);
    expect(inRow(12)).toBe(0);
    const later = coveredBy(other, { scaleX: 0.5, scaleY: 0.5, shiftX: -1, shiftY: 0 }, { width: 5, height: 1 }, 20, 0);
    expect([...later.data]).toEqual([1, 1, 0, 0, 0]);
  });
});
