import { minus, product } from '../picture/arithmetic';
import { AS_MEASURED, cleanChannels } from '../clean/cleanChannels';
import type { Channels } from '../picture/picture';
import { lumaOf } from '../picture/picture';
import { fromOpponent, keptOpponent } from '../picture/opponentColours';
import { gaussianBlur } from '../picture/gaussianBlur';
import { keptWith } from '../picture/kept';
import { contentKey } from '../contentKey';
import { copyPlane, type Plane } from '../picture/plane';
import type { Grain } from '../noise/grain';
import { FARTHER_GUARD, WEAKER_GUARD, WEAKER_ITERATIONS, withTexture } from '../learned/texture';
import { lumaNoiseLine, MID_TONE, type NoiseLine } from '../noise/noise';
import { intersect, isEmpty, wholeOf, type Region } from '../picture/region';
import { reachOf, type Psf } from '../psf/psf';
import { edgeContrast, edgeContrastReach } from './edgeContrast';
import { fineTexture, fineTextureReach } from './fineTexture';
import { descriptionOfBlur, isBlurMethod, psfOf, type BlurModel } from '../methods';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import { limitHalos } from './haloLimit';
import type { Kernels } from '../kernels';
import type { Evidence } from '../solve/splitting';
import { broughtUp, REACH_OF_REDUCING, REDUCED, reducedInput, reducedPsf, reducedSettings } from './badlySoft';
import { calmness } from './calmness';
import { guessing, placesWhere, TOO_SHARP } from './guessSharp';
import { flooredAtRounding, lambdaFor, PLAIN_LAMBDA, quietness, ROUNDING_VARIANCE } from './noiseGuard';
import { cutBack, padded, paddedFlags, paddedSize, withGap } from './padding';
import { tooSharpFor } from './tooSharp';
import { trustOf } from './trust';

/** Everything a recovery needs as numbers; nothing here is measured on the way. */
export interface RecoverySettings extends BlurModel {
  /** 0..100; 50 is the measured noise, every 10 more doubles its weight. */
  readonly noiseGuard: number;
  /** Percent of the neighbourhood's range; null is off. */
  readonly haloLimitPercent: number | null;
  readonly grainKeptPercent: number;
  /** A trained network adds the texture that it finds missing. */
  readonly learnedTexture?: boolean;
  /** Recovered at half size and brought up again. */
  readonly badlySoft?: boolean;
  /** Variances that count as noise: brightness and the two opponent colours (grey: one value), linear light. */
  readonly noiseFloor: readonly number[];
  /** The channels were cleaned of noise already. */
  readonly isCleaned?: boolean;
  readonly noise: readonly NoiseLine[];
  /** Of noise that is not white. */
  readonly grain?: Grain;
  /** JPEG, a mosaic or cleaning took the finest noise away. */
  readonly hidesNoise?: boolean;
}

export interface RecoveryInput {
  /** Linear light, never changed after; may reach past the frame (then samples there are repeats and `known` is 0). */
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
  /** The channels cleaned of noise, where that was done already. */
  readonly clean?: Channels;
  /** The samples that will be seen, and not only audited; left out, all. */
  readonly shown?: Region;
}

/** What a recovery gives. Both in linear light, not clipped. */
export interface Recovered {
  /** The full answer of the method, amount 100. */
  readonly answer: Plane[];
  /** The same before the halo limit cut it and grain was added back: what the audit holds against the photograph. */
  readonly free: Plane[];
  /** How far the photograph was believed at each sample, 0..1: there alone it can contradict the answer. */
  readonly believed: Plane;
}

export interface RecoveryEffort {
  readonly iterations: number;
  /** The learned texture is left out. */
  readonly isDraft?: boolean;
  /** No sample farther from a tile than this is looked at; otherwise as far as agreeing with the whole frame asks. */
  readonly farthestPx?: number;
  readonly kernels: Kernels;
  readonly shouldStop?: () => boolean;
}

export const FINAL_EFFORT = { iterations: 10 };
/** For cells while a slider moves: marked as drafts, never written. */
export const DRAFT_EFFORT = { iterations: 5, farthestPx: 32, isDraft: true };

const DATA_PENALTY = 0.2;
/** Opponent colours may be believed at most this many times as much as brightness. */
const MOST_TRUST = 4;

