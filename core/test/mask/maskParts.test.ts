import { describe, expect, it } from 'vitest';
import {
  between,
  bilinear,
  createPlane,
  drawnOver,
  filledPlane,
  gaussianBlur,
  samplesBeside,
  type Plane,
} from '../../src';
import { patchMovement } from '../../src/align/patchMovement';
import { piecesOf, tidied } from '../../src/mask/pieces';
import { deadLeaves } from '../synthetic';

/** A drawing in characters: # is 1. */
function labelsOf(rows: readonly string[]): Uint8Array {
  return Uint8Array.from(rows.join(''), (character) => (character === '#' ? 1 : 0));
}

describe('pieces of a mask', () => {
  const rows = ['####......', '#..#....#.', '####......', '####......'];

  it('hang together by their sides, not their corners', () => {
    const labels = labelsOf(['##..', '..##', '....']);
    expect(piecesOf(labels, 1, 4, 3).map((piece) => piece.length)).toEqual([2, 2]);
    expect(piecesOf(labelsOf(rows), 1, 10, 4).map((piece) => piece.length)).toEqual([14, 1]);
    expect(piecesOf(labelsOf(rows), 0, 10, 4).map((piece) => piece.length)).toEqual([23, 2]);
  });

  it('small ones go', () => {
    const labels = labelsOf(rows);
    expect(tidied(labels, 10, 4)[18]).toBe(0);
    expect(labels[18]).toBe(1);
  });
});

describe('bilinear', () => {
  it('inside the plane needs no border', () => {
    const plane = createPlane(9, 7);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.sin(i * i);
    for (let i = 0; i < 200; i++) {
      const [x, y] = [8 * ((i * 0.618) % 1), 6 * ((i * 0.377) % 1)];
      expect(between(plane, x, y)).toBe(bilinear(plane, x, y));
    }
  });

  const plane: Plane = { width: 3, height: 2, data: Float32Array.from([0, 1, 2, 10, 11, 12]) };

  it('is linear between samples, and the border’s value outside', () => {
    expect(bilinear(plane, 0.25, 0)).toBeCloseTo(0.25, 6);
    expect(bilinear(plane, 1.5, 0.5)).toBeCloseTo(6.5, 6);
    expect(bilinear(plane, -4, -4)).toBe(0);
    expect(bilinear(plane, 9, 9)).toBe(12);
  });
});

describe('a plane drawn with other samples', () => {
  const ramp = createPlane(40, 20);
  for (let i = 0; i < ramp.data.length; i++) ramp.data[i] = (i % 40) + 100 * Math.floor(i / 40);

  it.each([
    [0, 0, 0.25, 0.25, 160, 80],
    [3.5, 2.25, 1.7, 0.6, 20, 25],
    [-5, -3, 2.5, 2.5, 20, 10],
  ])(
    'from %f, %f on with %f × %f px a sample is bilinear at each one’s middle',
    (x, y, stepX, stepY, width, height) => {
      const { data } = drawnOver(ramp, { x, y, stepX, stepY, width, height });
      for (let i = 0; i < data.length; i++) {
        const [u, v] = [x + ((i % width) + 0.5) * stepX - 0.5, y + (Math.floor(i / width) + 0.5) * stepY - 0.5];
        expect(data[i]).toBeCloseTo(bilinear(ramp, u, v), 2);
      }
    },
  );

  it('takes every place between the two samples beside it, beyond the ends the last one', () => {
    for (const [corner, step, length] of [
      [0, 0.3, 12],
      [-4, 1.9, 9],
      [2.5, 1, 1],
    ]) {
      const { first, second, share } = samplesBeside(corner, step, 10, length);
      for (let i = 0; i < 10; i++) {
        const middle = Math.min(length - 1, Math.max(0, corner + (i + 0.5) * step - 0.5));
        expect(first[i] + share[i] * (second[i] - first[i])).toBeCloseTo(middle, 5);
        expect(second[i] - first[i]).toBe(first[i] < length - 1 ? 1 : 0);
        expect(share[i]).toBeLessThan(1);
      }
    }
  });

  it('with its own samples is itself, a single sample everywhere the same', () => {
    expect(drawnOver(ramp, { x: 0, y: 0, stepX: 1, stepY: 1, width: 40, height: 20 })).toEqual(ramp);
    const one = drawnOver(filledPlane(1, 1, 0.3), { x: -2, y: 0, stepX: 0.5, stepY: 3, width: 8, height: 3 });
    expect(one.data.every((value) => value === Math.fround(0.3))).toBe(true);
  });
});

describe('the movement of a patch', () => {
  const still = gaussianBlur(deadLeaves(120, 120, 3, 3), 1.5);
  const moving = createPlane(120, 120);
  for (let i = 0; i < moving.data.length; i++) {
    moving.data[i] = 0.6 * bilinear(still, (i % 120) - 1.3, Math.floor(i / 120) + 0.7) + 0.2;
  }

  it('is found whatever contrast and tone', () => {
    const found = patchMovement(still, moving, 60, 60, 20, 5, 1.5)!;
    expect(found.x).toBeCloseTo(1.3, 1);
    expect(found.y).toBeCloseTo(-0.7, 1);
  });

  it('is not told farther than allowed, without texture, or between unlike pictures', () => {
    expect(patchMovement(still, moving, 60, 60, 20, 0.5, 1.5)).toBeNull();
    expect(patchMovement(filledPlane(120, 120, 0.4), moving, 60, 60, 20, 5, 1.5)).toBeNull();
    expect(patchMovement(still, gaussianBlur(deadLeaves(120, 120, 4, 3), 1.5), 60, 60, 20, 5, 1.5)).toBeNull();
  });
});
