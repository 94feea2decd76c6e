import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cropPlane,
  filledPlane,
  gaussianBlur,
  grow,
  intersect,
  isEmpty,
  planeOf,
  PLAIN_KERNELS,
  tilesTouching,
  wholeOf,
  type Plane,
  type Region,
  THRESHOLD,
} from '../../src';
import { deadLeaves } from '../synthetic';

/** Made by core/golden/make.py with Debian's python3-scipy. */
const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
  width: number;
  height: number;
  truth: number[];
  gaussian: { sigma: number; values: number[] };
  block: { values: number[]; threshold: number; kept: number; cleaned: number[] };
};
const truth = planeOf(golden.width, golden.height, golden.truth);
const farthest = (a: Plane, b: ArrayLike<number>) =>
  a.data.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

describe('Gaussian smoothing', () => {
  it('is scipy.ndimage.gaussian_filter cut at 3 σ with repeated borders', () => {
    expect(farthest(gaussianBlur(truth, golden.gaussian.sigma), golden.gaussian.values)).toBeLessThan(2e-6);
  });

  it('keeps a flat plane flat, also where the kernel is wider than the plane', () => {
    expect(farthest(gaussianBlur(filledPlane(5, 3, 0.3), 4), new Float32Array(15).fill(0.3))).toBeLessThan(1e-6);
  });

  it('twice is once with the variances added', () => {
    const picture = deadLeaves(60, 50, 3);
    const twice = gaussianBlur(gaussianBlur(picture, 1.5), 2);
    const inner = { x: 15, y: 15, width: 30, height: 20 };
    expect(farthest(cropPlane(twice, inner), cropPlane(gaussianBlur(picture, 2.5), inner).data)).toBeLessThan(0.005);
  });
});

describe('sliding DCT', () => {
  const { values, threshold, kept, cleaned } = golden.block;
  const options = { sigma: threshold / THRESHOLD, originX: 0, originY: 0 };

  it('of one block is scipy.fft.dctn, a hard threshold that spares the mean, and back', () => {
    expect(kept).toBeGreaterThan(2);
    expect(kept).toBeLessThan(60);
    expect(farthest(PLAIN_KERNELS.slidingDct(planeOf(8, 8, values), options), cleaned)).toBeLessThan(2e-6);
  });

  it('without noise is the picture itself', () => {
    const same = PLAIN_KERNELS.slidingDct(truth, { ...options, sigma: 0 });
    expect(farthest(same, truth.data)).toBeLessThan(1e-5);
  });

  it('leaves alone what is smaller than a block', () => {
    const small = deadLeaves(7, 20, 2);
    expect(PLAIN_KERNELS.slidingDct(small, options).data).toEqual(small.data);
  });

  it('stands on the frame’s grid: a piece is cleaned as the whole is', () => {
    const picture = deadLeaves(64, 48, 8);
    const whole = PLAIN_KERNELS.slidingDct(picture, options);
    const at = { x: 13, y: 9, width: 40, height: 32 };
    const piece = PLAIN_KERNELS.slidingDct(cropPlane(picture, at), { ...options, originX: at.x, originY: at.y });
    const inner = { x: 8, y: 8, width: 24, height: 16 };
    const same = cropPlane(whole, { ...inner, x: at.x + 8, y: at.y + 8 });
    expect(farthest(cropPlane(piece, inner), same.data)).toBeLessThan(1e-6);
  });
});

const regions = fc.record({
  x: fc.integer({ min: -900, max: 900 }),
  y: fc.integer({ min: -900, max: 900 }),
  width: fc.integer({ min: 1, max: 1500 }),
  height: fc.integer({ min: 1, max: 1500 }),
});
const holds = (outer: Region, inner: Region) =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;
const area = ({ width, height }: Region) => width * height;

describe('regions', () => {
  it('what two share lies in both, and sharing does not depend on the order', () => {
    fc.assert(
      fc.property(regions, regions, (a, b) => {
        const both = intersect(a, b);
        expect(intersect(b, a)).toEqual(both);
        if (!isEmpty(both)) expect(holds(a, both) && holds(b, both)).toBe(true);
      }),
    );
  });

  it('growing and growing back is nothing', () => {
    fc.assert(
      fc.property(regions, fc.integer({ min: 0, max: 200 }), (region, px) => {
        expect(grow(grow(region, px), -px)).toEqual(region);
        expect(holds(grow(region, px), region)).toBe(true);
      }),
    );
  });

  it('tiles lie in the frame, share nothing and hold all of the region that is in it', () => {
    const frame = { width: 1300, height: 700 };
    fc.assert(
      fc.property(regions, (region) => {
        const inside = intersect(region, wholeOf(frame));
        const tiles = tilesTouching(region, frame, 256);
        if (isEmpty(inside)) {
          expect(tiles).toEqual([]);
          return;
        }
        const covered = tiles.reduce((sum, tile) => sum + area(intersect(tile, inside)), 0);
        expect(covered).toBe(area(inside));
        for (const tile of tiles) {
          expect(holds(wholeOf(frame), tile)).toBe(true);
          expect([tile.x % 256, tile.y % 256]).toEqual([0, 0]);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('a crop past the edge repeats the border', () => {
    const crop = cropPlane(planeOf(2, 2, [1, 2, 3, 4]), { x: -1, y: -1, width: 4, height: 4 });
    expect([...crop.data]).toEqual([1, 1, 2, 2, 1, 1, 2, 2, 3, 3, 4, 4, 3, 3, 4, 4]);
  });
});
