import type { Kernels } from '../kernels';
import { movedPath } from '../psf/storedPath';
import type { Channels } from '../picture/picture';
import { opponentVariances, toOpponent } from '../picture/opponentColours';
import { cropPlane } from '../picture/crop';
import { lumaOf } from '../picture/picture';
import { nthOf } from '../picture/nthOf';
import { filledPlane, type Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { CoreError } from '../errors';
import { findCause, floorUnder } from '../spectrum/cause';
import { believedCause, sortedCause } from './believedCause';
import type { CauseReading, LeftAlone, PlaceReading } from './causeReading';
import { expectedLumaVariance, MID_TONE, noiseAtMidTonePercent, type NoiseLine } from '../noise/noise';
import { fileTraces, type FileTraces } from '../noise/fileTraces';
import { readNoise, type Grain } from '../noise/grain';
import { localNoise } from '../noise/localNoise';
import { mostUsedPart } from './mostUsedPart';
import { detailCurves, finestRecoverable } from './finestDetail';
import { NATURAL_SLOPE } from '../spectrum/naturalSlope';
import { pileOf, type Pile } from './pile';
import { localSpectra, mergeSpectra } from '../spectrum/powerSpectrum';

export interface Reading {
  /** Null: nothing to recover. */
  readonly cause: CauseReading | null;
  readonly runnerUp: CauseReading | null;
  /** Why no cause is named; null where one is. */
  readonly leftAlone: LeftAlone | null;
  /** Blur size at several places (x and y as in the channels given) where it changes clearly; else empty. */
  readonly sizes: readonly PlaceReading[];
  readonly confidence: number;
  /** Where noise is not white: as it stands at twice the scale. */
  readonly noise: readonly NoiseLine[];
  /** Null: noise is white, as `noise` says. */
  readonly grain: Grain | null;
  readonly traces: FileTraces;
  /** JPEG, a mosaic or cleaning took the finest noise away: what is left is not white. */
  readonly hidesNoise: boolean;
  readonly noisePercent: number;
  /**
   * What recovery must treat as noise, as variances of brightness and the opponent colours (grey: one value) in linear
   * light: the floor that the spectral fit found under the blurred detail, or the noise itself where that is higher.
   */
  readonly floor: readonly number[];
  /** Share of samples at white and at black, percent, worst channel. */
  readonly clippedWhitePercent: number;
  readonly clippedBlackPercent: number;
  /** Period, px, of the finest detail that stands above the noise: now, and after recovery. */
  /** Power of the sharp picture at frequency 1: it falls as f^−2.1. */
  readonly signal: number;
  readonly finestNowPx: number;
  readonly finestRecoverablePx: number;
  readonly pile: Pile;
}

export interface ReadingInput {
  readonly channels: Channels;
  readonly lumaWeights: readonly number[];
  /** 0..1: where to measure; over 0.5 counts. */
  readonly use: Plane;
  /** 1 where a channel reached white. */
  readonly clipped: Uint8Array;
  readonly jpeg: boolean;
  readonly kernels: Kernels;
  /** Measured before a mosaic was filled in: then it is not measured here. */
  readonly sensorNoise?: readonly NoiseLine[];
  /** The blur is known: no cause is looked for, only noise, clipping and the floor under that blur. */
  readonly psf?: Psf;
  /**
   * Only a subject is measured: a missed focus that changes over it is followed place by place, that of a whole frame
   * is its depth.
   */
  readonly isSubject?: boolean;
  /** To sort a frame: no path is looked for, nor sizes by place. */
  readonly isTriage?: boolean;
}

/** Noise and what a file went through are measured in so large a part at most, px: more says the same, later. */
const NOISE_SIDE = 1024;
const TRIAGE_NOISE_SIDE = 512;
/** Of so many samples of the spectrum a first look takes one. */
const TRIAGE_EVERY = 3;

/** The same reading, its places so many px farther right and down: of a part of a frame, as the frame has them. */
export function movedReading(reading: Reading, right: number, down: number): Reading {
  const moved = (cause: CauseReading | null) =>
    cause?.path ? { ...cause, path: movedPath(cause.path, right, down) } : cause;
  return {
    ...reading,
    cause: moved(reading.cause),
    runnerUp: moved(reading.runnerUp),
    sizes: reading.sizes.map((place) => ({ ...place, x: place.x + right, y: place.y + down })),
  };
}

/**
 * Measures noise, clipping and the cause of blur over the used area.
 *
 * @throws CoreError READING_AREA where no 64 px window of unclipped picture lies inside the area.
 */
export function takeReading(input: ReadingInput): Reading {
  const { channels, lumaWeights, use } = input;
  const luma = lumaOf(channels, lumaWeights);
  const spectra = localSpectra(luma, use, input.clipped);
  if (spectra.length === 0) {
    throw new CoreError(
      'READING_AREA',
      'The measured area is too small or too bright: it must hold a square of at least 64 px without clipped light.',
    );
  }
  const spectrum = mergeSpectra(spectra);
  const inside = { ...use, data: use.data.map((value) => (value > 0.5 ? 1 : 0)) };
  const part = mostUsedPart(inside, input.isTriage ? TRIAGE_NOISE_SIDE : NOISE_SIDE);
  const inPart = cropPlane(inside, part);
  const few = channels.map((channel) => cropPlane(channel, part));
  // A sensor's noise is the same beside the subject, where out of focus it stands alone.
  const { noise: finest, grain: seen } = readNoise(few, filledPlane(part.width, part.height, 1));
  const { sensorNoise } = input;
  const grain = seen && sensorNoise ? { ...seen, noise: sensorNoise } : seen;
  // Of noise that is not white the finest scale has lost most: what blur leaves of a picture lies in coarser ones.
  const noise = sensorNoise ?? grain?.noise ?? finest;
  const variance = expectedLumaVariance(channels, inside, noise, lumaWeights);
  const noisePercent = noiseAtMidTonePercent(noise, lumaWeights);
  // JPEG, a mosaic and cleaning take the finest noise away with the finest detail: neither is white there.
  const hidesFloor = input.jpeg || grain !== null || sensorNoise !== undefined;
  const found = input.psf ? null : findCause(spectra, variance, hidesFloor, input.isTriage ? TRIAGE_EVERY : 1);
  const radial = radialMean(spectrum.power, spectrum.side);
  const signal = signalOf(radial, spectrum.side);
  const noisy = Math.max(variance, found?.sharpFloor ?? 0);
  const isSoft = looksSoft(finestAbove(radial, spectrum.side, 2 * noisy), signal, variance);
  const believed =
    found &&
    (input.isTriage
      ? sortedCause(found, isSoft, input.kernels)
      : believedCause(found, luma, input, noise, variance, hidesFloor, isSoft));
  const {
    cause = null,
    runnerUp = null,
    places = [],
    pathError = 0,
    confidence = 1,
    leftAlone = null,
  } = believed ?? {};
  const fitted = input.psf ? floorUnder(input.psf, spectra, variance, hidesFloor) : (believed?.floor ?? 0);
  const floor = Math.max(
    variance,
    // One floor for many sizes takes up what no single size explains: half of it, as a power, is noise.
    places.length > 0 ? Math.sqrt((variance + UNTOLD_TEXTURE) * fitted) : fitted,
    pathError,
  );
  const now = finestAbove(radial, spectrum.side, 2 * Math.max(fitted, floor));
  // Without a blur to take back there is nothing to be had beyond what is there.
  const recoverable = cause ? Math.max(now, finestRecoverable(detailCurves(cause, signal, floor))) : now;
  return {
    cause,
    runnerUp,
    leftAlone,
    sizes: places,
    confidence,
    noise,
    grain,
    traces: fileTraces(cropPlane(luma, part), inPart, noisePercent),
    hidesNoise: hidesFloor,
    noisePercent,
    floor: grain ? componentFloorsByLines(noise, floor) : componentFloors(few, cropPlane(luma, part), inPart, floor),
    ...clippingOf(input, inside),
    signal,
    finestNowPx: 1 / now,
    finestRecoverablePx: 1 / recoverable,
    pile: pileOf(cause?.blurSizePx ?? 0, noisePercent, recoverable, isSoft),
  };
}

/**
 * Variance of sharp texture between the places, which one floor for many sizes stands for as well. Measured on 0412 and
 * 0413.
 */
const UNTOLD_TEXTURE = 6e-5;

/** The floor of each component, in the same proportion to luma's as their local noise stands. */
function componentFloors(channels: Channels, luma: Plane, inside: Plane, floor: number): number[] {
  if (channels.length === 1) return [floor];
  const ofLuma = Math.max(medianNoise(luma, inside), 1e-9);
  return toOpponent(channels).map((plane) => Math.max(1e-7, (floor * medianNoise(plane, inside)) / ofLuma));
}

/**
 * The floor of each component where the channels' noise is not white: by what the channels' lines say of it at
 * mid-tone.
 */
function componentFloorsByLines(lines: readonly NoiseLine[], floor: number): number[] {
  const variances = lines.map(({ a, b }) => a * MID_TONE + b);
  const ofBrightness = opponentVariances(variances)[0];
  return opponentVariances(variances).map((variance) => (floor * variance) / ofBrightness);
}

function medianNoise(plane: Plane, inside: Plane): number {
  const local = localNoise(plane).data.filter((_, i) => inside.data[i] > 0 && i % 7 === 0);
  return local.length ? nthOf(local, local.length >> 1) : 0;
}

function clippingOf({ channels, clipped }: ReadingInput, inside: Plane) {
  let area = 0;
  let white = 0;
  let black = 0;
  for (let i = 0; i < inside.data.length; i++) {
    if (inside.data[i] === 0) continue;
    area++;
    white += clipped[i];
    if (channels.some((channel) => channel.data[i] <= 0)) black++;
  }
  const percent = (count: number) => (area ? (100 * count) / area : 0);
  return { clippedWhitePercent: percent(white), clippedBlackPercent: percent(black) };
}

/** Amplitude of the picture's power law, from the lowest octave. */
function signalOf(radial: Float64Array, side: number): number {
  let low = 0;
  for (let k = 3; k <= 6; k++) low += radial[k] * (k / side) ** NATURAL_SLOPE;
  return low / 4;
}

/** The frequency up to which the picture itself stands above a power, cycles per px. */
function finestAbove(radial: Float64Array, side: number, power: number): number {
  let k = 3;
  while (k < side / 2 && radial[k] > power) k++;
  return k / side;
}

/** Detail ends this early, cycles per px, in no sharp picture of texture. */
const SOFT_BELOW = 1 / 3.5;
/** How much farther a sharp picture's detail would stand above the same noise. */
const SOFT_RATIO = 1.5;

/** The picture's detail ends far before noise would end that of a sharp one. */
function looksSoft(now: number, signal: number, variance: number): boolean {
  const ofSharp = Math.min(0.5, (signal / (2 * variance)) ** (1 / NATURAL_SLOPE));
  return now < SOFT_BELOW && now * SOFT_RATIO < ofSharp;
}

function radialMean(power: Float64Array, side: number): Float64Array {
  const sums = new Float64Array(side);
  const counts = new Float64Array(side);
  for (let v = 0; v < side; v++) {
    for (let u = 0; u < side; u++) {
      const k = Math.round(Math.hypot(u <= side / 2 ? u : u - side, v <= side / 2 ? v : v - side));
      sums[k] += power[v * side + u];
      counts[k]++;
    }
  }
  return sums.map((sum, k) => (counts[k] ? sum / counts[k] : 0));
}
