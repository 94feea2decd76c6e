import { cleanChannels } from '../clean/cleanChannels';
import { fastLength } from '../fourier/lanes';
import type { Channels } from '../picture/picture';
import { lumaOf } from '../picture/picture';
import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';
import type { NoiseLine } from '../read/noise';
import { reachOf, type Psf } from '../psf/psf';
import { edgeContrast, edgeContrastReach } from './edgeContrast';
import { isBlurMethod, psfOf, type Method } from './blurModel';
import { limitHalos, neighbourhoodRange } from './haloLimit';
import type { Kernels } from '../kernels';
import { tooSharpFor } from './tooSharp';
import { trustOf } from './trust';

/** Everything a recovery needs as numbers; nothing here is measured on the way. */
export interface RecoverySettings {
  readonly method: Method;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  /** 0..100; 50 is the measured noise, every 10 more doubles its weight. */
  readonly noiseGuard: number;
  /** Percent of the neighbourhood's range; null is off. */
  readonly haloLimitPercent: number | null;
  readonly grainKeptPercent: number;
  /** Variances that count as noise: luma, red − luma, blue − luma (grey: luma alone), linear light. */
  readonly noiseFloor: readonly number[];
  readonly noise: readonly NoiseLine[];
}

export interface RecoveryInput {
  /** Linear light; may reach past the frame (then samples there are repeats and `known` is 0). */
  readonly channels: Channels;
  readonly lumaWeights: readonly number[];
  /** 1 where the sample lies in the frame and in the mask (over 0.5), else 0. */
  readonly known: Plane;
  /** 1 where a channel reached white. */
  readonly clipped: Uint8Array;
  /** Place of the first sample in the frame. */
  readonly originX: number;
  readonly originY: number;
  /** Replaces the method's own point spread function. */
  readonly psf?: Psf;
}

export interface RecoveryEffort {
  readonly lumaIterations: number;
  readonly chromaIterations: number;
  readonly kernels: Kernels;
  readonly shouldStop?: () => boolean;
}

export const FINAL_EFFORT = { lumaIterations: 24, chromaIterations: 8 };
/** For cells while a slider moves: marked as drafts, never written. */
export const DRAFT_EFFORT = { lumaIterations: 10, chromaIterations: 4 };

/** λ over the noise variance; measured best between 12 and 25 on frames with truth. */
const LAMBDA_PER_VARIANCE = 12;
/** Variance of rounding to 8 bits near mid-tone, so that noiseless pictures stay regular. */
const ROUNDING_VARIANCE = 1e-6;
const CHROMA_CAUTION = 2;
const DATA_PENALTY = 0.1;

/** How many px around a sample its recovered value depends on in a way that matters (docs/methods.md, Tiles). */
export function reachOfRecovery(settings: RecoverySettings, psf?: Psf): number {
  if (!isBlurMethod(settings.method)) return edgeContrastReach(settings.blurSizePx);
  const reach = reachOf(psf ?? psfOf(settings.method, settings.blurSizePx, settings.directionDeg));
  return Math.max(32, 16 * Math.ceil((6 * reach) / 16));
}

/**
 * The full answer of a method (amount 100) on the given samples, in linear light, not clipped.
 * Brightness is recovered first; the two colour differences follow with a stronger prior, so that colours do not fringe.
 *
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function recover(input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort): Plane[] {
  const luma = lumaOf(input.channels, input.lumaWeights);
  const blurred = isBlurMethod(settings.method);
  const recovered = blurred ? recoverBlurred(input, settings, effort, luma) : sharpenLuma(input, settings, luma);
  return settings.grainKeptPercent > 0 ? keepGrain(recovered, input, settings) : recovered;
}

function sharpenLuma(input: RecoveryInput, settings: RecoverySettings, luma: Plane): Plane[] {
  const result = edgeContrast(luma, settings.blurSizePx, settings.haloLimitPercent);
  return input.channels.map((channel) => ({
    ...channel,
    data: channel.data.map((value, i) => value + result.data[i] - luma.data[i]),
  }));
}

/** Deconvolves; where a missed focus is contradicted by sharp edges the original stays, and its data are not believed. */
function recoverBlurred(
  input: RecoveryInput,
  settings: RecoverySettings,
  effort: RecoveryEffort,
  luma: Plane,
): Plane[] {
  const sharp =
    settings.method === 'missed-focus' && !input.psf ? tooSharpFor(settings.blurSizePx, luma, input.clipped) : null;
  if (!sharp) return deconvolveAll(input, settings, effort, luma);
  const known = { ...input.known, data: input.known.data.map((value, i) => (sharp.data[i] > 0.3 ? 0 : value)) };
  const answer = deconvolveAll({ ...input, known }, settings, effort, luma);
  return answer.map((plane, c) => ({
    ...plane,
    data: plane.data.map((value, i) => value + sharp.data[i] * (input.channels[c].data[i] - value)),
  }));
}

function deconvolveAll(input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort, luma: Plane): Plane[] {
  const { method, blurSizePx, directionDeg } = settings;
  if (!isBlurMethod(method)) throw new RangeError(`${method} has no blur model`);
  const psf = input.psf ?? psfOf(method, blurSizePx, directionDeg);
  const room = { ...paddedSize(luma), psf };
  const deconvolve = (plane: Plane, component: number, iterations: number) =>
    deconvolvePlane(plane, input, settings, room, component, iterations, effort);
  const newLuma = deconvolve(luma, 0, effort.lumaIterations);
  keepWhite(newLuma, luma, input.clipped, reachOf(psf));
  if (settings.haloLimitPercent !== null) {
    limitHalos(newLuma, luma, Math.max(1, Math.round(blurSizePx / 2)), settings.haloLimitPercent);
  }
  if (input.channels.length === 1) return [newLuma];
  const [red, blue] = [0, 2].map((channel, i) => {
    const difference = minus(input.channels[channel], luma);
    const answer = deconvolve(difference, i + 1, effort.chromaIterations);
    return plus(answer, newLuma);
  });
  return [red, greenFrom(newLuma, red, blue, input.lumaWeights), blue];
}

