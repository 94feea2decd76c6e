import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createPlane, drawMask, srgbDecode, subjectArea, type Plane } from '@vitrocept/core';
import { readPicture, smallOf, smallPicture, subjectOf, inspectPicture, viewJpeg, type SampleFile } from '../src';

const FRAME = new URL('../../demo/frames/saltmere-0533.jpg', import.meta.url).pathname;
const SIDE = 900;
let folder: string;
let file: SampleFile;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-small-'));
  const { width, height, channels, bits } = await readPicture(FRAME);
  file = { path: join(folder, 'samples'), original: FRAME, width, height, channels, bits };
});
afterAll(() => rm(folder, { recursive: true }));

const iou = (a: Plane, b: Plane) => {
  let [both, either] = [0, 0];
  a.data.forEach((value, i) => {
    both += value > 0.5 && b.data[i] > 0.5 ? 1 : 0;
    either += value > 0.5 || b.data[i] > 0.5 ? 1 : 0;
  });
  return both / either;
};

describe('a small picture from the samples', () => {
  it('is the same band by band from disk and from a picture that is held', async () => {
    const [fromDisk, held] = [await smallPicture(file, SIDE), smallOf(await readPicture(FRAME), SIDE)];
    expect(Math.max(fromDisk[0].width, fromDisk[0].height)).toBe(SIDE);
    held.forEach((plane, c) => {
      expect(fromDisk[c].width).toBe(plane.width);
      const worst = plane.data.reduce((most, value, i) => Math.max(most, Math.abs(fromDisk[c].data[i] - value)), 0);
      expect(worst).toBeLessThan(1e-6);
    });
  });

  it('finds much the same subject that the page finds in its view of the frame', async () => {
    const { data, info } = await sharp(
      await viewJpeg({ ...(await inspectPicture(FRAME)), path: '', original: FRAME }, SIDE),
    )
      .raw()
      .toBuffer({ resolveWithObject: true });
    const view = [0, 1, 2].map((c) => {
      const plane = createPlane(info.width, info.height);
      for (let i = 0; i < plane.data.length; i++) plane.data[i] = srgbDecode(data[3 * i + c] / 255);
      return plane;
    });
    const small = await smallPicture(file, SIDE);
    const { operation, share } = subjectOf(small, file);
    const whole = { x: 0, y: 0, width: file.width, height: file.height };
    const drawn = drawMask([operation], whole, SIDE / Math.max(file.width, file.height));
    expect(iou(drawn, subjectArea(view, []))).toBeGreaterThan(0.85);
    expect(share).toBeCloseTo(drawn.data.reduce((sum, value) => sum + value, 0) / drawn.data.length, 2);
    expect(share).toBeGreaterThan(0.02);
  });
});
