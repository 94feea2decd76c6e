import { besselJ1 } from '../psf/bessel';
import { FWHM_PER_SIGMA } from '../psf/gaussianPsf';
import type { LocalSpectrum } from './powerSpectrum';
import { GAIN_FLOOR } from './psfGain';
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

const COARSE_ROUNDS = 4;
export const FINE_ROUNDS = 8;

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

export const softnessSteps = steps(0.3, 5, 1.12);
export const focusSteps = (side: number) => steps(0.6, Math.min(16, side / 7), 1.08);

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

export interface Candidate {
  readonly size: number;
  readonly directionDeg: number;
  readonly fit: SpectralFit;
}

export function tryOne(
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

/**
 * Sizes at which a family explains the spectrum better than a little smaller and a little larger ones, the best first,
 * and at last the smallest that explains it nearly as well as the best.
 */
export function searchSize(
  cause: BlurCause,
  sizes: readonly number[],
  coarse: SpectrumSamples,
  fine: SpectrumSamples,
  options: FitOptions,
): CauseFit[] {
  const tried: Candidate[] = [];
  let best: Candidate | null = null;
  for (const size of sizes) {
    const candidate = tryOne(cause, size, 0, coarse, options, COARSE_ROUNDS, best?.fit.parameters);
    tried.push(candidate);
    if (!best || candidate.fit.cost < best.fit.cost) best = candidate;
  }
  return leastOf(tried).map((at) => refine(cause, at, at.size * 0.06, 0, fine, options));
}

/** The same of movements, each length in the direction that suits it best. */
export function searchLine(
  longest: number,
  coarse: SpectrumSamples,
  fine: SpectrumSamples,
  options: FitOptions,
): CauseFit[] {
  const tried: Candidate[] = [];
  let best: Candidate | null = null;
  for (const length of steps(2, longest, 1.12)) {
    const angleStep = Math.min(30, Math.max(5, 120 / length));
    let own: Candidate | null = null;
    for (let angle = 0; angle < 179.9; angle += 180 / Math.round(180 / angleStep)) {
      const candidate = tryOne('straight-movement', length, angle, coarse, options, 3, best?.fit.parameters);
      if (!own || candidate.fit.cost < own.fit.cost) own = candidate;
      if (!best || candidate.fit.cost < best.fit.cost) best = candidate;
    }
    tried.push(own!);
  }
  return leastOf(tried).map((at) =>
    refine('straight-movement', at, at.size * 0.06, Math.min(12, 50 / at.size), fine, options),
  );
}

/** So many sizes of a family are looked at closely, none that costs more than this many times the best. */
const MOST_MINIMA = 3;
const WORTH_A_LOOK = 1.6;

const NEARLY_AS_WELL = 1.1;

function leastOf(tried: readonly Candidate[]): Candidate[] {
  const cost = (i: number) => tried[i]?.fit.cost ?? Infinity;
  const minima = tried.filter((_, i) => cost(i) <= cost(i - 1) && cost(i) < cost(i + 1));
  minima.sort((a, b) => a.fit.cost - b.fit.cost);
  const least = minima[0].fit.cost;
  const smallest = tried.find(({ fit }) => fit.cost <= NEARLY_AS_WELL * least)!;
  const kept = minima.filter(({ fit }) => fit.cost <= WORTH_A_LOOK * least).slice(0, MOST_MINIMA);
  return kept.includes(smallest) ? kept : [...kept, smallest];
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

export interface PlaceFits {
  readonly place: LocalSpectrum;
  readonly sharp: SpectralFit;
  readonly softness: Candidate;
  readonly focus: Candidate;
  readonly movement: Candidate;
  readonly commonFocus: Candidate;
}

export function fitPlace(
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
