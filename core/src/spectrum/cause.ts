import type { Psf } from '../psf/psf';
import { logGainOfPsf } from './psfGain';
import { mergeSpectra, type LocalSpectrum } from './powerSpectrum';
import { fitSpectrum, samplesOf, type FitOptions, type SpectrumSamples } from './spectralFit';
import {
  fitPlace,
  focusSteps,
  searchLine,
  searchSize,
  softnessSteps,
  FINE_ROUNDS,
  type Candidate,
  type CauseFit,
  type PlaceFits,
} from './fitCause';

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
  /** Every family as well as it explains all places, the likeliest first. */
  readonly families: readonly CauseFit[];
  /** Other sizes at which a family explains the spectrum of all places together nearly as well as at its best one. */
  readonly otherSizes: readonly CauseFit[];
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
/**
 * Finds the family, size and direction whose transfer function explains the power spectra best: a robust Whittle fit
 * of A·f^−β·(angular terms)·|H|² + N. Direction and length of a movement are common to all places; the size of a
 * missed focus or softness may differ from place to place.
 *
 * @param every - Of so many samples one is looked at: fewer are quicker, and tell sizes less exactly.
 * @param jpeg - JPEG hides the noise floor: the floor then floats and the fit stops at 0.3 cycles per px.
 * Source: own study of generated cases; Whittle, Arkiv för Matematik 2 (1953) for the likelihood; Huber, Annals of
 * Mathematical Statistics 35 (1964) for the robust loss.
 */
export function findCause(
  places: readonly LocalSpectrum[],
  noiseVariance: number,
  jpeg: boolean,
  every = 1,
): CauseOfBlur {
  const highest = jpeg ? JPEG_HIGHEST : 0.5;
  const options = floorOptions(noiseVariance, jpeg);
  const merged = mergeSpectra(places);
  const coarse = samplesOf(merged, highest, 7);
  const fine = samplesOf(merged, highest, every);
  const minima = {
    softness: searchSize('ordinary-softness', softnessSteps, coarse, fine, options),
    focus: searchSize('missed-focus', focusSteps(merged.side), coarse, fine, options),
    movement: searchLine(merged.side * 0.32, coarse, fine, options),
  };
  const common = { softness: minima.softness[0], focus: minima.focus[0], movement: minima.movement[0] };
  const otherSizes = [minima.softness, minima.focus, minima.movement].flatMap(([, ...others]) => others);
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
  const ranked = candidates.map(({ fit }) => fit);
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
      families: ranked,
      otherSizes,
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
    families: ranked,
    otherSizes,
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
