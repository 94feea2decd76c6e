import { besselJ1 } from '../psf/bessel';
import { FWHM_PER_SIGMA } from '../psf/gaussianPsf';
import type { Psf } from '../psf/psf';
import { GAIN_FLOOR, logGainOfPsf } from './psfGain';
import { mergeSpectra, type LocalSpectrum } from './powerSpectrum';
import { fitSpectrum, samplesOf, type FitOptions, type SpectralFit, type SpectrumSamples } from './spectralFit';

export type BlurCause = 'ordinary-softness' | 'missed-focus' | 'straight-movement';

/** One family fitted as well as it can be. */
export interface CauseFit {
  readonly cause: BlurCause;
  /** σ, radius or length, px. */
  readonly size: number;
  readonly directionDeg: number;
  readonly cost: number;
  readonly floor: number;
}

/** Size fitted over one place; blur varies with depth. */
export interface PlaceSize {
  readonly x: number;
  readonly y: number;
  readonly size: number;
}

export interface MergedFit {
  readonly samples: SpectrumSamples;
  /** Frequency that was looked at, cycles per px. */
  readonly highest: number;
  readonly options: FitOptions;
  readonly best: CauseFit;
}

export interface CauseOfBlur {
  /** Null: sharp. */
  readonly best: CauseFit | null;
  readonly runnerUp: CauseFit | null;
  /** Cost and floor without any blur. */
  readonly sharpCost: number;
  readonly sharpFloor: number;
  /** All places' spectrum as one, and the family that explains it best: what a path must beat. */
  readonly merged: MergedFit;
  /** Sizes by place, where they differ clearly; else empty. */
  readonly sizes: readonly PlaceSize[];
}

/** No blur is the verdict when it costs less than this many times the best. */
const SHARP_RATIO = 1.1;
const LEAST_SIGMA = 0.45;
/** Fur and grass run in one direction and imitate a movement: a line must explain this much more to be believed. */
const LINE_CAUTION = 1.05;
/** Lens and sensor alone rarely blur beyond σ 1 px: past it a Gaussian loses near ties against a disc. */
const WIDE_GAUSSIAN_CAUTION = 0.05;
/** Blur varies where one size for all places explains them this much worse than each its own (measured: 1.05 and more
 * where the depth varies, below 1.02 where it does not). */
const VARYING_COST = 1.03;
/** A subject of which this share of windows is out of focus is soft, even where the rest is sharp. */
const PARTLY_SHARE = 0.25;
/** Diameter, px, from which a place is out of focus; half of the subject must be, or what is soft is depth of field. */
const OUT_OF_FOCUS_PX = 2.6;
/** JPEG leaves nothing to be believed at higher frequencies, cycles per px. */
export const JPEG_HIGHEST = 0.3;
const COARSE_ROUNDS = 4;
const FINE_ROUNDS = 8;

/**
 * Finds the family, size and direction whose transfer function explains the power spectra best: a robust Whittle fit
 * of A·f^−β·(angular terms)·|H|² + N. Direction and length of a movement are common to all places; the size of a
 * missed focus or softness may differ from place to place.
 *
 * @param jpeg - JPEG hides the noise floor: the floor then floats and the fit stops at 0.3 cycles per px.
 * Source: own study of generated cases; Whittle, Arkiv för Matematik 2 (1953) for the likelihood; Huber, Annals of
 * Mathematical Statistics 35 (1964) for the robust loss.
 */
