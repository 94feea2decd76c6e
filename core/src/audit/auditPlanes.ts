import { brightnessOf } from '../picture/opponentColours';
import { lumaOf, type Channels } from '../picture/picture';
import { cropPlane } from '../picture/crop';
import { contentKey } from '../contentKey';
import { keptWith, keptWithBoth } from '../picture/kept';
import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { srgbEncode } from '../picture/toneCurve';
import type { Kernels } from '../kernels';
import { backgroundLeak } from './backgroundLeak';
import { BlurOver, type BlurPart } from './blurOver';
import { colourDrift } from './colourDrift';
import { contradiction, noiseVariances, type Photograph } from './contradiction';
import { edgeChanges, type EdgeChange } from '../picture/edges';
import { flatSquares, type FlatSquare } from './grainRise';
import { levelOf, LIMITS } from './limits';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import { reachOf } from '../psf/psf';
import { unsupported } from './unsupported';

export interface AuditInput extends Photograph {
  /** What is published, amount and mask in it. */
  readonly shown: Channels;
  /** The full-strength answer, limits and grain undone; null where no blur model can vouch for it. */
  readonly full: Channels | null;
  /** Our own most cautious recovery, brightness (sum of the channels / √3); null with `full`. */
  readonly cautious: (() => Plane) | null;
  /**
   * What was solved, where it was: unproven detail is the same whatever the amount, and is looked for once. Null: what
   * is judged comes from elsewhere.
   */
  readonly solved: object | null;
  readonly blur: readonly BlurPart[];
  readonly blurPx: number;
  /** Power of the sharp picture at frequency 1. */
  readonly signal: number;
  /** 0..1: how far the result counts at a sample; 0 is the original untouched. */
  readonly alpha: Plane;
  /** 0..1: how far each sample of the photograph is evidence. */
  readonly believed: Plane;
  /** 1 under the mask, from one half on. */
  readonly masked: Plane;
  /**
   * 1 where a sample lies in the frame, farther from its edge than the blur reaches: light from beyond mixes in there.
   */
  readonly inFrame: Plane;
  readonly lumaWeights: readonly number[];
  readonly toLinearSrgb: readonly number[] | null;
  /** The result comes from a file: clipped to 0..1. */
  readonly isClipped: boolean;
}

/** Maps stand at half the scale, colour drift at a quarter. */
export const MAP_STRIDE = 2;
export const DRIFT_STRIDE = 4;
/**
 * A level (1: check, 2: damaged) as a byte: even steps up to 2, then 20 an octave, so that the worst still stands out.
 */
export function byteOfLevel(level: number): number {
  return Math.min(254, Math.round(level <= 2 ? 60 * level : 120 + 20 * Math.log2(level / 2)));
}

export function levelOfByte(byte: number): number {
  return byte <= 120 ? byte / 60 : 2 * 2 ** ((byte - 120) / 20);
}

export const DRIFT_STEPS = 20;
export const RIM_STEPS = 4;
export const LEAK_STEPS = 8;
/** In `kind`: nothing can be said here. */
export const NOT_CHECKABLE = 255;
export const UNPROVEN_KINDS = ['brightness', 'hue', 'unsupported'] as const;

/** What the audit found over a region; places are px of the frame. Bytes, so that it travels and is kept cheaply. */
export interface RegionAudit {
  readonly region: Region;
  /** Per square of 2 px: level of unproven detail, the worst of three; which of them led, or NOT_CHECKABLE. */
  readonly unproven: Uint8Array<ArrayBuffer>;
  readonly kind: Uint8Array<ArrayBuffer>;
  /** Per square of 2 px: how far encoded luma leaves the original's range around, in levels of 255, × 4. */
  readonly rim: Uint8Array<ArrayBuffer>;
  /**
   * Per square of 2 px: structure added to the background beyond the mask's edge, in levels of 255, × 8, or
   * NOT_CHECKABLE.
   */
  readonly leak: Uint8Array<ArrayBuffer>;
  /** Per square of 4 px: ΔE00 × 20; 255 where nothing changed or nothing can be said. */
  readonly drift: Uint8Array<ArrayBuffer>;
  readonly edges: readonly EdgeChange[];
  readonly flats: readonly FlatSquare[];
}

const LEAST_ALPHA = 0.05;

/**
 * Audits `inner` (samples of the planes) of a result against its photograph. `region` is where `inner` lies in the
 * frame, anchored at even numbers.
 */