/** Of blur methods, measured so that a tile agrees with the whole (docs/methods/stages.md). */
const LEAST_REACH_PX = 48;
const MOST_REACH_PX = 256;
/** How many px around a sample its recovered value depends on in a way that matters. */
export function reachOfRecovery(
  settings: RecoverySettings,
  psf?: Psf,
  { farthestPx = MOST_REACH_PX, isDraft }: Pick<RecoveryEffort, 'farthestPx' | 'isDraft'> = {},
): number {
  if (settings.method === 'fine-texture') return fineTextureReach(settings.blurSizePx);
  if (!isBlurMethod(settings.method)) return edgeContrastReach(settings.blurSizePx);
  if (settings.badlySoft) {
    const small = reducedPsf(psf ?? psfOf(settings));
    const reach = reachOfRecovery(reducedSettings(settings), small, { farthestPx: farthestPx / REDUCED, isDraft });
    return REDUCED * reach + REACH_OF_REDUCING;
  }
  const { reachPerPx } = descriptionOfBlur(psf ? 'camera-shake' : settings.method);
  // The weaker recovery leans on what is a little farther away.
  const guard = settings.noiseGuard - (settings.learnedTexture && !isDraft ? FARTHER_GUARD : 0);
  const lambda = lambdaFor(flooredAtRounding(settings.noiseFloor), guard);
  const needed = reachPerPx * reachOf(psf ?? psfOf(settings)) * Math.pow(PLAIN_LAMBDA / lambda, 0.3);
  return Math.min(farthestPx, Math.max(LEAST_REACH_PX, 16 * Math.ceil(needed / 16)));
}

/**
 * The full answer of a method (amount 100) on the given samples.
 * All channels are recovered together under one prior, so that colours do not fringe.
 *
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function recover(given: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort): Recovered {
  const input = cleanedFirst(given, settings, effort.kernels);
  const luma = keptLuma(input);
  const blurred = isBlurMethod(settings.method);
  const recovered = blurred ? deblurred(input, settings, effort, luma) : sharpenLuma(input, settings, luma);
  if (settings.grainKeptPercent === 0) return recovered;
  return { ...recovered, answer: keepGrain(recovered.answer, input, settings) };
}

function sharpenLuma(input: RecoveryInput, settings: RecoverySettings, luma: Plane): Recovered {
  const { method, blurSizePx, haloLimitPercent, noise, noiseGuard } = settings;
  const result =
    method === 'fine-texture'
      ? fineTexture(luma, blurSizePx, lumaNoiseLine(noise, input.lumaWeights), noiseGuard)
      : edgeContrast(luma, blurSizePx, haloLimitPercent);
  const answer = input.channels.map((channel) => ({
    ...channel,
    data: channel.data.map((value, i) => value + result.data[i] - luma.data[i]),
  }));
  return { answer, free: answer, believed: input.known };
}

function deblurred(input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort, luma: Plane): Recovered {
  if (!settings.badlySoft) return recoverBlurred(input, settings, effort, luma);
  const small = reducedInput(input, input.psf ?? psfOf(settings));
  const solved = recoverBlurred(small, reducedSettings(settings), effort, keptLuma(small));
  const up = (plane: Plane) => broughtUp(plane, input.known, input.originX, input.originY);
  const believed = up(solved.believed);
  const data = believed.data.map((value) => Math.min(1, Math.max(0, value)));
  return { answer: solved.answer.map(up), free: solved.free.map(up), believed: { ...believed, data } };
}

/**
 * Deconvolves; where a missed focus is contradicted by sharp edges the original stays, and its data are not believed.
 */
function recoverBlurred(
  input: RecoveryInput,
  settings: RecoverySettings,
  effort: RecoveryEffort,
  luma: Plane,
): Recovered {
  const sharp =
    settings.method === 'missed-focus' && !input.psf ? tooSharpFor(settings.blurSizePx, luma, input.clipped) : null;
  if (!sharp) return deconvolveAll(input, settings, effort);
  const known = copyPlane(input.known);
  for (let i = 0; i < known.data.length; i++) if (sharp.data[i] > TOO_SHARP) known.data[i] = 0;
  const started = guessing(sharp, known, settings.blurSizePx / 2);
  const solved = deconvolveAll({ ...input, known }, settings, effort, started);
  const kept = sharp.data;
  const places = placesWhere(sharp, (i) => kept[i] > 0);
  const answer = solved.answer.map((plane, c) => {
    const mixed = plane === solved.free[c] ? copyPlane(plane) : plane;
    const { data } = mixed;
    const original = input.channels[c].data;
    for (const i of places) data[i] += kept[i] * (original[i] - data[i]);
    return mixed;
  });
  return { ...solved, answer };
}

