import { DCT_SIDE as SIDE, dct8, inverseDct8 } from './dct8';
import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';

/** How far a cleaned sample depends on its surroundings, px. */
export const DCT_REACH = SIDE;

/** Samples between the blocks of a grid, in both directions; of two grids the second lies half as far in. */
export const BLOCKS_APART = 4;

/** In units of sigma: what is smaller is taken for noise. */
export const THRESHOLD = 2.7;

/** Times the noise's power: where the pilot has less, a coefficient is cut. */
const LEAST_POWER = 0.05;

export interface SlidingDctOptions {
  /** Standard deviation of the noise. */
  readonly sigma: number;
  /**
   * How far it stands at each frequency over that of white noise, by the distance from the block's mean, 0..10; left
   * out it is white.
   */
  readonly shape?: readonly number[];
  /**
   * Place of the first sample in the frame: the block grid is fixed to the frame, so that tiles agree with the whole.
   */
  readonly originX: number;
  readonly originY: number;
  /** What a first pass made of the plane: then coefficients are shrunk by it, not cut. Same size as the plane. */
  readonly pilot?: Plane;
}

/**
 * Removes noise in the DCT of overlapping 8 × 8 blocks, two grids of them, every fourth place. Without a pilot
 * small coefficients are cut; with one they are multiplied by p² / (p² + σ²), p the pilot's own. Blocks count the more
 * the less noise they kept.
 *
 * Source: Yaroslavsky, Egiazarian, Astola (2001); the weights and the second pass after Dabov, Foi, Katkovnik,
 * Egiazarian, "Image denoising by sparse 3-D transform-domain collaborative filtering", IEEE TIP 16 (2007), without the
 * matching.
 */
export function slidingDct(plane: Plane, options: SlidingDctOptions): Plane {
  const { width, height } = plane;
  const sum = new Float32Array(width * height);
  const weights = new Float32Array(width * height);
  const [block, guess, spare] = Array.from({ length: 3 }, () => new Float64Array(SIDE * SIDE));
  const sigmas = sigmasOf(options);
  for (const { top, left } of blockGrids(plane, options).flatMap(placesOf)) {
    load(plane, left, top, block, spare);
    if (options.pilot) load(options.pilot, left, top, guess, spare);
    const weight = options.pilot ? shrink(block, guess, sigmas) : cut(block, sigmas);
    inverseDct8(block, spare);
    for (let row = 0; row < SIDE; row++) {
      const at = (top + row) * width + left;
      for (let column = 0; column < SIDE; column++) {
        sum[at + column] += weight * block[row * SIDE + column];
        weights[at + column] += weight;
      }
    }
  }
  const out = createPlane(width, height);
  for (let i = 0; i < sum.length; i++) out.data[i] = weights[i] > 0 ? sum[i] / weights[i] : plane.data[i];
  return out;
}

function load(plane: Plane, left: number, top: number, block: Float64Array, spare: Float64Array): void {
  for (let row = 0; row < SIDE; row++) {
    for (let column = 0; column < SIDE; column++) {
      block[row * SIDE + column] = plane.data[(top + row) * plane.width + left + column];
    }
  }
  dct8(block, spare);
}

/** The mean of a block stays; returns the block's weight. */
function cut(block: Float64Array, sigmas: Float32Array): number {
  let kept = 1;
  for (let i = 1; i < block.length; i++) {
    if (Math.abs(block[i]) < THRESHOLD * sigmas[i]) block[i] = 0;
    else kept++;
  }
  return 1 / kept;
}

function shrink(block: Float64Array, pilot: Float64Array, sigmas: Float32Array): number {
  let kept = 1;
  for (let i = 1; i < block.length; i++) {
    const power = pilot[i] ** 2 + 1e-20;
    const noise = sigmas[i] ** 2;
    const gain = power < LEAST_POWER * noise ? 0 : power / (power + noise);
    block[i] *= gain;
    kept += gain * gain;
  }
  return 1 / kept;
}

/** Standard deviation of the noise in each coefficient of a block. */
export function sigmasOf({ sigma, shape }: SlidingDctOptions): Float32Array {
  return Float32Array.from({ length: SIDE * SIDE }, (_, i) => sigma * (shape?.[distanceOf(i)] ?? 1));
}

/** How far a coefficient lies from the mean of its block, 0..10. */
export function distanceOf(index: number): number {
  return Math.round(Math.hypot(Math.floor(index / SIDE), index % SIDE));
}

interface BlockGrid {
  /** Upper and left edges of the blocks. */
  readonly tops: readonly number[];
  readonly lefts: readonly number[];
}

/** Two grids, the second lying half as far in both ways. */
export function blockGrids({ width, height }: Size, { originX, originY }: SlidingDctOptions): BlockGrid[] {
  return [0, BLOCKS_APART / 2].map((shift) => ({
    tops: starts(height, originY - shift),
    lefts: starts(width, originX - shift),
  }));
}

function placesOf({ tops, lefts }: BlockGrid): { top: number; left: number }[] {
  return tops.flatMap((top) => lefts.map((left) => ({ top, left })));
}

/** Places of the frame's own grid that fit, and the first and last that fit. */
function starts(length: number, origin: number): number[] {
  const places: number[] = [];
  if (length < SIDE) return places;
  const first = ((-origin % BLOCKS_APART) + BLOCKS_APART) % BLOCKS_APART;
  for (let at = first; at + SIDE <= length; at += BLOCKS_APART) places.push(at);
  if (places[0] !== 0) places.unshift(0);
  if (places[places.length - 1] !== length - SIDE) places.push(length - SIDE);
  return places;
}