export function auditPlanes(input: AuditInput, inner: Region, region: Region, kernels: Kernels): RegionAudit {
  const { original, shown, alpha, lumaWeights, blurPx, clipped } = input;
  const { width, height } = original[0];
  const variances = noiseVariances(input);
  const before = keptWith(original[0], 'encoded luma', () => encoded(lumaOf(original, lumaWeights)));
  const after = encoded(lumaOf(shown, lumaWeights));
  const use = new Uint8Array(width * height);
  const [shares, within] = [alpha.data, input.inFrame.data];
  for (let i = 0; i < use.length; i++) if (shares[i] > LEAST_ALPHA && within[i] > 0 && clipped[i] === 0) use[i] = 1;
  const inside = insideOf(inner, width, use);
  const noise = keptWith(variances[0], 'encoded', () => encodedNoise(before, variances[0]));
  const sigma = Math.sqrt(meanOver(noise, inside));
  const place = <T extends { x: number; y: number }>(found: T): T => ({
    ...found,
    x: found.x - inner.x + region.x,
    y: found.y - inner.y + region.y,
  });
  const drift = colourDrift(
    original.map((plane) => cropPlane(plane, inner)),
    shown.map((plane) => cropPlane(plane, inner)),
    blurPx,
    spreadOf(input.blur),
    input.toLinearSrgb,
    DRIFT_STRIDE,
  );
  return {
    region,
    ...keptUnproven(input, inner, variances, use, kernels),
    rim: rimMap(before, after, inner, use),
    leak: leakMap(
      backgroundLeak(before, after, noise, beyondEdge(input.masked, inside, reachOfParts(input.blur)), blurPx),
      inner,
    ),
    drift: driftMap(drift, inner, width, use),
    edges: edgeChanges(before, after, inside, blurPx, sigma).map(place),
    flats: flatSquares(before, after, noise, inside).map(place),
  };
}

function keptUnproven(
  input: AuditInput,
  inner: Region,
  variances: readonly Plane[],
  use: Uint8Array,
  kernels: Kernels,
) {
  const maps = () => unprovenMaps(input, inner, variances, use, kernels);
  const { solved, alpha, noise, noiseFloor, signal } = input;
  if (!solved) return maps();
  return keptWithBoth(solved, alpha, contentKey(['unproven', inner, noise, noiseFloor, signal]), maps);
}

function unprovenMaps(
  input: AuditInput,
  inner: Region,
  variances: readonly Plane[],
  use: Uint8Array,
  kernels: Kernels,
) {
  const { components, full, cautious, blur } = input;
  const columns = Math.ceil(inner.width / MAP_STRIDE);
  const rows = Math.ceil(inner.height / MAP_STRIDE);
  const unproven = new Uint8Array(columns * rows);
  const kind = new Uint8Array(columns * rows).fill(NOT_CHECKABLE);
  if (!full || !cautious) return { unproven, kind };
  const over = new BlurOver(blur, kernels);
  const { brightness, colour } = contradiction(input, full, over, variances, input.believed, input.isClipped);
  const widest = blur.reduce((a, b) => (b.psf.width > a.psf.width ? b : a)).psf;
  const answer = brightnessOf(full);
  const beyond = unsupported(
    answer,
    cautious(),
    components[0],
    widest,
    input.signal,
    variances[0],
    kernels,
    input.isClipped,
  );
  const worst = [brightness, colour, beyond].map((measure) => worstOfSquares(measure, inner, use));
  const limits = [LIMITS.brightness, LIMITS.hue, LIMITS.unsupported];
  for (let i = 0; i < kind.length; i++) {
    for (let which = 0; which < 3 && worst[which][i] >= 0; which++) {
      const level = byteOfLevel(levelOf(worst[which][i], limits[which]));
      if (kind[i] !== NOT_CHECKABLE && level <= unproven[i]) continue;
      unproven[i] = level;
      kind[i] = which;
    }
  }
  return { unproven, kind };
}

/** The largest value in every square of the maps; below 0 where nothing can be said. */
function worstOfSquares({ width, data }: Plane, inner: Region, use: Uint8Array): Float32Array {
  const columns = Math.ceil(inner.width / MAP_STRIDE);
  const worst = new Float32Array(columns * Math.ceil(inner.height / MAP_STRIDE)).fill(-1);
  for (let y = 0; y < inner.height; y++) {
    const row = Math.floor(y / MAP_STRIDE) * columns;
    const from = (y + inner.y) * width + inner.x;
    for (let x = 0; x < inner.width; x++) {
      if (use[from + x] === 0) continue;
      const to = row + Math.floor(x / MAP_STRIDE);
      if (data[from + x] > worst[to]) worst[to] = data[from + x];
    }
  }
  return worst;
}

/** Standard deviation of the blur along an axis, px; where it varies, of the narrowest: too little is the safe side. */
function spreadOf(blur: readonly BlurPart[]): number {
  const spreads = blur.map(({ psf }) => {
    const middle = (psf.width - 1) / 2;
    const sum = psf.data.reduce((total, value, i) => {
      return total + value * (((i % psf.width) - middle) ** 2 + (Math.floor(i / psf.width) - middle) ** 2);
    }, 0);
    return Math.sqrt(sum / 2);
  });
  return spreads.length > 0 ? Math.min(...spreads) : 0;
}

