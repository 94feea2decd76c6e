import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { localNoise } from '../read/localNoise';
import { MID_TONE, type NoiseLine } from '../read/noise';
import type { BlurOver } from './blurOver';

/** The photograph a result is held against. Linear light. */
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
export function noiseVariances({ original, components, noise, noiseFloor, bits }: Photograph): Plane[] {
  const rounding = roundingVariances(bits);
  const channels = original.map(({ data }, c) => {
    const { a, b } = noise[Math.min(c, noise.length - 1)];
    const variances = new Float32Array(data.length);
    for (let i = 0; i < data.length; i++) {
      const tone = Math.max(0, data[i]);
      variances[i] = a * tone + b + rounding[Math.min(TONES, (tone * TONES + 0.5) | 0)];
    }
    return variances;
  });
  const shares = original.length === 1 ? [[1]] : OPPONENT_SHARES;
  return shares.map((row, component) => {
    const atMidTone = row.reduce((sum, share, c) => {
      const { a, b } = noise[Math.min(c, noise.length - 1)];
      return sum + share * (a * MID_TONE + b);
    }, 1e-9);
    const rise = Math.max(1, (noiseFloor[component] ?? 0) / atMidTone);
    // A line fitted over the frame misses places; at the finest scale a blurred photograph holds nothing but noise.
    const local = localNoise(components[component]);
    const { data } = local;
    const [p, q, r] = [channels[0], channels[1] ?? channels[0], channels[2] ?? channels[0]];
    const [u, v, w] = [rise * row[0], rise * (row[1] ?? 0), rise * (row[2] ?? 0)];
    for (let i = 0; i < data.length; i++) {
      const lined = u * p[i] + v * q[i] + w * r[i];
      data[i] = Math.min(MOST_RISE * lined, Math.max(lined, data[i]));
    }
    return local;
  });
}

const TONES = 4096;

/** Variance that rounding to codes adds, by linear tone in steps of 1 / TONES. */
function roundingVariances(bits: 8 | 16): Float64Array {
  const step = bits === 8 ? 1 / 255 : 1 / 65535;
  return Float64Array.from({ length: TONES + 1 }, (_, i) => {
    // Slope of the sRGB curve's inverse, near enough: d linear / d encoded.
    const slope = 2.2 * Math.pow(i / TONES + 0.002, 0.55);
    return (slope * step) ** 2 / 12;
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
  const { clipped, components: y } = evidence;
  const x = toOpponent(result);
  const { width, height } = y[0];
  const [again, ...againColours] = blur.blur(x);
  const none = createPlane(width, height);
  const white = isClipped ? reached(result, blur.reach, (value) => value >= 1) : none;
  const black = isClipped ? reached(result, blur.reach, (value) => value <= 0) : none;
  const difference = createPlane(width, height);
  const [seen, taken, noise] = [again.data, y[0].data, variances[0].data];
  const [bright, dark, trusted, out] = [white.data, black.data, believed.data, difference.data];
  for (let i = 0; i < seen.length; i++) {
    const d = seen[i] - taken[i];
    const noUp = clipped[i] === 1 || dark[i] > 0;
    const noDown = bright[i] > 0;
    // One-sided noise has a mean: only what stands clear of it counts there.
    const clear = noUp || noDown ? Math.sign(d) * Math.max(0, Math.abs(d) - CLEAR_SIGMAS * Math.sqrt(noise[i])) : d;
    out[i] = (d > 0 ? noUp : noDown) ? 0 : trusted[i] * clear;
  }
  const energy = blur.energy(difference).data;
  const contrast = contrastVariance(y[0], variances[0]);
  const shaped = blur.correlate(difference).data;
  const weights = times(believed, believed.data).data;
  const [expected, tolerated] = blur.correlatedVariances([times(variances[0], weights), times(contrast, weights)]);
  const brightness = createPlane(width, height);
  const [known, allowed, quotients] = [expected.data, tolerated.data, brightness.data];
  for (let i = 0; i < shaped.length; i++) {
    const v = known[i] + CONTRAST_SHARE ** 2 * allowed[i];
    // Where the photograph says hardly anything a quotient of crumbs says nothing.
    quotients[i] = v > LEAST_SHARE * noise[i] * energy[i] ? (shaped[i] * shaped[i]) / v : 0;
  }
  const colour = createPlane(width, height);
  const sums = colour.data;
  if (y.length === 3) {
    againColours.forEach(({ data: hue }, k) => {
      const [own, spread, allowed] = [y[k + 1].data, variances[k + 1].data, contrast.data];
      for (let i = 0; i < hue.length; i++) {
        if (clipped[i] === 1 || bright[i] > 0 || trusted[i] < 0.3) continue;
        const d = hue[i] - own[i];
        sums[i] += (d * d) / (2 * (spread[i] + (CONTRAST_SHARE ** 2 / 4) * allowed[i]));
      }
    });
  }
  return { brightness: rooted(boxMean(brightness, PLACE_REACH)), colour: rooted(boxMean(colour, PLACE_REACH)) };
}

/** Variance over 9 px, less that of noise. */
export function contrastVariance(plane: Plane, noise: Plane, reach = PLACE_REACH): Plane {
  const mean = boxMean(plane, reach).data;
  const out = boxMean(times(plane, plane.data), reach);
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

function times({ width, height, data }: Plane, weights: Float32Array): Plane {
  const out = createPlane(width, height);
  const products = out.data;
  for (let i = 0; i < data.length; i++) products[i] = data[i] * weights[i];
  return out;
}

function rooted(plane: Plane): Plane {
  const { data } = plane;
  for (let i = 0; i < data.length; i++) data[i] = Math.sqrt(Math.max(0, data[i]));
  return plane;
}
