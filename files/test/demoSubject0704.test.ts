import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { wholeOf } from '@vitrocept/core';
import { firstLook, nodeKernels, readPicture, takeFileReading } from '../src';

const FRAME = fileURLToPath(new URL('../../demo/frames/saltmere-0704.tif', import.meta.url));

// The nose lies in focus, the eyes 7.5 px behind it (demo/frames.json), the coat farther: no one size explains all of it.
it('0704, read over the subject that is found: soft, a missed focus that changes over it, never quite sure', async () => {
  const picture = await readPicture(FRAME);
  const { kind, mask } = await firstLook(picture);
  expect(kind).toBe('subject');
  const reading = await takeFileReading(picture, wholeOf(picture), mask, await nodeKernels(), { isSubject: true });
  expect(reading.pile).toBe('soft');
  expect(reading.cause?.method).toBe('missed-focus');
  expect(reading.confidence).toBeLessThan(0.75);
  const atEyes = reading.sizes.filter(({ x, y }) => Math.hypot(x - 540, y - 381) < 90).map((place) => place.blurSizePx);
  const middle = atEyes.sort((a, b) => a - b)[atEyes.length >> 1];
  expect(Math.abs(middle - 7.5)).toBeLessThan(1.5);
});
