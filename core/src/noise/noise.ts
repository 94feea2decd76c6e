import type { Channels } from '../picture/picture';
import { lumaOf } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { stabilised } from './anscombe';
import { flatSpectrum, powerAt } from './flatSpectrum';
import { immerkaer } from './localNoise';
import { noiseKind } from './whiteness';
import { ownPower, productsOver, type Products } from './sharedTexture';

/** Noise variance a·y + b of one channel, y and the variance in linear light. */
export interface NoiseLine {
  readonly a: number;
  readonly b: number;
}

/** Linear value of a mid-tone: the 18 % grey of exposure metering. */
export const MID_TONE = 0.18;

const BLOCK_PX = 16;
const TONE_BINS = 12;
/**
 * The flattest blocks of a tone bin tell its noise: this share, but no more than so many where a smaller share is as
 * many. The fewer there are of all, the less texture is among them.
 */
const FLATTEST = 0.2;
const ENOUGH_BLOCKS = 32;
const FLATTEST_OF_MANY = 0.03;
/** How blocks of plain noise differ in variance, relative; and in the power that is a channel's own. */
const BLOCK_SPREAD = 0.193;
const OWN_SPREAD = 0.086;
/** The median of a squared normal value of variance 1: an edge that crosses a block does not count as noise. */
const MEDIAN_OF_SQUARE = 0.4549;

/**
 * Fits the Poisson–Gaussian noise model to each channel: in every tone bin the flattest of 16 px blocks give
 * a variance (their low bias is divided out), and a straight line with a, b ≥ 0 is fitted through the bins, heavier
 * where more blocks are. What three channels have in common is texture and left out; of a grey picture what falls with
 * frequency as texture does. Noise that is not white reads low: `readNoise` finds it.
 *
 * @param use - Where samples count (not 0); same size as the channels.
 * @param forced - Texture is told from noise even where the noise of the channels is not quite their own.
 * Source of the model: Foi, Trimeche, Katkovnik, Egiazarian, "Practical Poissonian-Gaussian noise modeling and
 * fitting for single-image raw-data", IEEE TIP 17 (2008).
 */
export function fitNoise(channels: Channels, use: Plane, forced = false): NoiseLine[] {
  const responses = channels.map(immerkaer);
  const kind = noiseKind(channels);
  const shares = channels.length === 3 && (forced || kind === 'independent');
  return channels.map((channel, c) => {
    const own = shares
      ? (blocks: readonly Block[]) => ownPower(productsOfBlocks(responses, blocks), c) / (blocks.length * BLOCK_PX ** 2)
      : null;
    const line = fitChannel(channel, responses[c], use, own);
    return kind === 'shared' ? withoutTexture(channel, line, use) : line;
  });
}

