import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { createPlane, gaussianBlur, planeOf, seededRandom, type Plane } from '@vitrocept/core';
import { colourError, halo, inventedDetail, psnr, ssim } from '@vitrocept/core';
import { moveBack, shiftBetween } from '../src/registration';

const outside = JSON.parse(readFileSync(new URL('../../core/golden/outside.json', import.meta.url), 'utf8')) as {
  ssim: { width: number; height: number; one: number[][]; other: number[][]; value: number };
  registration: {
    width: number;
    height: number;
    scene: number[];
    away: number[];
    by: { x: number; y: number };
  };
};

const SIDE = 128;

function texture(seed: number): Plane {
  const random = seededRandom(seed);
  const plane = createPlane(SIDE, SIDE);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.uniform();
  return gaussianBlur(plane, 1.5);
}

const changed = (plane: Plane, change: (value: number, i: number) => number): Plane => ({
  ...plane,
  data: plane.data.map(change),
});
const three = (plane: Plane) => [plane, plane, plane];

describe('quality measures', () => {
  const truth = texture(1);

  it('a result that is the truth: no error, no halo, nothing invented', () => {
    expect(psnr(three(truth), three(truth))).toBeGreaterThan(100);
    expect(ssim(three(truth), three(truth))).toBeCloseTo(1, 6);
    expect(halo(truth, truth)).toBe(0);
    expect(inventedDetail(truth, truth)).toBeCloseTo(0, 4);
    expect(colourError(three(truth), three(truth))).toBe(0);
  });

  it('PSNR of a constant error e is −20·log10 e', () => {
    const off = changed(truth, (value) => value + 0.01);
    expect(psnr(three(off), three(truth))).toBeCloseTo(40, 2);
  });

  it('SSIM of a picture against its brighter self follows the luminance term alone', () => {
    const flat = changed(truth, () => 0.4);
    const brighter = changed(truth, () => 0.5);
    // (2·0.4·0.5 + K₁²) / (0.4² + 0.5² + K₁²); Wang et al. 2004, eq. 6.
    expect(ssim(three(brighter), three(flat))).toBeCloseTo((0.4 + 1e-4) / (0.41 + 1e-4), 4);
  });

  it('SSIM is that of skimage.metrics.structural_similarity, by 2e-4 (core/golden/makeOutside.py)', () => {
    const { width, height, one, other, value } = outside.ssim;
    const planes = (all: number[][]) => all.map((values) => planeOf(width, height, values));
    expect(Math.abs(ssim(planes(other), planes(one)) - value)).toBeLessThan(2e-4);
  });

  it('a shift by scipy.ndimage.shift is found within 0.01 px (core/golden/makeOutside.py)', () => {
    const { width, height, scene, away, by } = outside.registration;
    const shift = shiftBetween(three(planeOf(width, height, away)), three(planeOf(width, height, scene)));
    expect(Math.abs(shift.x - by.x)).toBeLessThan(0.01);
    expect(Math.abs(shift.y - by.y)).toBeLessThan(0.01);
  });

  it('halo counts only what leaves the envelope, in 8-bit levels', () => {
    const most = Math.max(...truth.data);
    const beyond = changed(truth, () => most + 2 / 255);
    expect(halo(beyond, truth)).toBeGreaterThan(2);
    expect(halo(gaussianBlur(truth, 1), truth)).toBe(0);
  });

  it('invented detail: a weaker copy of the truth is not invented, another texture is', () => {
    const weaker = changed(truth, (value) => 0.5 + 0.5 * (value - 0.5));
    expect(inventedDetail(weaker, truth)).toBeLessThan(0.01);
    expect(inventedDetail(texture(2), truth)).toBeGreaterThan(0.3);
  });

  it('finds a shift of parts of a pixel and undoes it', () => {
    const moved = three(moveBack(truth, { x: -1.3, y: 2.4 }));
    const shift = shiftBetween(moved, three(truth));
    expect(shift.x).toBeCloseTo(1.3, 1);
    expect(shift.y).toBeCloseTo(-2.4, 1);
    const placed = moved.map((plane) => moveBack(plane, shift));
    expect(psnr(placed, three(truth))).toBeGreaterThan(40);
  });
});
