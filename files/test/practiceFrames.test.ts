import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { practiceFrames, takePracticeFrame } from '../src';

const TRUTHS = fileURLToPath(new URL('../../demo/truth', import.meta.url));

describe('the practice camera', () => {
  const frames = practiceFrames();

  it('takes forty frames: sharp, grainy, blurred in every way, and beyond recovery', () => {
    expect(frames).toHaveLength(40);
    expect(new Set(frames.map(({ name }) => name)).size).toBe(40);
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
});
