import { describe, expect, it } from 'vitest';
import { filledPlane, type Plane } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { gaussianPsf } from '../../src';
import { localSizes } from '../../src/read/localSizes';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const [WIDTH, HEIGHT] = [320, 192];
const NOISE = { a: 0, b: 9e-6 };
const everywhere = filledPlane(WIDTH, HEIGHT, 1);
const none = new Uint8Array(WIDTH * HEIGHT);
const scene = convolve(deadLeaves(WIDTH, HEIGHT, 31, 1.5), gaussianPsf(0.6));

function softAt(leftPx: number, rightPx: number): Plane {
  const left = convolve(scene, discPsf(leftPx / 2));
  const right = convolve(scene, discPsf(rightPx / 2));
  const data = left.data.map((value, i) => (i % WIDTH < WIDTH / 2 ? value : right.data[i]));
  return withNoise({ ...left, data }, 0.003, 4);
}

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1];

describe('size of a missed focus place by place', () => {
  it.each([
    [4, 9],
    [6, 12],
  ])('left %f px, right %f px: both are found in their half', (left, right) => {
    const places = localSizes(softAt(left, right), everywhere, none, NOISE, 0.5);
    const inLeft = places.filter(({ x }) => x < WIDTH / 2 - 40).map(({ sizePx }) => sizePx);
    const inRight = places.filter(({ x }) => x > WIDTH / 2 + 40).map(({ sizePx }) => sizePx);
    expect(Math.abs(median(inLeft) / left - 1)).toBeLessThan(0.15);
    expect(Math.abs(median(inRight) / right - 1)).toBeLessThan(0.15);
  });

  it('sizes are neither large nor small by habit: over several the mean is within 4 % of the true one', () => {
    const ratios = [4, 6, 9, 12].map((size) => {
      const places = localSizes(softAt(size, size), everywhere, none, NOISE, 0.5);
      return median(places.map(({ sizePx }) => sizePx)) / size;
    });
    expect(Math.abs(ratios.reduce((sum, ratio) => sum + ratio, 0) / ratios.length - 1)).toBeLessThan(0.04);
  });

  it('a sharp picture is sharp nearly everywhere', () => {
    const places = localSizes(withNoise(scene, 0.003, 2), everywhere, none, NOISE, 0.5);
    expect(places.filter(({ sizePx }) => sizePx < 1.6).length / places.length).toBeGreaterThan(0.9);
  });

  it('looks only where it may: outside the mask and at clipped light there are no places', () => {
    const half = filledPlane(WIDTH, HEIGHT, 0);
    for (let y = 0; y < HEIGHT; y++) half.data.fill(1, y * WIDTH, y * WIDTH + 160);
    for (const { x } of localSizes(scene, half, none, NOISE, 0.5)) expect(x).toBeLessThan(170);
    expect(localSizes(scene, everywhere, none.slice().fill(1), NOISE, 0.5)).toEqual([]);
    expect(localSizes(filledPlane(40, 40, 0.2), filledPlane(40, 40, 1), none, NOISE, 0.5)).toEqual([]);
  });
});
