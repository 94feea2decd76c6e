import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { srgbEncode } from '@vitrocept/core';
import { practiceFrames, readPicture, smallOf, takePracticeFrame } from '../src';
import { temporaryFolder } from './pictures';

const TRUTHS = fileURLToPath(new URL('../../demo/truth', import.meta.url));

describe('the practice camera', () => {
  const frames = practiceFrames();

  it('takes forty frames and a raw one: sharp, grainy, blurred in every way, and beyond recovery', () => {
    expect(frames).toHaveLength(41);
    expect(new Set(frames.map(({ name }) => name)).size).toBe(41);
    expect(new Set(frames.map(({ fault }) => fault)).size).toBe(5);
    expect(frames.filter(({ blurPx }) => blurPx > 50)).toHaveLength(3);
    expect(frames.filter(({ fault, iso }) => fault === 'none' && iso >= 12800).length).toBeGreaterThanOrEqual(5);
    expect(practiceFrames()).toEqual(frames);
  });

  it('takes each the same every time, of one size, with its exposure', async () => {
    const shaken = frames.find(({ fault }) => fault === 'shake')!;
    const [once, again] = [await takePracticeFrame(TRUTHS, shaken), await takePracticeFrame(TRUTHS, shaken)];
    expect(once.equals(again)).toBe(true);
    const { width, height, exif } = await sharp(once).metadata();
    expect([width, height]).toEqual([840, 560]);
    expect(exif?.includes('Quorvane K2')).toBe(true);
    expect(once.length).toBeLessThan(500_000);
  });

  it('takes one through its mosaic: a DNG of the same scene, seen alike', async () => {
    const frame = frames.at(-1)!;
    const folder = await temporaryFolder();
    const [dng, jpeg] = [join(folder, frame.name), join(folder, 'same.jpg')];
    await writeFile(dng, await takePracticeFrame(TRUTHS, frame));
    await writeFile(jpeg, await takePracticeFrame(TRUTHS, { ...frame, isMosaic: false }));
    const [raw, seen] = [await readPicture(dng), await readPicture(jpeg)];
    expect(raw).toMatchObject({ format: 'dng', width: 840, height: 560 });
    expect(raw.exposure).toEqual(seen.exposure);
    const [own, other] = [smallOf(raw, 60), smallOf(seen, 60)];
    own.forEach((plane, c) => {
      const apart = plane.data.map((value, i) =>
        Math.abs(srgbEncode(Math.max(0, value)) - srgbEncode(other[c].data[i])),
      );
      expect(apart.reduce((sum, value) => sum + value) / apart.length).toBeLessThan(0.01);
    });
  });
});