function rimMap(before: Plane, after: Plane, inner: Region, use: Uint8Array): Uint8Array<ArrayBuffer> {
  const range = keptWith(before, 'range', () => neighbourhoodRange(before, 3));
  const [low, high, values] = [range.low.data, range.high.data, after.data];
  const columns = Math.ceil(inner.width / MAP_STRIDE);
  const rim = new Uint8Array(columns * Math.ceil(inner.height / MAP_STRIDE));
  for (let y = 0; y < inner.height; y++) {
    for (let x = 0; x < inner.width; x++) {
      const i = (y + inner.y) * before.width + x + inner.x;
      if (use[i] === 0) continue;
      const beyond = Math.max(0, values[i] - high[i], low[i] - values[i]);
      const to = (y >> 1) * columns + (x >> 1);
      if (beyond > 0) rim[to] = Math.max(rim[to], Math.min(255, Math.round(255 * RIM_STEPS * beyond)));
    }
  }
  return rim;
}

/** What the mask touches without holding it, farther from what it holds than the blur has carried the subject. */
function beyondEdge(masked: Plane, inside: Uint8Array, reach: number): Uint8Array {
  const { data } = masked;
  const beyond = inside.map((value, i) => (value === 1 && data[i] === 0 ? 1 : 0));
  if (!beyond.includes(1)) return beyond;
  const subject = neighbourhoodRange(masked, reach + 1).high.data;
  return beyond.map((value, i) => (subject[i] > 0 ? 0 : value));
}

function reachOfParts(parts: readonly BlurPart[]): number {
  return Math.ceil(Math.max(1, ...parts.map(({ psf }) => reachOf(psf))));
}

function leakMap(leak: Plane | null, inner: Region): Uint8Array<ArrayBuffer> {
  const columns = Math.ceil(inner.width / MAP_STRIDE);
  const map = new Uint8Array(columns * Math.ceil(inner.height / MAP_STRIDE)).fill(NOT_CHECKABLE);
  if (!leak) return map;
  for (let y = 0; y < inner.height; y++) {
    for (let x = 0; x < inner.width; x++) {
      const value = leak.data[(y + inner.y) * leak.width + x + inner.x];
      if (value < 0) continue;
      const to = (y >> 1) * columns + (x >> 1);
      const byte = Math.min(254, Math.round(255 * LEAK_STEPS * value));
      if (map[to] === NOT_CHECKABLE || byte > map[to]) map[to] = byte;
    }
  }
  return map;
}

function driftMap(drift: Plane, inner: Region, width: number, use: Uint8Array): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(drift.data, (value, i) => {
    const x = Math.min(inner.width - 1, (i % drift.width) * DRIFT_STRIDE + 1);
    const y = Math.min(inner.height - 1, Math.floor(i / drift.width) * DRIFT_STRIDE + 1);
    const isUsed = use[(y + inner.y) * width + x + inner.x] === 1;
    return isUsed ? Math.min(254, Math.round(DRIFT_STEPS * value)) : NOT_CHECKABLE;
  });
}

function insideOf(inner: Region, width: number, use: Uint8Array): Uint8Array {
  const inside = new Uint8Array(use.length);
  for (let y = inner.y; y < inner.y + inner.height; y++) {
    const from = y * width + inner.x;
    inside.set(use.subarray(from, from + inner.width), from);
  }
  return inside;
}

const STEPS = 4096;
const ENCODED = Float32Array.from({ length: STEPS + 2 }, (_, i) => srgbEncode(Math.min(1, i / STEPS)));

/** By encoded tone: a third of the square of what the sRGB curve rises by there. */
const SQUARED_RISE = Float64Array.from({ length: STEPS + 1 }, (_, i) => {
  const value = i / STEPS;
  const slope = value < 0.04 ? 1 / 12.92 : (2.4 / 1.055) * ((value + 0.055) / 1.055) ** 1.4;
  return 1 / (3 * slope * slope);
});

/** sRGB-encoded, between the steps of a table. */
function encoded({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let i = 0; i < data.length; i++) {
    const at = STEPS * Math.min(1, Math.max(0, data[i]));
    const step = Math.floor(at);
    out[i] = ENCODED[step] + (at - step) * (ENCODED[step + 1] - ENCODED[step]);
  }
  return { width, height, data: out };
}

/** Noise variance of encoded luma from that of brightness in linear light: brightness is about √3 luma. */
function encodedNoise(before: Plane, variance: Plane): Plane {
  const [tones, variances] = [before.data, variance.data];
  const data = new Float32Array(tones.length);
  for (let i = 0; i < data.length; i++) data[i] = variances[i] * SQUARED_RISE[Math.round(STEPS * tones[i])];
  return { ...before, data };
}

function meanOver({ data }: Plane, use: Uint8Array): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < use.length; i++) {
    if (use[i] === 0) continue;
    sum += data[i];
    count++;
  }
  return count > 0 ? sum / count : 0;
}
