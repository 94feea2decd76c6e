import { expect, it } from 'vitest';
import { isSeenFromAfar, scaleFromAfar } from '../src/trials/seenFromAfar';

const CELL = { width: 220, height: 124 };

it('a subject fills its cell as far as it may, and no further than its pixels', () => {
  expect(scaleFromAfar(CELL, { x: 0, y: 0, width: 2200, height: 620 })).toBeCloseTo(0.1);
  expect(scaleFromAfar(CELL, { x: 0, y: 0, width: 440, height: 1240 })).toBeCloseTo(0.1);
  expect(scaleFromAfar(CELL, { x: 9, y: 9, width: 60, height: 60 })).toBe(1);
});

it('a blur of 4 px is seen over a subject of 900 px, not over one of 5000', () => {
  expect(isSeenFromAfar(4.1, scaleFromAfar(CELL, { x: 0, y: 0, width: 900, height: 480 }))).toBe(true);
  expect(isSeenFromAfar(4.1, scaleFromAfar(CELL, { x: 0, y: 0, width: 5000, height: 3900 }))).toBe(false);
});