/** Farther inside of white than the blur reaches, the photograph says nothing but “white or more”. */
function keepWhite(recovered: Plane, luma: Plane, clipped: Uint8Array, reach: number): void {
  const { low } = neighbourhoodRange({ ...luma, data: Float32Array.from(clipped) }, Math.ceil(reach));
  for (let i = 0; i < low.data.length; i++) {
    if (low.data[i] === 1) recovered.data[i] = Math.max(recovered.data[i], luma.data[i]);
  }
}

interface Room extends Size {
  readonly psf: Psf;
}

function deconvolvePlane(
  plane: Plane,
  input: RecoveryInput,
  settings: RecoverySettings,
  room: Room,
  component: number,
  iterations: number,
  { kernels, shouldStop }: RecoveryEffort,
): Plane {
  const variance = settings.noiseFloor[component] + ROUNDING_VARIANCE;
  const guard = Math.pow(2, (settings.noiseGuard - 50) / 10);
  const isLuma = component === 0;
  const answer = kernels.deconvolve(
    {
      blurred: padded(plane, room, true),
      weight: withGap(padded(trustOf(plane, input.known, variance), room, false), plane, Math.ceil(reachOf(room.psf))),
      // White is a bound from below only for brightness; a colour difference of a clipped sample says nothing.
      clipped: isLuma ? paddedFlags(input.clipped, plane, room) : null,
    },
    room.psf,
    {
      lambda: LAMBDA_PER_VARIANCE * (isLuma ? 1 : CHROMA_CAUTION) * guard * variance,
      iterations,
      dataPenalty: DATA_PENALTY,
      shouldStop,
    },
  );
  return cutBack(answer, plane);
}

/**
 * The transform is periodic: a gap of unknown samples, as wide as the blur reaches, keeps one edge from explaining the
 * opposite one. It is made of padding, and where that is too narrow of the plane's own last samples.
 */
function paddedSize(plane: Plane): Size {
  return { width: fastLength(plane.width), height: fastLength(plane.height) };
}

function withGap(weight: Plane, plane: Plane, reach: number): Plane {
  const lastColumn = Math.min(plane.width, weight.width - reach);
  const lastRow = Math.min(plane.height, weight.height - reach);
  for (let y = 0; y < plane.height; y++) {
    weight.data.fill(0, y * weight.width + (y < lastRow ? lastColumn : 0), (y + 1) * weight.width);
  }
  return weight;
}

/** Extends to the right and below; filled with a blend between the two edges that meet there, or with 0. */
function padded(plane: Plane, { width, height }: Size, blend: boolean): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < plane.height; y++) {
    const from = y * plane.width;
    out.data.set(plane.data.subarray(from, from + plane.width), y * width);
    if (!blend) continue;
    for (let x = plane.width; x < width; x++) {
      const share = (x - plane.width + 1) / (width - plane.width + 1);
      out.data[y * width + x] = plane.data[from + plane.width - 1] * (1 - share) + plane.data[from] * share;
    }
  }
  if (!blend) return out;
  for (let y = plane.height; y < height; y++) {
    const share = (y - plane.height + 1) / (height - plane.height + 1);
    for (let x = 0; x < width; x++) {
      out.data[y * width + x] = out.data[(plane.height - 1) * width + x] * (1 - share) + out.data[x] * share;
    }
  }
  return out;
}

function paddedFlags(flags: Uint8Array, plane: Plane, { width, height }: Size): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < plane.height; y++) {
    out.set(flags.subarray(y * plane.width, (y + 1) * plane.width), y * width);
  }
  return out;
}

function cutBack(answer: Plane, { width, height }: Plane): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    out.data.set(answer.data.subarray(y * answer.width, y * answer.width + width), y * width);
  }
  return out;
}

function minus(a: Plane, b: Plane): Plane {
  return { ...a, data: a.data.map((value, i) => value - b.data[i]) };
}

function plus(a: Plane, b: Plane): Plane {
  return { ...a, data: a.data.map((value, i) => value + b.data[i]) };
}

function greenFrom(luma: Plane, red: Plane, blue: Plane, weights: readonly number[]): Plane {
  return {
    ...luma,
    data: luma.data.map((y, i) => (y - weights[0] * red.data[i] - weights[2] * blue.data[i]) / weights[1]),
  };
}

/** Adds back a share of (original − cleaned original), high-passed at σ = half the blur size. */
function keepGrain(recovered: Plane[], input: RecoveryInput, settings: RecoverySettings): Plane[] {
  const options = { noise: settings.noise, detailKeptPercent: 0 };
  const clean = cleanChannels(input.channels, options, input.originX, input.originY);
  const share = settings.grainKeptPercent / 100;
  return recovered.map((plane, c) => {
    const grain = minus(input.channels[c], clean[c]);
    const coarse = gaussianBlur(grain, Math.max(0.5, settings.blurSizePx / 2));
    return { ...plane, data: plane.data.map((value, i) => value + share * (grain.data[i] - coarse.data[i])) };
  });
}
