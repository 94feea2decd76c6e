import { describe, expect, it } from 'vitest';
import { bilinear, createPlane, filledPlane, gaussianBlur, type Plane } from '../src';
import { patchMovement } from '../src/align/patchMovement';
import { piecesOf, tidied } from '../src/mask/pieces';
import { deadLeaves } from './synthetic';

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
  const plane: Plane = { width: 3, height: 2, data: Float32Array.from([0, 1, 2, 10, 11, 12]) };

  it('is linear between samples, and the border’s value outside', () => {
    expect(bilinear(plane, 0.25, 0)).toBeCloseTo(0.25, 6);
    expect(bilinear(plane, 1.5, 0.5)).toBeCloseTo(6.5, 6);
    expect(bilinear(plane, -4, -4)).toBe(0);
    expect(bilinear(plane, 9, 9)).toBe(12);
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
