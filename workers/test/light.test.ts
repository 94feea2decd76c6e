import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createPlane, emptyPrescription, srgbEncode, withCorrection, type Plane } from '@vitrocept/core';
import { litPicture } from '../src/light';
import type { WorkerFrame } from '../src/protocol';
import { shownCode } from '../src/shown';

const frame = { id: 'one', width: 800, height: 600 } as WorkerFrame;
/** A ramp from black to white from left to right. */
const picture = [0, 1, 2].map(() => {
  const plane: Plane = createPlane(200, 150);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = (i % 200) / 199;
  return plane;
});
const job = {
  frame,
  prescription: emptyPrescription(),
  side: 200,
  isFramed: false,
  marksClipping: false,
  isDraft: false,
};

/** There are no pictures here: what would be drawn is kept. */
let drawn: Uint8ClampedArray[] = [];
beforeEach(() => {
  drawn = [];
  vi.stubGlobal(
    'ImageData',
    class {
      constructor(pixels: Uint8ClampedArray) {
        drawn.push(pixels);
      }
    },
  );
  vi.stubGlobal('createImageBitmap', (image: object) => Promise.resolve(image));
});
afterEach(() => void vi.unstubAllGlobals());

describe('a picture shown with its light', () => {
  it('is as large as it was asked for, and a draft half as large and alike', async () => {
    const whole = await litPicture(job, picture);
    const draft = await litPicture({ ...job, isDraft: true }, picture);
    expect([whole.width, whole.height, draft.width, draft.height]).toEqual([200, 150, 100, 75]);
    const [fine, coarse] = drawn;
    for (const x of [10, 50, 90]) {
      expect(Math.abs(coarse[4 * (30 * 100 + x)] - fine[4 * (60 * 200 + 2 * x)])).toBeLessThan(4);
    }
  });

  it('counts what is shown: a stop more light moves what is counted up', async () => {
    const meanOf = (counts: readonly number[]) =>
      counts.reduce((sum, count, step) => sum + step * count, 0) / counts.reduce((sum, count) => sum + count, 0);
    const plain = await litPicture(job, picture);
    const lit = await litPicture({ ...job, prescription: withCorrection(job.prescription, 'exposureEv', 1) }, picture);
    expect(plain.counts[0].reduce((sum, count) => sum + count, 0)).toBe(10_000);
    expect(meanOf(lit.counts[0])).toBeGreaterThan(meanOf(plain.counts[0]) + 15);
  });
});

describe('the code a linear value is shown by', () => {
  it('is the nearest on the curve of sRGB, to a code in the deepest shadows', () => {
    for (let i = 0; i <= 1000; i++) {
      const value = (i / 1000) ** 2;
      expect(Math.abs(shownCode(value) - 255 * srgbEncode(value))).toBeLessThan(1);
    }
  });

  it('ends at black and white, also for what is no number', () => {
    expect([-1, 0, NaN, 1, 7, Infinity].map(shownCode)).toEqual([0, 0, 0, 255, 255, 255]);
  });
});