/** @param started - What the solver starts from, given the data; it matters where these are not believed. */
function deconvolveAll(
  input: RecoveryInput,
  settings: RecoverySettings,
  effort: RecoveryEffort,
  started: (plane: Plane) => Plane = (plane) => plane,
): Recovered {
  const { blurSizePx, haloLimitPercent } = settings;
  const psf = input.psf ?? psfOf(settings);
  const calm =
    settings.method === 'camera-shake' && !input.psf
      ? calmness(keptOpponent(input.channels)[0], input.clipped, Math.ceil(reachOf(psf)))
      : null;
  const believed = calm
    ? { ...input.known, data: input.known.data.map((value, i) => value * calm.data[i]) }
    : input.known;
  const { evidence, variances } = evidenceOf(input, believed, settings, psf, started);
  const solve = (count: number, noiseGuard: number, iterations: number) => {
    const lambda = lambdaFor(variances, noiseGuard);
    const options = { lambda, iterations, dataPenalty: DATA_PENALTY, shouldStop: effort.shouldStop };
    const components = effort.kernels.deconvolve(firstOf(evidence, count), psf, options);
    return components.map((plane) => cutBack(plane, input.channels[0]));
  };
  const inChannels = (components: readonly Plane[]) => {
    const channels = fromOpponent(components);
    keepWhite(channels, input, reachOf(psf));
    return channels;
  };
  const components = solve(variances.length, settings.noiseGuard, effort.iterations);
  const recovered = inChannels(components);
  let free = recovered;
  if (settings.learnedTexture && !effort.isDraft) {
    const weaker = () => {
      const [brightness] = solve(1, settings.noiseGuard - WEAKER_GUARD, WEAKER_ITERATIONS);
      return inChannels([brightness, ...components.slice(1)]);
    };
    free = textured(recovered, weaker, input, settings, psf, effort);
  }
  if (haloLimitPercent === null) return { answer: free, free, believed };
  const answer = free.map((plane, c) => {
    const limited = copyPlane(plane);
    limitHalos(limited, input.channels[c], Math.max(1, Math.round(blurSizePx / 2)), haloLimitPercent);
    return limited;
  });
  return { answer, free, believed };
}

function textured(
  recovered: readonly Plane[],
  weaker: () => Plane[],
  input: RecoveryInput,
  settings: RecoverySettings,
  psf: Psf,
  { kernels, shouldStop }: RecoveryEffort,
): Plane[] {
  const [variance] = flooredAtRounding(settings.noiseFloor);
  const { channels, originX, originY, shown = wholeOf(channels[0]) } = input;
  const { noise, noiseGuard, hidesNoise = false } = settings;
  const wanted = intersect(shown, wholeOf(channels[0]));
  if (isEmpty(wanted)) return [...recovered];
  const free = withTexture(
    { recovered, weaker: weaker(), given: channels, noise, noiseGuard, hidesNoise, psf, variance, originX, originY },
    wanted,
    kernels,
    shouldStop,
  );
  keepWhite(free, input, reachOf(psf));
  return free;
}

/** The evidence of the first components alone. */
function firstOf({ blurred, weight, clipped }: Evidence, count: number): Evidence {
  const few = <T>(parts: readonly T[]) => parts.slice(0, count);
  return { blurred: few(blurred), weight: few(weight), clipped: clipped && few(clipped) };
}

/** Farther inside of white than the blur reaches, the photograph says nothing but “white or more”. */
function keepWhite(recovered: readonly Plane[], { channels, clipped }: RecoveryInput, reach: number): void {
  if (!clipped.includes(1)) return;
  const { low } = neighbourhoodRange({ ...channels[0], data: Float32Array.from(clipped) }, Math.ceil(reach));
  recovered.forEach(({ data }, c) => {
    for (let i = 0; i < data.length; i++) {
      if (low.data[i] === 1) data[i] = Math.max(data[i], channels[c].data[i]);
    }
  });
}

