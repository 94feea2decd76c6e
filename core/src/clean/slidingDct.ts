import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';

const SIDE = 8;

/** cos basis of the orthonormal DCT-II, frequency by place. */
const BASIS = Float64Array.from({ length: SIDE * SIDE }, (_, i) => {
  const k = Math.floor(i / SIDE);
  const n = i % SIDE;
  return (k === 0 ? Math.sqrt(1 / SIDE) : Math.sqrt(2 / SIDE)) * Math.cos((Math.PI * (n + 0.5) * k) / SIDE);
});

/** How far a cleaned sample depends on its surroundings, px. */
export const DCT_REACH = SIDE;

export interface SlidingDctOptions {
  /** Standard deviation of the noise. */
  readonly sigma: number;
  /** In units of sigma; 2.7 removes nearly all of the noise. */
  readonly threshold: number;
  /** Place of the first sample in the frame: the block grid is fixed to the frame, so that tiles agree with the whole. */
  readonly originX: number;
  readonly originY: number;
}

/**
 * Removes white noise by hard-thresholding the DCT of overlapping 8 × 8 blocks, every second position in both
 * directions, blocks weighted by how few coefficients they kept.
 *
 * Source: Yaroslavsky, Egiazarian, Astola (2001); Foi, Katkovnik, Egiazarian, IEEE TIP 16 (2007) for the weights.
 */
export function slidingDct(plane: Plane, options: SlidingDctOptions): Plane {
  const { width, height } = plane;
  const sum = new Float32Array(width * height);
  const weights = new Float32Array(width * height);
  const block = new Float64Array(SIDE * SIDE);
  const spare = new Float64Array(SIDE * SIDE);
  const limit = options.threshold * options.sigma;
  const { tops, lefts } = blockPlaces(plane, options);
  for (const top of tops) {
    for (const left of lefts) {
      for (let row = 0; row < SIDE; row++) {
        for (let column = 0; column < SIDE; column++) {
          block[row * SIDE + column] = plane.data[(top + row) * width + left + column];
        }
      }
      forward(block, spare);
      let kept = 1;
      for (let i = 1; i < block.length; i++) {
        if (Math.abs(block[i]) < limit) block[i] = 0;
        else kept++;
      }
      backward(block, spare);
      const weight = 1 / kept;
      for (let row = 0; row < SIDE; row++) {
        const at = (top + row) * width + left;
        for (let column = 0; column < SIDE; column++) {
          sum[at + column] += weight * block[row * SIDE + column];
          weights[at + column] += weight;
        }
      }
    }
  }
  const out = createPlane(width, height);
  for (let i = 0; i < sum.length; i++) out.data[i] = weights[i] > 0 ? sum[i] / weights[i] : plane.data[i];
  return out;
}

/** Upper and left edges of the blocks. */
export function blockPlaces({ width, height }: Size, { originX, originY }: SlidingDctOptions) {
  return { tops: starts(height, originY), lefts: starts(width, originX) };
}

/** Even places of the frame's own grid that fit, and the last place that fits. */
function starts(length: number, origin: number): number[] {
  const places: number[] = [];
  if (length < SIDE) return places;
  for (let at = ((-origin % 2) + 2) % 2; at + SIDE <= length; at += 2) places.push(at);
  if (places[0] !== 0) places.unshift(0);
  if (places[places.length - 1] !== length - SIDE) places.push(length - SIDE);
  return places;
}

function forward(block: Float64Array, spare: Float64Array): void {
  for (let row = 0; row < SIDE; row++) {
    for (let k = 0; k < SIDE; k++) {
      let value = 0;
      for (let n = 0; n < SIDE; n++) value += BASIS[k * SIDE + n] * block[row * SIDE + n];
      spare[k * SIDE + row] = value;
    }
  }
  for (let column = 0; column < SIDE; column++) {
    for (let k = 0; k < SIDE; k++) {
      let value = 0;
      for (let n = 0; n < SIDE; n++) value += BASIS[k * SIDE + n] * spare[column * SIDE + n];
      block[k * SIDE + column] = value;
    }
  }
}

function backward(block: Float64Array, spare: Float64Array): void {
  for (let row = 0; row < SIDE; row++) {
    for (let n = 0; n < SIDE; n++) {
      let value = 0;
      for (let k = 0; k < SIDE; k++) value += BASIS[k * SIDE + n] * block[row * SIDE + k];
      spare[n * SIDE + row] = value;
    }
  }
  for (let column = 0; column < SIDE; column++) {
    for (let n = 0; n < SIDE; n++) {
      let value = 0;
      for (let k = 0; k < SIDE; k++) value += BASIS[k * SIDE + n] * spare[column * SIDE + k];
      block[n * SIDE + column] = value;
    }
  }
}
