import { describe, expect, it } from 'vitest';
import { filledPlane, findSubject, gaussianPsf, whereToRead, type Plane } from '../../src';
import '../fastKernels';
import { convolve, deadLeaves } from '../synthetic';

const [WIDTH, HEIGHT] = [200, 134];
const asColour = (plane: Plane) => [plane, plane, plane];
/** Fine leaves inside an ellipse, what lies behind out of focus. */
function withSubject(): Plane {
  const fine = deadLeaves(WIDTH, HEIGHT, 71, 1.2);
  const soft = convolve(deadLeaves(WIDTH, HEIGHT, 72, 12), gaussianPsf(5));
  return {
    ...fine,
    data: fine.data.map((value, i) => {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      return Math.hypot((x - 100) / 45, (y - 67) / 38) < 1 ? value : soft.data[i];
    }),
  };
}
const LARGE = { width: 6000, height: 4020 };

describe('where a first Reading looks', () => {
  it('on the subject where one stands out', () => {
    const where = whereToRead(asColour(withSubject()), LARGE);
    expect(where.kind).toBe('subject');
    const middle = where.coverage!.data[67 * WIDTH + 100];
    expect(middle).toBe(1);
    expect(where.coverage!.data[5 * WIDTH + 5]).toBe(0);
    expect(where.share).toBeGreaterThan(0.1);
    expect(where.share).toBeLessThan(0.35);
    // The place that is shown first lies well on it, in px of the frame.
    const scale = LARGE.width / WIDTH;
    expect(Math.hypot((where.place.x / scale - 100) / 45, (where.place.y / scale - 67) / 38)).toBeLessThan(0.9);
  });

  it('on one that holds no more detail than the rest, where the network takes it for one too', () => {
    const leaves = asColour(deadLeaves(WIDTH, HEIGHT, 75, 1.2));
    const labels = new Uint8Array(WIDTH * HEIGHT);
    for (let y = 40; y < 90; y++) labels.fill(1, y * WIDTH + 60, y * WIDTH + 130);
    const found = { ...findSubject(leaves), labels };
    expect(whereToRead(leaves, LARGE, { ...found, agreement: 0.4 }).kind).toBe('richest');
    const where = whereToRead(leaves, LARGE, { ...found, agreement: 0.7 });
    expect(where.kind).toBe('subject');
    expect([...where.coverage!.data]).toEqual([...labels]);
  });

  it('a subject of few px tells less than the whole frame', () => {
    expect(whereToRead(asColour(withSubject()), { width: 400, height: 268 })).toMatchObject({
      kind: 'whole',
      coverage: null,
      share: 1,
    });
  });

  it('where most detail is in a large frame without one, and never in its plain part', () => {
    const leaves = deadLeaves(WIDTH, HEIGHT, 73, 1.2);
    const half = { ...leaves, data: leaves.data.map((value, i) => (i % WIDTH < 110 ? value : 0.4)) };
    const where = whereToRead(asColour(half), LARGE);
    expect(where.kind).not.toBe('whole');
    const { data } = where.coverage!;
    expect(where.share).toBeGreaterThan(0.05);
    let [left, right] = [0, 0];
    data.forEach((value, i) => (i % WIDTH < 115 ? (left += value) : (right += value)));
    expect(right).toBeLessThan(0.1 * left);
  });

  it('looks everywhere where nothing is', () => {
    expect(whereToRead(asColour(filledPlane(WIDTH, HEIGHT, 0.3)), { width: 800, height: 536 }).kind).toBe('whole');
  });
});
