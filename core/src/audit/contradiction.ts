import { product, squaredRatio, varianceByTone } from '../picture/arithmetic';
import { contentKey } from '../contentKey';
import { keptWith } from '../picture/kept';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { localNoise } from '../noise/localNoise';
import { MID_TONE, type NoiseLine } from '../noise/noise';
import type { BlurOver } from './blurOver';

/** The photograph a result is held against. Linear light; its planes are never changed after. */
export interface Photograph {
  readonly original: Channels;
  /** `toOpponent(original)`. */
  readonly components: readonly Plane[];
  readonly noise: readonly NoiseLine[];
  /** Variances that count as noise, brightness and opponent colours: JPEG hides what the noise lines cannot see. */
  readonly noiseFloor: readonly number[];
  /** 1 where a channel reached white. */
  readonly clipped: Uint8Array;
  /** 8 or 16 bits a sample: rounding is part of the noise. */
  readonly bits: 8 | 16;
}

export interface Contradiction {
  /** √ of the mean of e²/v over 9 px: 1 where only noise differs. */
  readonly brightness: Plane;
  readonly colour: Plane;
}

/** Half side of the squares over which evidence is gathered. */
export const PLACE_REACH = 4;
/** Share of the local contrast that an honest recovery may be wrong by: the blur is never known exactly. */
const CONTRAST_SHARE = 0.05;
const CLEAR_SIGMAS = 1.5;
/** Of the evidence that a place has where everything around it is believed. */
const LEAST_SHARE = 0.05;
/** How far local noise may stand above what the noise lines say. */
const MOST_RISE = 6;
/** Variance of an opponent colour per variance of each channel. */
const OPPONENT_SHARES = [
  [1 / 3, 1 / 3, 1 / 3],
  [1 / 2, 0, 1 / 2],
  [1 / 6, 4 / 6, 1 / 6],
];

/** Noise variance of brightness and of the opponent colours at every sample, rounding to codes included. */
export function noiseVariances(photograph: Photograph): readonly Plane[] {
  const { components, noise, noiseFloor, bits } = photograph;
  return keptWith(components[0], contentKey(['variances', noise, noiseFloor, bits]), () => variancesOf(photograph));
}

function variancesOf({ original, components, noise, noiseFloor, bits }: Photograph): Plane[] {
  const step = bits === 8 ? 1 / 255 : 1 / 65535;
  const rounding = (step * step) / 12;
  const lineOf = (c: number) => noise[Math.min(c, noise.length - 1)];
  const shares = original.length === 1 ? [[1]] : OPPONENT_SHARES;
  return shares.map((row, component) => {
    const atMidTone = row.reduce((sum, share, c) => sum + share * (lineOf(c).a * MID_TONE + lineOf(c).b), 1e-9);
    const rise = Math.max(1, (noiseFloor[component] ?? 0) / atMidTone);
    const variance = {
      base: rise * row.reduce((sum, share, c) => sum + share * (lineOf(c).b + rounding * SQUARED_SLOPE.base), 0),
      linear: row.map((share, c) => rise * share * (lineOf(c).a + rounding * SQUARED_SLOPE.linear)),
      rooted: row.map((share) => rise * share * rounding * SQUARED_SLOPE.rooted),
    };
    // A line fitted over the frame misses places; at the finest scale a blurred photograph holds nothing but noise.
    return varianceByTone(original, variance, localNoise(components[component]), MOST_RISE);
  });
}

/**
 * (d linear / d encoded)² of the sRGB curve by linear tone t: base + linear · t + rooted · t√t. Its root is within a
 * tenth, under t = 0.02 up to half more.
 */
const SQUARED_SLOPE = { base: 0.006, linear: 2.27, rooted: 2.9 };

/**
 * Photographs the result again and compares with the photograph: d = k ⊗ x − y. Brightness: d correlated with the blur,
 * over a variance of noise and a twentieth of the local contrast. Colours: d itself, both opponent colours. Where the
 * original is white only a result too dark contradicts it; where the result is white or black only what lies beyond.
 *
 * @param result - Full strength, linear light, same size.
 * @param believed - 0..1: how far each sample of the photograph is evidence (outside the mask it is not).
 * @param isClipped - The result was clipped to 0..1, as in a file; ours are audited before that.
 */
