import { minus } from '../picture/arithmetic';
import { halved } from '../picture/halved';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { squaredImmerkaer } from './localNoise';

const BLOCK_PX = 32;
/** Of the noise of a sensor a tenth of the blocks stay below 1.2; a mosaic filled in, or JPEG, stays above 1.3. */
const WHITE_RATIO = 1.25;
const LEAST_BLOCKS = 10;

/** What the noise of a picture is like: white and each channel's own, white and the same in all, or not white. */
export type NoiseKind = 'independent' | 'shared' | 'coloured';

/** Channels that differ by less than this share of their own power are one picture three times. */
const SAME = 0.001;

/**
 * A sensor with three values a place makes noise that is white and each channel's own. Filling in a colour mosaic, JPEG and
 * cleaning take away its finest part: then noise at twice the scale is stronger than the finest says. Judged on the
 * difference of red and blue, in which the picture itself hardly shows. A grey picture has none: its texture would pass for
 * coloured noise, so its noise is taken for white.
 */
export function noiseKind(channels: Channels): NoiseKind {
  if (channels.length !== 3) return 'shared';
  const apart = minus(channels[0], channels[2]);
  if (finePower(apart) <= SAME * finePower(channels[0])) return 'shared';
  const ratios = ratiosOf(apart);
  const isWhite = ratios.length < LEAST_BLOCKS || ratios[Math.floor(ratios.length / 10)] < WHITE_RATIO;
  return isWhite ? 'independent' : 'coloured';
}

function finePower(plane: Plane): number {
  return squaredImmerkaer(plane).data.reduce((sum, value) => sum + value, 0);
}

/** Noise power at twice the scale over what white noise would have there, by block, rising. */
function ratiosOf(plane: Plane): number[] {
  const fine = squaredImmerkaer(plane);
  const coarse = squaredImmerkaer(halved(plane));
  const ratios: number[] = [];
  for (let y = 0; y + BLOCK_PX <= plane.height; y += BLOCK_PX) {
    for (let x = 0; x + BLOCK_PX <= plane.width; x += BLOCK_PX) {
      const power = meanOver(fine, x, y, BLOCK_PX);
      // Where nothing moves at all nothing can be judged.
      if (power > 0) ratios.push((4 * meanOver(coarse, x / 2, y / 2, BLOCK_PX / 2)) / power);
    }
  }
  return ratios.sort((a, b) => a - b);
}

function meanOver({ width, data }: Plane, left: number, top: number, side: number): number {
  let sum = 0;
  for (let y = top; y < top + side; y++) {
    for (let i = y * width + left, end = i + side; i < end; i++) sum += data[i];
  }
  return sum / (side * side);
}
