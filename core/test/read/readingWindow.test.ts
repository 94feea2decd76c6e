import { expect, it } from 'vitest';
import { createPlane, readingWindow } from '../../src';

const area = { x: 100, y: 50, width: 4000, height: 2000 };

it('an area that can be measured at once is measured whole', () => {
  const small = { ...area, height: 1000 };
  expect(readingWindow(small, null)).toEqual(small);
});

it('of a larger one the middle is, in its own shape', () => {
  expect(readingWindow(area, null, 2e6)).toEqual({ x: 1100, y: 550, width: 2000, height: 1000 });
});

it('or where most of the mask lies', () => {
  const coverage = createPlane(80, 40);
  // The mask fills a place near the lower left corner of the area: shares 0.1 to 0.3 across, 0.6 to 0.9 down.
  for (let y = 24; y < 36; y++) coverage.data.fill(1, y * 80 + 8, y * 80 + 24);
  const { x, y, width, height } = readingWindow(area, coverage, 1e6);
  expect(width * height).toBeLessThanOrEqual(1e6);
  expect(x).toBeLessThanOrEqual(100 + 400);
  expect(x + width).toBeGreaterThanOrEqual(100 + 1200);
  expect(y).toBeLessThanOrEqual(50 + 1200);
  expect(y + height).toBeGreaterThanOrEqual(50 + 1800);
});