export function findCause(places: readonly LocalSpectrum[], noiseVariance: number, jpeg: boolean): CauseOfBlur {
  const highest = jpeg ? JPEG_HIGHEST : 0.5;
  const options = floorOptions(noiseVariance, jpeg);
  const merged = mergeSpectra(places);
  const coarse = samplesOf(merged, highest, 7);
  const fine = samplesOf(merged, highest, 1);
  const common = {
    softness: searchSize('ordinary-softness', softnessSteps, coarse, fine, options),
    focus: searchSize('missed-focus', focusSteps(merged.side), coarse, fine, options),
    movement: searchLine(merged.side * 0.32, coarse, fine, options),
  };
  const families = [common.softness, common.focus, common.movement];
  const together = {
    samples: fine,
    highest,
    options,
    best: families.reduce((least, fit) => (fit.cost < least.cost ? fit : least)),
  };
  const byPlace = places.map((place) => fitPlace(place, common, highest, options));
  const total = (pick: (fits: PlaceFits) => number) => mean(byPlace, pick);
  const sharpCost = total((fits) => fits.sharp.cost);
  const oneSize = total((fits) => fits.commonFocus.fit.cost);
  const varies = byPlace.length >= 3 && oneSize > VARYING_COST * total((fits) => fits.focus.fit.cost);
  const sharpest = () => total((fits) => fits.sharp.floor);
  const candidates = [
    {
      ...withTotals(common.softness, byPlace, varies, (fits) => fits.softness),
      caution: 1 + WIDE_GAUSSIAN_CAUTION * Math.min(1, Math.max(0, common.softness.size - 1)),
    },
    { ...withTotals(common.focus, byPlace, varies, (fits) => fits.focus), caution: 1 },
    { ...withTotals(common.movement, byPlace, false, (fits) => fits.movement), sizes: [], caution: LINE_CAUTION },
  ].sort((a, b) => a.fit.cost * a.caution - b.fit.cost * b.caution);
  const [best, second] = candidates;
  const tooSmall = best.fit.cause === 'ordinary-softness' && best.fit.size < LEAST_SIGMA;
  const unclear = tooSmall || sharpCost < SHARP_RATIO * best.fit.cost;
  const partly = mean(byPlace, isOutOfFocus) >= PARTLY_SHARE && best.fit.cause !== 'straight-movement';
  // A softness that changes over the subject changes with depth: that is focus, not the lens.
  const depth = candidates.find(({ fit, sizes }) => fit.cause === 'missed-focus' && sizes.length > 0);
  const mostlySoft = depth !== undefined && 2 * depth.fit.size > OUT_OF_FOCUS_PX;
  if (partly && mostlySoft && (unclear || best.sizes.length > 0)) {
    const rival = candidates.find((candidate) => candidate !== depth)!.fit;
    return {
      best: depth.fit,
      runnerUp: rival,
      sharpCost,
      sharpFloor: sharpest(),
      merged: together,
      sizes: depth.sizes,
    };
  }
  const isSharp = unclear;
  return {
    best: isSharp ? null : best.fit,
    runnerUp: isSharp ? best.fit : second.fit,
    sharpCost,
    sharpFloor: sharpest(),
    merged: together,
    sizes: isSharp ? [] : best.sizes,
  };
}

/** Where the blur is told: only the noise floor is found, under that blur. */
export function floorUnder(psf: Psf, places: readonly LocalSpectrum[], noiseVariance: number, jpeg: boolean): number {
  const samples = samplesOf(mergeSpectra(places), jpeg ? JPEG_HIGHEST : 0.5, 1);
  return fitSpectrum(samples, logGainOfPsf(psf, samples), floorOptions(noiseVariance, jpeg), FINE_ROUNDS).floor;
}

function floorOptions(noiseVariance: number, jpeg: boolean): FitOptions {
  return { logFloor: Math.log(Math.max(noiseVariance, 1e-9)), floorSpread: jpeg ? 2 : 0.7 };
}

/** 1 for a place whose own disc is clearly wider than a pixel's blur and explains clearly more than sharpness. */
function isOutOfFocus({ focus, sharp }: PlaceFits): number {
  return 2 * focus.size > OUT_OF_FOCUS_PX && sharp.cost > 1.08 * focus.fit.cost ? 1 : 0;
}

interface PlaceFits {
  readonly place: LocalSpectrum;
  readonly sharp: SpectralFit;
  readonly softness: Candidate;
  readonly focus: Candidate;
  readonly movement: Candidate;
  readonly commonFocus: Candidate;
}

