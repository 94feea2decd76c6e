import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean, localNoise } from '../read/localNoise';
import { MID_TONE, type NoiseLine } from '../read/noise';
import type { BlurOver } from './blurOver';

/** The photograph a result is held against. Linear light. */
export interface Photograph {
  readonly original: Channels;
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
export function noiseVariances({ original, noise, noiseFloor, bits }: Photograph): Plane[] {
  const step = bits === 8 ? 1 / 255 : 1 / 65535;
  const channels = original.map((plane, c) => {
    const { a, b } = noise[Math.min(c, noise.length - 1)];
    return plane.data.map((value) => {
      const tone = Math.max(0, value);
      // Slope of the sRGB curve's inverse, near enough: d linear / d encoded.
      const slope = 2.2 * Math.pow(tone + 0.002, 0.55);
      return a * tone + b + (slope * step) ** 2 / 12;
    });
  });
  const components = toOpponent(original);
  const shares = original.length === 1 ? [[1]] : OPPONENT_SHARES;
  return shares.map((row, component) => {
    const atMidTone = row.reduce((sum, share, c) => {
      const { a, b } = noise[Math.min(c, noise.length - 1)];
      return sum + share * (a * MID_TONE + b);
    }, 1e-9);
    const rise = Math.max(1, (noiseFloor[component] ?? 0) / atMidTone);
    // A line fitted over the frame misses places; at the finest scale a blurred photograph holds nothing but noise.
    const local = localNoise(components[component]);
    for (let i = 0; i < local.data.length; i++) {
      let sum = 0;
      for (let c = 0; c < row.length; c++) sum += row[c] * channels[c][i];
      const lined = rise * sum;
      local.data[i] = Math.min(MOST_RISE * lined, Math.max(lined, local.data[i]));
    }
    return local;
  });
}

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
  const { clipped } = evidence;
  const y = toOpponent(evidence.original);
  const x = toOpponent(result);
  const { width, height } = y[0];
  const [again, againRed] = blur.blur(x[0], x[1] ?? null);
  const white = reached(result, blur.reach, (value) => isClipped && value >= 1);
  const black = reached(result, blur.reach, (value) => isClipped && value <= 0);
  const difference = createPlane(width, height);
  for (let i = 0; i < difference.data.length; i++) {
    const d = again.data[i] - y[0].data[i];
    const noUp = clipped[i] === 1 || black.data[i] > 0;
    const noDown = white.data[i] > 0;
    // One-sided noise has a mean: only what stands clear of it counts there.
    const clear =
      noUp || noDown ? Math.sign(d) * Math.max(0, Math.abs(d) - CLEAR_SIGMAS * Math.sqrt(variances[0].data[i])) : d;
    difference.data[i] = (d > 0 ? noUp : noDown) ? 0 : believed.data[i] * clear;
  }
  const energy = blur.energy();
  const contrast = contrastVariance(y[0], variances[0]);
  const shaped = blur.correlate(difference);
  const weights = believed.data.map((value) => value * value);
  const [expected, tolerated] = blur.correlatedVariances(times(variances[0], weights), times(contrast, weights));
  const brightness = createPlane(width, height);
  for (let i = 0; i < brightness.data.length; i++) {
    const v = expected.data[i] + CONTRAST_SHARE ** 2 * tolerated.data[i];
    // Where the photograph says hardly anything a quotient of crumbs says nothing.
    brightness.data[i] = v > LEAST_SHARE * variances[0].data[i] * energy.data[i] ? shaped.data[i] ** 2 / v : 0;
  }
  const colour = createPlane(width, height);
  if (y.length === 3) {
    const againGreen = blur.blur(x[2])[0];
    for (const [c, seen] of [
      [1, againRed],
      [2, againGreen],
    ] as const) {
      for (let i = 0; i < colour.data.length; i++) {
        if (clipped[i] === 1 || white.data[i] > 0 || believed.data[i] < 0.3) continue;
        const v = variances[c].data[i] + (CONTRAST_SHARE ** 2 / 4) * contrast.data[i];
        colour.data[i] += (seen.data[i] - y[c].data[i]) ** 2 / (2 * v);
      }
    }
  }
  return { brightness: rooted(boxMean(brightness, PLACE_REACH)), colour: rooted(boxMean(colour, PLACE_REACH)) };
}

/** Variance over 9 px, less that of noise. */
export function contrastVariance(plane: Plane, noise: Plane, reach = PLACE_REACH): Plane {
  const mean = boxMean(plane, reach);
  const squares = boxMean({ ...plane, data: plane.data.map((value) => value * value) }, reach);
  return {
    ...squares,
    data: squares.data.map((square, i) => Math.max(0, square - mean.data[i] ** 2 - noise.data[i])),
  };
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

function times(plane: Plane, weights: Float32Array): Plane {
  return { ...plane, data: plane.data.map((value, i) => value * weights[i]) };
}

function rooted(plane: Plane): Plane {
  return { ...plane, data: plane.data.map((value) => Math.sqrt(Math.max(0, value))) };
}