/** Brightness and the opponent colours, each believed by its own noise, and the variances that count as noise. */
function evidenceOf(
  input: RecoveryInput,
  believed: Plane,
  settings: RecoverySettings,
  psf: Psf,
  started: (plane: Plane) => Plane,
): { evidence: Evidence; variances: readonly number[] } {
  const { noise } = settings;
  const raw = keptOpponent(input.channels);
  const floors = flooredAtRounding(settings.noiseFloor);
  const quiet = quietness(floors[0]);
  const white = shareToClean(settings);
  const components = white > 0 && input.clean ? keptOpponent(input.clean) : raw;
  const variances = floors.map((floor) => floor * (1 - CLEANED_SHARE * white));
  const gap = Math.ceil(2 * reachOf(psf));
  const room = paddedSize(components[0], gap);
  const trust = trustOf(raw[0], floors[0], keptLuma(input), lumaNoiseLine(noise, input.lumaWeights), 1 - quiet);
  const weight = withGap(padded(product(trust, believed), room, false), raw[0], gap);
  const clipped = input.clipped.includes(1) ? paddedFlags(input.clipped, raw[0], room) : null;
  /** White is a bound from below only for brightness; an opponent colour of a clipped sample says nothing. */
  const shareOf = (c: number) => Math.min(MOST_TRUST, floors[0] / floors[c]);
  const weightOf = (c: number) => {
    if (c === 0) return weight;
    const share = shareOf(c);
    const data = new Float32Array(weight.data.length);
    for (let i = 0; i < data.length; i++) data[i] = share * weight.data[i];
    if (clipped) for (let i = 0; i < data.length; i++) if (clipped[i] === 1) data[i] = 0;
    return { ...weight, data };
  };
  const weights: Plane[] = [];
  for (let c = 0; c < components.length; c++) {
    weights.push(c === 2 && shareOf(2) === shareOf(1) ? weights[1] : weightOf(c));
  }
  const evidence = {
    blurred: components.map((plane) => padded(started(plane), room, true)),
    weight: weights,
    clipped: components.map((_, c) => (c === 0 ? clipped : null)),
  };
  return { evidence, variances };
}

/**
 * The input with its channels cleaned where the recovery asks for that: noise that plainly shows is cleaned before the
 * blur is taken back (the prior then has less to hold down), and grain that is kept is what cleaning would take. Done
 * once, however many sizes are solved.
 */
export function cleanedFirst(input: RecoveryInput, settings: RecoverySettings, kernels: Kernels): RecoveryInput {
  if (input.clean || (shareToClean(settings) === 0 && settings.grainKeptPercent === 0)) return input;
  const { channels, originX, originY } = input;
  const options = { noise: settings.noise, grain: settings.grain, ...AS_MEASURED };
  const clean = keptWith(channels[0], contentKey(['clean', options, originX, originY]), () =>
    cleanChannels(channels, options, originX, originY, kernels),
  );
  return { ...input, clean };
}

function keptLuma({ channels, lumaWeights }: RecoveryInput): Plane {
  return keptWith(channels[0], 'luma', () => lumaOf(channels, lumaWeights));
}

/** Share of the white noise that cleaning takes, as the prior should count it. */
const CLEANED_SHARE = 0.65;
const LEAST_WHITE = 0.2;

/** How much of the floor is white noise that plainly shows, 0..1: only that is cleaned. */
function shareToClean({ method, isCleaned, noise, noiseFloor }: RecoverySettings): number {
  if (isCleaned || !isBlurMethod(method)) return 0;
  const floor = noiseFloor[0] + ROUNDING_VARIANCE;
  const white = noise.reduce((sum, { a, b }) => sum + a * MID_TONE + b, 0) / noise.length;
  const share = Math.min(1, white / floor) * (1 - quietness(floor));
  return share < LEAST_WHITE ? 0 : share;
}

/** Adds back a share of (original − cleaned original), high-passed at σ = half the blur size. */
function keepGrain(recovered: Plane[], input: RecoveryInput, settings: RecoverySettings): Plane[] {
  const share = settings.grainKeptPercent / 100;
  return recovered.map((plane, c) => {
    const grain = minus(input.channels[c], input.clean![c]);
    const coarse = gaussianBlur(grain, Math.max(0.5, settings.blurSizePx / 2));
    return { ...plane, data: plane.data.map((value, i) => value + share * (grain.data[i] - coarse.data[i])) };
  });
}
