import type { Channels } from '../picture/picture';
import { lumaOf } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { squaredImmerkaer } from './localNoise';

/** Noise variance a·y + b of one channel, y and the variance in linear light. */
export interface NoiseLine {
  readonly a: number;
  readonly b: number;
}

/** Linear value of a mid-tone: the 18 % grey of exposure metering. */
export const MID_TONE = 0.18;

const BLOCK_PX = 16;
const TONE_BINS = 12;
/** The flattest share of blocks in a tone bin, and how much lower than the true variance their mean comes out. */
const FLATTEST = 0.2;
const FLATTEST_BIAS = 0.73;
/** The median of a squared normal value of variance 1: an edge that crosses a block does not count as noise. */
const MEDIAN_OF_SQUARE = 0.4549;

/**
 * Fits the Poisson–Gaussian noise model to each channel: in every tone bin the flattest fifth of 16 px blocks gives
 * a variance (their low bias is divided out), and a straight line with a, b ≥ 0 is fitted through the bins, heavier
 * where more blocks are. Sharp texture everywhere reads as noise; so does noise before JPEG read low.
 *
 * @param use - Where samples count (not 0); same size as the channels.
 * Source of the model: Foi, Trimeche, Katkovnik, Egiazarian, "Practical Poissonian-Gaussian noise modeling and
 * fitting for single-image raw-data", IEEE TIP 17 (2008).
 */
export function fitNoise(channels: Channels, use: Plane): NoiseLine[] {
  return channels.map((channel) => fitChannel(channel, use));
}

/** Noise at the mid-tone of luma, in percent of clipping. */
export function noiseAtMidTonePercent(lines: readonly NoiseLine[], lumaWeights: readonly number[]): number {
  const variance = lines.reduce((sum, { a, b }, i) => sum + lumaWeights[i] ** 2 * (a * MID_TONE + b), 0);
  return 100 * Math.sqrt(variance);
}

/** Noise variance of luma at tone y, from the lines of its channels. */
export function lumaNoiseLine(lines: readonly NoiseLine[], lumaWeights: readonly number[]): NoiseLine {
  return {
    a: lines.reduce((sum, line, i) => sum + lumaWeights[i] ** 2 * line.a, 0),
    b: lines.reduce((sum, line, i) => sum + lumaWeights[i] ** 2 * line.b, 0),
  };
}

interface Block {
  readonly tone: number;
  readonly variance: number;
}

function fitChannel(channel: Plane, use: Plane): NoiseLine {
  const blocks = usableBlocks(channel, use);
  if (blocks.length === 0) return { a: 0, b: 0 };
  const points = toneBins(blocks).map((bin) => {
    bin.sort((p, q) => p.variance - q.variance);
    const flattest = bin.slice(0, Math.max(1, Math.round(bin.length * FLATTEST)));
    const mean = (pick: (block: Block) => number) =>
      flattest.reduce((s, block) => s + pick(block), 0) / flattest.length;
    return {
      tone: mean((block) => block.tone),
      variance: mean((block) => block.variance) / (bin.length >= 5 ? FLATTEST_BIAS : 1),
      weight: bin.length,
    };
  });
  return fitLine(points);
}

function usableBlocks(channel: Plane, use: Plane): Block[] {
  const squared = squaredImmerkaer(channel);
  const blocks: Block[] = [];
  const energies = new Float32Array(BLOCK_PX * BLOCK_PX);
  for (let top = 0; top + BLOCK_PX <= channel.height; top += BLOCK_PX) {
    for (let left = 0; left + BLOCK_PX <= channel.width; left += BLOCK_PX) {
      let tone = 0;
      let count = 0;
      let usable = true;
      for (let y = top; usable && y < top + BLOCK_PX; y++) {
        for (let x = left; x < left + BLOCK_PX; x++) {
          const i = y * channel.width + x;
          if (use.data[i] === 0 || channel.data[i] > 0.97 || channel.data[i] <= 0) {
            usable = false;
            break;
          }
          tone += channel.data[i];
          energies[count++] = squared.data[i];
        }
      }
      const samples = BLOCK_PX * BLOCK_PX;
      if (usable) blocks.push({ tone: tone / samples, variance: energies.sort()[samples / 2] / MEDIAN_OF_SQUARE });
    }
  }
  return blocks;
}

/** Bins of equal width in the square root of tone, so that shadows get as many as lights; empty ones are left out. */
function toneBins(blocks: readonly Block[]): Block[][] {
  const bins: Block[][] = Array.from({ length: TONE_BINS }, () => []);
  for (const block of blocks) bins[Math.min(TONE_BINS - 1, Math.floor(Math.sqrt(block.tone) * TONE_BINS))].push(block);
  return bins.filter((bin) => bin.length > 0);
}

interface TonePoint {
  readonly tone: number;
  readonly variance: number;
  readonly weight: number;
}

/** Weighted least squares in relative error, re-weighted so that textured bins (far above the line) lose their say. */
function fitLine(points: readonly TonePoint[]): NoiseLine {
  let line: NoiseLine = { a: 0, b: Math.min(...points.map((point) => point.variance)) };
  for (let round = 0; round < 12; round++) {
    let s = 0;
    let sx = 0;
    let sxx = 0;
    let sy = 0;
    let sxy = 0;
    for (const { tone, variance, weight } of points) {
      const expected = Math.max(line.a * tone + line.b, 1e-12);
      const excess = Math.max(0, variance / expected - 1);
      const trust = weight / (expected * expected) / (1 + (4 * excess) ** 2);
      s += trust;
      sx += trust * tone;
      sxx += trust * tone * tone;
      sy += trust * variance;
      sxy += trust * tone * variance;
    }
    const determinant = s * sxx - sx * sx;
    let a = determinant > 1e-9 * s * sxx ? (s * sxy - sx * sy) / determinant : 0;
    let b = (sy - a * sx) / s;
    if (a < 0) [a, b] = [0, sy / s];
    if (b < 0) [a, b] = [sxy / sxx, 0];
    line = { a, b };
  }
  return line;
}

/** Mean noise variance of luma where `use` is not 0, as the noise lines predict it. */
export function expectedLumaVariance(
  channels: Channels,
  use: Plane,
  lines: readonly NoiseLine[],
  lumaWeights: readonly number[],
): number {
  const luma = lumaOf(channels, lumaWeights);
  const { a, b } = lumaNoiseLine(lines, lumaWeights);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < luma.data.length; i++) {
    if (use.data[i] === 0) continue;
    sum += a * Math.max(0, luma.data[i]) + b;
    count++;
  }
  return count > 0 ? sum / count : b;
}
