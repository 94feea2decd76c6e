import { distanceOf } from '../fourier/slidingDct';
import { DCT_SIDE, dct8 } from '../fourier/dct8';
import type { Plane } from '../picture/plane';

/** Distances 0..10 from the mean of an 8 × 8 block of DCT coefficients. */
export const SHAPE_LENGTH = 11;
/** The flattest share of blocks, and how much lower than the true variance their mean comes out. */
const FLATTEST = 0.2;
const FLATTEST_BIAS = 0.75;

/** Power of 8 × 8 DCT coefficients by distance from the mean, over the flattest blocks; 0 where there are none. */
export function flatSpectrum(plane: Plane, use: Plane): Float64Array {
  const blocks = blocksOf(plane, use).sort((a, b) => a.energy - b.energy);
  const flattest = blocks.slice(0, Math.ceil(blocks.length * FLATTEST));
  const power = new Float64Array(SHAPE_LENGTH);
  for (const block of flattest)
    block.power.forEach((value, i) => (power[i] += value / flattest.length / FLATTEST_BIAS));
  return power;
}

function blocksOf(plane: Plane, use: Plane): { energy: number; power: Float64Array }[] {
  const found: { energy: number; power: Float64Array }[] = [];
  const [block, spare] = [new Float64Array(DCT_SIDE ** 2), new Float64Array(DCT_SIDE ** 2)];
  for (let top = 0; top + DCT_SIDE <= plane.height; top += DCT_SIDE) {
    for (let left = 0; left + DCT_SIDE <= plane.width; left += DCT_SIDE) {
      if (!taken(block, plane, use, left, top)) continue;
      dct8(block, spare);
      const power = meansByDistance(block);
      let energy = 0;
      for (let place = 1; place < SHAPE_LENGTH; place++) energy += COUNTS[place] * power[place];
      found.push({ power, energy });
    }
  }
  return found;
}

/** Copies a block; whether all of it may be used. */
function taken(block: Float64Array, { width, data }: Plane, use: Plane, left: number, top: number): boolean {
  for (let y = 0, i = 0; y < DCT_SIDE; y++) {
    for (let at = (top + y) * width + left, end = at + DCT_SIDE; at < end; at++, i++) {
      if (use.data[at] < 1) return false;
      block[i] = data[at];
    }
  }
  return true;
}

const PLACES = Array.from({ length: DCT_SIDE ** 2 }, (_, i) => distanceOf(i));
const COUNTS = PLACES.reduce(
  (counts, place) => counts.fill(counts[place] + 1, place, place + 1),
  new Array<number>(SHAPE_LENGTH).fill(0),
);

/** Mean power over some distances, every coefficient alike. */
export function powerAt(spectrum: Float64Array, places: readonly number[]): number {
  const count = places.reduce((sum, place) => sum + COUNTS[place], 0);
  return places.reduce((sum, place) => sum + COUNTS[place] * spectrum[place], 0) / count;
}

/** Mean square of a block's coefficients by their distance. */
function meansByDistance(block: Float64Array): Float64Array {
  const means = new Float64Array(SHAPE_LENGTH);
  for (let i = 0; i < block.length; i++) means[PLACES[i]] += (block[i] * block[i]) / COUNTS[PLACES[i]];
  return means;
}