function fitPlace(
  place: LocalSpectrum,
  common: { movement: CauseFit; softness: CauseFit; focus: CauseFit },
  highest: number,
  options: FitOptions,
): PlaceFits {
  const fine = samplesOf(place.spectrum, highest, 3);
  const few = samplesOf(place.spectrum, highest, 7);
  const { movement } = common;
  const local = (cause: BlurCause, sizes: readonly number[]) => {
    const costs = new Map<number, Candidate>();
    let best = 0;
    const look = (at: number) => {
      if (at < 0 || at >= sizes.length || costs.has(at)) return;
      const start = costs.get(best)?.fit.parameters;
      costs.set(at, tryOne(cause, sizes[at], 0, few, options, COARSE_ROUNDS, start));
      if (costs.get(at)!.fit.cost < costs.get(best)!.fit.cost) best = at;
    };
    for (let at = 0; at < sizes.length; at += 3) look(at);
    for (const at of [best - 2, best - 1, best + 1, best + 2]) look(at);
    return tryOne(cause, sizes[best], 0, fine, options, COARSE_ROUNDS, costs.get(best)!.fit.parameters);
  };
  return {
    place,
    sharp: fitSpectrum(fine, new Float64Array(fine.count), options, FINE_ROUNDS),
    softness: local('ordinary-softness', softnessSteps),
    focus: local('missed-focus', focusSteps(place.spectrum.side)),
    commonFocus: tryOne('missed-focus', common.focus.size, 0, fine, options, FINE_ROUNDS),
    movement: tryOne('straight-movement', movement.size, movement.directionDeg, fine, options, FINE_ROUNDS),
  };
}

function mean(byPlace: readonly PlaceFits[], pick: (fits: PlaceFits) => number): number {
  const windows = byPlace.reduce((sum, { place }) => sum + place.spectrum.windows, 0);
  return byPlace.reduce((sum, fits) => sum + pick(fits) * fits.place.spectrum.windows, 0) / windows;
}

/**
 * The family's cost and floor over all places. Where the places want sizes of their own, their weighted median replaces
 * the common size; where they agree, the common fit is the more exact one.
 */
function withTotals(
  common: CauseFit,
  byPlace: readonly PlaceFits[],
  varies: boolean,
  pick: (fits: PlaceFits) => Candidate,
) {
  const cost = mean(byPlace, (fits) => pick(fits).fit.cost);
  const floor = mean(byPlace, (fits) => pick(fits).fit.floor);
  if (!varies) return { fit: { ...common, cost, floor }, sizes: [] };
  const sizes = byPlace.map((fits) => ({ x: fits.place.x, y: fits.place.y, size: pick(fits).size }));
  return { fit: { ...common, cost, floor, size: weightedMedian(byPlace, (fits) => pick(fits).size) }, sizes };
}

function weightedMedian(byPlace: readonly PlaceFits[], pick: (fits: PlaceFits) => number): number {
  const sorted = [...byPlace].sort((a, b) => pick(a) - pick(b));
  const windows = sorted.reduce((sum, { place }) => sum + place.spectrum.windows, 0);
  let passed = 0;
  for (const fits of sorted) {
    passed += fits.place.spectrum.windows;
    if (passed >= windows / 2) return pick(fits);
  }
  return pick(sorted[sorted.length - 1]);
}

/** Blur size as words.md defines it: full width at half maximum, diameter, or length. */
export function blurSizeOf(fit: CauseFit): number {
  if (fit.cause === 'ordinary-softness') return fit.size * FWHM_PER_SIGMA;
  return fit.cause === 'missed-focus' ? 2 * fit.size : fit.size;
}

function steps(from: number, to: number, factor: number): number[] {
  const sizes: number[] = [];
  for (let size = from; size <= to; size *= factor) sizes.push(size);
  return sizes;
}

const softnessSteps = steps(0.3, 5, 1.12);
const focusSteps = (side: number) => steps(0.6, Math.min(16, side / 7), 1.08);

