import { describe, expect, it } from 'vitest';
import type { Plane } from '@vitrocept/core';
import { outlineScore, overlapOf, swept, whiskerRecall } from '../src/maskMeasures';

const [WIDTH, HEIGHT] = [120, 90];

function drawn(isIn: (x: number, y: number) => boolean): Uint8Array {
  return Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (isIn(i % WIDTH, Math.floor(i / WIDTH)) ? 255 : 0));
}

const foundIn = (mask: Uint8Array): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  data: Float32Array.from(mask, (value) => value / 255),
});

const isBody = (x: number, y: number) => Math.hypot(x - 50, y - 45) < 20;
const isWhisker = (x: number, y: number) => x >= 68 && x < 108 && y >= 44 && y < 46;
const body = drawn(isBody);
const whiskered = drawn((x, y) => isBody(x, y) || isWhisker(x, y));

describe('measures of masks', () => {
  it('overlap of two squares that share a third is a third', () => {
    const square = (left: number) => drawn((x, y) => x >= left && x < left + 20 && y >= 10 && y < 30);
    expect(overlapOf(foundIn(square(10)), { truth: square(20) })).toBeCloseTo(1 / 3, 9);
    expect(overlapOf(foundIn(body), { truth: body })).toBe(1);
  });

  it('whiskers: only what is narrow counts, and 3 px off is near enough', () => {
    expect(whiskerRecall(foundIn(body), { truth: body })).toBeNaN();
    expect(whiskerRecall(foundIn(whiskered), { truth: whiskered })).toBe(1);
    expect(whiskerRecall(foundIn(body), { truth: whiskered })).toBeLessThan(0.1);
    const lowered = (by: number) => foundIn(drawn((x, y) => isBody(x, y) || isWhisker(x, y - by)));
    expect(whiskerRecall(lowered(3), { truth: whiskered })).toBe(1);
    expect(whiskerRecall(lowered(6), { truth: whiskered })).toBeLessThan(0.1);
    const half = foundIn(drawn((x, y) => isBody(x, y) || (isWhisker(x, y) && x < 88)));
    expect(whiskerRecall(half, { truth: whiskered })).toBeCloseTo(0.55, 1);
  });

  it('an outline 1 px off is near, one 5 px off is not', () => {
    const grown = (by: number) => foundIn(drawn((x, y) => Math.hypot(x - 50, y - 45) < 20 + by));
    const truth = { truth: body };
    expect(outlineScore(grown(0), truth)).toBe(1);
    expect(outlineScore(grown(1), truth)).toBeGreaterThan(0.85);
    expect(outlineScore(grown(5), truth)).toBe(0);
  });

  it('a mask swept by its movement keeps its middle and falls off along it, 1/2 at its old border', () => {
    const square = drawn((x, y) => x >= 40 && x < 80 && y >= 30 && y < 60);
    const soft = swept(square, WIDTH, HEIGHT, [12, 0]);
    const at = (x: number, y: number) => soft[y * WIDTH + x] / 255;
    expect(at(60, 45)).toBe(1);
    expect((at(79, 45) + at(80, 45)) / 2).toBeCloseTo(0.5, 1);
    expect(at(83, 45)).toBeGreaterThan(0.1);
    expect(at(83, 45)).toBeLessThan(0.4);
    expect(at(90, 45)).toBe(0);
    expect(at(60, 29)).toBe(0);
    expect(
      Array.from(soft, (value, i) => (value > 127 ? 1 : 0) - (square[i] > 127 ? 1 : 0)).filter(Boolean).length,
    ).toBeLessThan(70);
  });
});