export function contradiction(
  evidence: Photograph,
  result: Channels,
  blur: BlurOver,
  variances: readonly Plane[],
  believed: Plane,
  isClipped = false,
): Contradiction {
  const { clipped, components: y } = evidence;
  const x = toOpponent(result);
  const { width, height } = y[0];
  const [again, ...againColours] = blur.blur(x);
  const none = createPlane(width, height);
  const white = isClipped ? reached(result, blur.reach, (value) => value >= 1) : none;
  const black = isClipped ? reached(result, blur.reach, (value) => value <= 0) : none;
  const difference = differenceOf(again, evidence, variances[0], believed, white, black);
  const energy = blur.energy(difference);
  const contrast = contrastVariance(y[0], variances[0]);
  const shaped = blur.correlate(difference);
  const weights = product(believed, believed);
  const [expected, tolerated] = blur.correlatedVariances([product(variances[0], weights), product(contrast, weights)]);
  const brightness = squaredRatio(shaped, null, expected, tolerated, CONTRAST_SHARE ** 2);
  dropCrumbs(brightness, expected, tolerated, variances[0], energy);
  const hues = againColours.map((hue, k) =>
    squaredRatio(hue, y[k + 1], variances[k + 1], contrast, CONTRAST_SHARE ** 2 / 4),
  );
  const colour = hues.length === 2 ? meanWhereSaid(hues, clipped, white, believed) : none;
  return { brightness: rooted(boxMean(brightness, PLACE_REACH)), colour: rooted(boxMean(colour, PLACE_REACH)) };
}

/** d = k ⊗ x − y of brightness as far as it is believed, one-sided where a bound was reached. */
function differenceOf(
  again: Plane,
  { clipped, components }: Photograph,
  variance: Plane,
  believed: Plane,
  white: Plane,
  black: Plane,
): Plane {
  const [seen, taken, noise] = [again.data, components[0].data, variance.data];
  const [bright, dark, trusted] = [white.data, black.data, believed.data];
  const data = new Float32Array(seen.length);
  for (let i = 0; i < data.length; i++) {
    const d = seen[i] - taken[i];
    const noUp = clipped[i] === 1 || dark[i] > 0;
    const noDown = bright[i] > 0;
    // One-sided noise has a mean: only what stands clear of it counts there.
    const clear = noUp || noDown ? Math.sign(d) * Math.max(0, Math.abs(d) - CLEAR_SIGMAS * Math.sqrt(noise[i])) : d;
    data[i] = (d > 0 ? noUp : noDown) ? 0 : trusted[i] * clear;
  }
  return { ...again, data };
}

/** Where the photograph says hardly anything a quotient of crumbs says nothing: it becomes 0, in place. */
function dropCrumbs(quotient: Plane, expected: Plane, tolerated: Plane, variance: Plane, energy: Plane): void {
  const [known, allowed, noise, whole] = [expected.data, tolerated.data, variance.data, energy.data];
  const { data } = quotient;
  for (let i = 0; i < data.length; i++) {
    const v = known[i] + CONTRAST_SHARE ** 2 * allowed[i];
    if (v <= LEAST_SHARE * noise[i] * whole[i]) data[i] = 0;
  }
}

/** Mean of both opponent colours' figures where the photograph is believed and not white; 0 elsewhere. */
function meanWhereSaid(hues: readonly Plane[], clipped: Uint8Array, white: Plane, believed: Plane): Plane {
  const [first, second, bright, trusted] = [hues[0].data, hues[1].data, white.data, believed.data];
  const data = new Float32Array(first.length);
  for (let i = 0; i < data.length; i++) {
    if (clipped[i] === 0 && bright[i] === 0 && trusted[i] >= 0.3) data[i] = (first[i] + second[i]) / 2;
  }
  return { ...believed, data };
}

/** Variance over 9 px, less that of the plane's own noise. Neither plane may change after. */
export function contrastVariance(plane: Plane, noise: Plane, reach = PLACE_REACH): Plane {
  return keptWith(noise, `contrast over ${reach}`, () => varianceBeyond(plane, noise, reach));
}

function varianceBeyond(plane: Plane, noise: Plane, reach: number): Plane {
  const mean = boxMean(plane, reach).data;
  const out = boxMean(product(plane, plane), reach);
  const squares = out.data;
  const expected = noise.data;
  for (let i = 0; i < squares.length; i++) squares[i] = Math.max(0, squares[i] - mean[i] * mean[i] - expected[i]);
  return out;
}

/** Over 0 where any channel of a sample within `reach` meets `test`. */
function reached(channels: Channels, reach: number, test: (value: number) => boolean): Plane {
  const { width, height } = channels[0];
  const flags = createPlane(width, height);
  let any = false;
  for (const { data } of channels) {
    for (let i = 0; i < data.length; i++) {
      if (!test(data[i])) continue;
      flags.data[i] = 1;
      any = true;
    }
  }
  // Running sums leave crumbs of 1e-7 where nothing is.
  return any ? { ...flags, data: boxMean(flags, reach).data.map((value) => (value > 1e-5 ? 1 : 0)) } : flags;
}

function rooted(plane: Plane): Plane {
  const { data } = plane;
  for (let i = 0; i < data.length; i++) data[i] = Math.sqrt(Math.max(0, data[i]));
  return plane;
}
