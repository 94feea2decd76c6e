import { minus } from '../picture/arithmetic';
import { halved } from '../picture/halved';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { squaredImmerkaer } from './localNoise';
import { isFilledIn } from './mosaicTrace';

const BLOCK_PX = 32;
/**
 * Noise at twice the scale over white noise: of a sensor up to 1.2, of a mosaic filled in from 19 on, of JPEG mostly
 * from 2.4 on. Where noise is weak the colours of the picture itself stand at up to 2.3.
 */
const WHITE_RATIO = 1.25;
const QUIET_WHITE_RATIO = 2.35;
/** Noise of green below which it is weak, variance over light: 0.6 % of clipping at 18 % grey. */
const QUIET = 0.006 ** 2 / 0.18;
const FLATTEST = 0.03;
const LEAST_FLATTEST = 4;
const LEAST_BLOCKS = 10;
const DARKEST = 0.01;

/** What the noise of a picture is like: white and each channel's own, white and the same in all, or not white. */
export type NoiseKind = 'independent' | 'shared' | 'coloured';

/** Channels that differ by less than this share of their own power are one picture three times. */
const SAME = 0.001;

/**
 * A sensor with three values a place makes noise that is white and each channel's own. Filling in a colour mosaic, JPEG
 * and cleaning take away its finest part: then noise at twice the scale is stronger than the finest says. Judged on the
 * difference of red and blue, in which the picture itself hardly shows, and on the trace that a mosaic leaves. A grey
 * picture has neither: its texture would pass for coloured noise, so its noise is taken for white.
 */
export function noiseKind(channels: Channels): NoiseKind {
  if (channels.length !== 3) return 'shared';
  const apart = minus(channels[0], channels[2]);
  if (finePower(apart) <= SAME * finePower(channels[0])) return 'shared';
  if (isFilledIn(channels)) return 'coloured';
  const blocks = blocksOf(apart, channels);
  if (blocks.length < LEAST_BLOCKS) return 'independent';
  const flattest = sumOf(blocks.slice(0, Math.max(LEAST_FLATTEST, Math.round(FLATTEST * blocks.length))));
  const ratios = blocks.map(ratioOf).sort((a, b) => a - b);
  const ratio = Math.min(ratios[Math.floor(ratios.length / 10)], ratioOf(flattest));
  return ratio < (flattest.green / flattest.tone < QUIET ? QUIET_WHITE_RATIO : WHITE_RATIO)
    ? 'independent'
    : 'coloured';
}

function finePower(plane: Plane): number {
  return squaredImmerkaer(plane).data.reduce((sum, value) => sum + value, 0);
}

/**
 * Mean noise power of a block at two scales, both as white noise would have it; that of green; and how bright it is.
 */
interface Powers {
  readonly fine: number;
  readonly coarse: number;
  readonly green: number;
  readonly tone: number;
}

const ratioOf = ({ fine, coarse }: Powers) => coarse / fine;
const flatness = ({ fine, coarse, tone }: Powers) => (fine + coarse) / tone;

function sumOf(blocks: readonly Powers[]): Powers {
  const sum = (pick: (block: Powers) => number) => blocks.reduce((all, block) => all + pick(block), 0);
  return {
    fine: sum((b) => b.fine),
    coarse: sum((b) => b.coarse),
    green: sum((b) => b.green),
    tone: sum((b) => b.tone),
  };
}

/** Blocks of a difference of channels, the flattest first. */
function blocksOf(apart: Plane, channels: Channels): Powers[] {
  const fine = squaredImmerkaer(apart);
  const coarse = squaredImmerkaer(halved(apart));
  const green = squaredImmerkaer(channels[1]);
  const blocks: Powers[] = [];
  for (let y = 0; y + BLOCK_PX <= apart.height; y += BLOCK_PX) {
    for (let x = 0; x + BLOCK_PX <= apart.width; x += BLOCK_PX) {
      const block = {
        fine: meanOver(fine, x, y, BLOCK_PX),
        coarse: 4 * meanOver(coarse, x / 2, y / 2, BLOCK_PX / 2),
        green: meanOver(green, x, y, BLOCK_PX),
        tone: Math.max(DARKEST, meanOver(channels[1], x, y, BLOCK_PX)),
      };
      // Where nothing moves at all nothing can be judged.
      if (block.fine > 0) blocks.push(block);
    }
  }
  return blocks.sort((a, b) => flatness(a) - flatness(b));
}

function meanOver({ width, data }: Plane, left: number, top: number, side: number): number {
  let sum = 0;
  for (let y = top; y < top + side; y++) {
    for (let i = y * width + left, end = i + side; i < end; i++) sum += data[i];
  }
  return sum / (side * side);
}
