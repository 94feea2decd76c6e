import { describe, expect, it } from 'vitest';
import { filledPlane } from '../src';
import { mostUsedPart } from '../src/read/mostUsedPart';

describe('the part that holds most of what is used', () => {
  it('is all of a small area', () => {
    expect(mostUsedPart(filledPlane(700, 130, 1), 512)).toEqual({ x: 64, y: 0, width: 512, height: 130 });
    expect(mostUsedPart(filledPlane(300, 200, 1), 512)).toEqual({ x: 0, y: 0, width: 300, height: 200 });
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