/** ln |H|² of a family at every sample. */
export function logGainOf(
  cause: BlurCause,
  size: number,
  directionDeg: number,
  samples: SpectrumSamples,
): Float64Array {
  const gain = new Float64Array(samples.count);
  const alongX = Math.cos((directionDeg * Math.PI) / 180);
  const alongY = -Math.sin((directionDeg * Math.PI) / 180);
  for (let i = 0; i < gain.length; i++) {
    let h: number;
    if (cause === 'ordinary-softness') {
      h = Math.exp(-2 * (Math.PI * size * samples.f[i]) ** 2);
    } else if (cause === 'missed-focus') {
      const x = 2 * Math.PI * size * samples.f[i];
      h = x < 1e-6 ? 1 : (2 * besselJ1(x)) / x;
    } else {
      const x = Math.PI * size * (samples.fx[i] * alongX + samples.fy[i] * alongY);
      h = Math.abs(x) < 1e-6 ? 1 : Math.sin(x) / x;
    }
    gain[i] = Math.log(h * h + GAIN_FLOOR);
  }
  return gain;
}

interface Candidate {
  readonly size: number;
  readonly directionDeg: number;
  readonly fit: SpectralFit;
}

function tryOne(
  cause: BlurCause,
  size: number,
  directionDeg: number,
  samples: SpectrumSamples,
  options: FitOptions,
  rounds: number,
  start?: readonly number[],
): Candidate {
  const gain = logGainOf(cause, size, directionDeg, samples);
  return { size, directionDeg, fit: fitSpectrum(samples, gain, options, rounds, start) };
}

function searchSize(
  cause: BlurCause,
  sizes: readonly number[],
  coarse: SpectrumSamples,
  fine: SpectrumSamples,
  options: FitOptions,
): CauseFit {
  let best: Candidate | null = null;
  for (const size of sizes) {
    const candidate = tryOne(cause, size, 0, coarse, options, COARSE_ROUNDS, best?.fit.parameters);
    if (!best || candidate.fit.cost < best.fit.cost) best = candidate;
  }
  return refine(cause, best!, best!.size * 0.06, 0, fine, options);
}

function searchLine(longest: number, coarse: SpectrumSamples, fine: SpectrumSamples, options: FitOptions): CauseFit {
  let best: Candidate | null = null;
  for (const length of steps(2, longest, 1.12)) {
    const angleStep = Math.min(30, Math.max(5, 120 / length));
    for (let angle = 0; angle < 179.9; angle += 180 / Math.round(180 / angleStep)) {
      const candidate = tryOne('straight-movement', length, angle, coarse, options, 3, best?.fit.parameters);
      if (!best || candidate.fit.cost < best.fit.cost) best = candidate;
    }
  }
  return refine('straight-movement', best!, best!.size * 0.06, Math.min(12, 50 / best!.size), fine, options);
}

/** Halves the steps of size and direction around the best until they no longer matter. */
function refine(
  cause: BlurCause,
  from: Candidate,
  sizeStep: number,
  angleStep: number,
  fine: SpectrumSamples,
  options: FitOptions,
): CauseFit {
  let best = tryOne(cause, from.size, from.directionDeg, fine, options, FINE_ROUNDS, from.fit.parameters);
  for (let halving = 0; halving < 5; halving++) {
    const around = [
      [sizeStep, 0],
      [-sizeStep, 0],
      ...(angleStep > 0
        ? [
            [0, angleStep],
            [0, -angleStep],
          ]
        : []),
    ];
    for (let moved = true, guard = 0; moved && guard < 6; guard++) {
      moved = false;
      for (const [bySize, byAngle] of around) {
        if (best.size + bySize < 0.2) continue;
        const next = tryOne(
          cause,
          best.size + bySize,
          best.directionDeg + byAngle,
          fine,
          options,
          3,
          best.fit.parameters,
        );
        if (next.fit.cost < best.fit.cost - 1e-7) {
          best = next;
          moved = true;
        }
      }
    }
    sizeStep /= 2;
    angleStep /= 2;
  }
  return {
    cause,
    size: best.size,
    directionDeg: ((best.directionDeg % 180) + 180) % 180,
    cost: best.fit.cost,
    floor: best.fit.floor,
  };
}