/** The same with all that is in the flattest blocks, whatever channels share. */
export function fitAllNoise(channels: Channels, use: Plane): NoiseLine[] {
  return channels.map((channel) => fitChannel(channel, immerkaer(channel), use, null));
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

/** Texture falls about as f^−2.1: from the middle of a block's frequencies to their corner to a quarter. */
const TEXTURE_FALL = 4;
const MIDDLE = [4, 5];
const CORNER = [8, 9, 10];
const LEAST_NOISE = 0.02;
/** By how much the middle must stand out: by less it does so by chance. */
const PLAINLY = 1.15;

/**
 * A grey picture has no second channel to tell texture by. But noise has as much power at the corner of a block's
 * frequencies as in their middle, and texture a quarter of it: where the middle stands out, only what texture cannot
 * explain at the corner is noise. Where all is sharp texture that reads low rather than high.
 */
function withoutTexture(channel: Plane, line: NoiseLine, use: Plane): NoiseLine {
  const power = flatSpectrum(stabilised(channel, { a: line.a, b: Math.max(line.b, 1e-9) }), use);
  const [middle, corner] = [MIDDLE, CORNER].map((places) => powerAt(power, places));
  if (middle <= PLAINLY * corner || corner === 0) return line;
  const noise = Math.max(LEAST_NOISE, (TEXTURE_FALL * corner - middle) / (TEXTURE_FALL - 1) / corner);
  return { a: noise * line.a, b: noise * line.b };
}

interface Block {
  /** Part of its noise was cut off at black. */
  readonly isCut: boolean;
  readonly left: number;
  readonly top: number;
  readonly tone: number;
  readonly variance: number;
}

function fitChannel(
  channel: Plane,
  response: Plane,
  use: Plane,
  own: ((blocks: readonly Block[]) => number) | null,
): NoiseLine {
  const found = usableBlocks(channel, response, use);
  const whole = found.filter(({ isCut }) => !isCut);
  // What is cut off tells of noise only through its share, which texture changes too: it speaks where nothing else
  // does.
  const blocks = whole.length >= ENOUGH * found.length ? whole : found;
  if (blocks.length === 0) return { a: 0, b: 0 };
  const points = toneBins(blocks).map((bin) => {
    bin.sort((p, q) => p.variance - q.variance);
    const wanted = Math.max(FLATTEST_OF_MANY * bin.length, Math.min(FLATTEST * bin.length, ENOUGH_BLOCKS));
    const flattest = bin.slice(0, Math.max(1, Math.round(wanted)));
    // Of few blocks the flattest is hardly flatter than the others.
    const below = bin.length >= 5 ? lowestMean(flattest.length / bin.length) : 0;
    const mean = (pick: (block: Block) => number) =>
      flattest.reduce((s, block) => s + pick(block), 0) / flattest.length;
    return {
      tone: mean((block) => block.tone),
      variance: Math.min(
        mean((block) => block.variance) / (1 - BLOCK_SPREAD * below),
        own ? own(flattest) / (1 - OWN_SPREAD * below) : Infinity,
      ),
      weight: bin.length,
    };
  });
  return fitLine(points);
}

/**
 * Blocks with a larger share of samples at black than this say nothing; with a smaller one than the second nothing is
 * cut off.
 */
const MOST_BLACK = 0.7;
const ENOUGH = 0.1;
const LEAST_BLACK = 0.01;

function usableBlocks(channel: Plane, response: Plane, use: Plane): Block[] {
  const blocks: Block[] = [];
  const samples = BLOCK_PX * BLOCK_PX;
  const energies = new Float32Array(samples);
  for (let top = 0; top + BLOCK_PX <= channel.height; top += BLOCK_PX) {
    for (let left = 0; left + BLOCK_PX <= channel.width; left += BLOCK_PX) {
      let tone = 0;
      let black = 0;
      let count = 0;
      let usable = true;
      for (let y = top; usable && y < top + BLOCK_PX; y++) {
        for (let x = left; x < left + BLOCK_PX; x++) {
          const i = y * channel.width + x;
          if (use.data[i] === 0 || channel.data[i] > 0.97) {
            usable = false;
            break;
          }
          if (channel.data[i] <= 0) black++;
          tone += channel.data[i];
          energies[count++] = response.data[i] ** 2;
        }
      }
      if (!usable || black > MOST_BLACK * samples) continue;
      blocks.push(
        black > LEAST_BLACK * samples
          ? { ...cutAtBlack(tone / samples, black / samples), left, top }
          : {
              isCut: false,
              tone: tone / samples,
              variance: energies.sort()[samples / 2] / MEDIAN_OF_SQUARE,
              left,
              top,
            },
      );
    }
  }
  return blocks;
}

/**
 * Of normal noise cut off at black the mean m and the share q that was cut off tell both its middle t·σ and its σ:
 * q = Φ(−t) and m = σ·(t·Φ(t) + φ(t)).
 * Source: the mean of a censored normal variable, any textbook of statistics.
 */
function cutAtBlack(mean: number, share: number): Omit<Block, 'left' | 'top'> {
  const t = -normalQuantile(share);
  const density = Math.exp((-t * t) / 2) / Math.sqrt(2 * Math.PI);
  const sigma = mean / (t * (1 - share) + density);
  return { isCut: true, tone: Math.max(0, t * sigma), variance: sigma * sigma };
}

/** How far below the middle the mean of the lowest `share` of normal values lies, in standard deviations. */
function lowestMean(share: number): number {
  const z = normalQuantile(share);
  return Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI) / share;
}

/** Where the normal law reaches `share`; rational approximation 26.2.23 of Abramowitz & Stegun (1964), good to 5e-4. */
function normalQuantile(share: number): number {
  const tail = Math.min(share, 1 - share);
  const t = Math.sqrt(-2 * Math.log(tail));
  const x =
    t - (2.515517 + 0.802853 * t + 0.010328 * t * t) / (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t ** 3);
  return share < 0.5 ? -x : x;
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

function productsOfBlocks(responses: readonly Plane[], blocks: readonly Block[]): Products {
  const sums = new Float64Array(6);
  for (const { left, top } of blocks) {
    productsOver(responses, left, top, BLOCK_PX).forEach((value, i) => (sums[i] += value));
  }
  return sums;
}
