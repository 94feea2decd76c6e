import { describe, expect, it } from 'vitest';
import {
  cropPlane,
  exposed,
  filledPlane,
  normalisedPsf,
  PLAIN_KERNELS,
  seededRandom,
  takeReading,
  type Plane,
} from '../../src';
import { mostUsedPart } from '../../src/read/mostUsedPart';
import { deadLeaves } from '../synthetic';

describe('the part that holds most of what is used', () => {
  it('is all of a small area', () => {
    expect(mostUsedPart(filledPlane(700, 130, 1), 512)).toEqual({ x: 64, y: 0, width: 512, height: 130 });
    expect(mostUsedPart(filledPlane(300, 200, 1), 512)).toEqual({ x: 0, y: 0, width: 300, height: 200 });
  });

  it('is the middle where nothing is used, or all alike', () => {
    for (const value of [0, 1]) {
      const { x, y } = mostUsedPart(filledPlane(1024, 768, value), 512);
      expect([x, y]).toEqual([256, 128]);
    }
  });

  it('lies where the subject is', () => {
    const use = filledPlane(1000, 800, 0);
    for (let y = 500; y < 780; y++) use.data.fill(1, y * 1000 + 610, y * 1000 + 900);
    const part = mostUsedPart(use, 384);
    expect(part.x).toBeLessThanOrEqual(610);
    expect(part.x + part.width).toBeGreaterThanOrEqual(900);
    expect(part.y).toBeLessThanOrEqual(500);
    expect(part.y + part.height).toBeGreaterThanOrEqual(768);
    expect([part.x % 64, part.y % 64]).toEqual([0, 0]);
  });
});

describe('the noise of a large frame', () => {
  const readingOf = (channel: Plane, use: Plane) =>
    takeReading({
      channels: [channel],
      lumaWeights: [1],
      use,
      clipped: new Uint8Array(channel.data.length),
      jpeg: false,
      kernels: PLAIN_KERNELS,
      psf: normalisedPsf(1, 1, [1]),
    });

  it('is that of the part in which most of the subject lies', () => {
    const [width, height] = [2300, 140];
    const frame = exposed([deadLeaves(width, height, 4)], [{ a: 2e-4, b: 1e-5 }], seededRandom(3))[0];
    const use = filledPlane(width, height, 1);
    const part = mostUsedPart(use, 2048);
    expect(part.width).toBe(2048);
    const whole = readingOf(frame, use);
    const alone = readingOf(cropPlane(frame, part), cropPlane(use, part));
    expect(whole.noise).toEqual(alone.noise);
    expect(whole.traces).toEqual(alone.traces);
  });
});
