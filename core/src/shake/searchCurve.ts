import type { Kernels } from '../kernels';
import { fitSpectrum, samplesUpTo, type FitOptions, type SpectrumSamples } from '../spectrum/spectralFit';
import { seededRandom, type SeededRandom } from '../seededRandom';
import { carriedAt, CONTROLS, mirrored, pointsOf, POINTS, wanderingCurve, type PathCurve } from '../psf/pathCurve';
import { startCurve } from './startCurves';
import { fitCurve, type CurveFit, type CurvePlace, type CurveStart } from './fitCurve';

/** A curve that explains the spectrum, and what the picture says of it. */
export interface JudgedCurve extends CurveFit {
  /** Product of what the spectrum and the picture say: the first knows no direction, the second no strength. */
  readonly score: number;
}

/** Longer sides of the boxes of the curves that are begun with, px, so many of each. */
const EXTENTS_PX = [6, 10, 15, 22, 32];
const STARTS_EACH = 40;
const ROUGH_STARTS_EACH = 8;
/** Several places tell more: of seven turning cameras none was missed with half as many. */
const TURNING_STARTS_EACH = 20;
/** Frequencies are let in step by step: first the size and the rough course, at last every bend. */
export const LEVELS = [
  { highest: 0.1, every: 1, rounds: 12, kept: 40 },
  { highest: 0.2, every: 2, rounds: 10, kept: 12 },
  { highest: 0.5, every: 5, rounds: 10, kept: 4 },
];
/**
 * So many of the best are judged once more at full size, where the picture tells more and has so many times the say.
 */
const FINALISTS = 6;
const FINAL_SAY = 3;
const HOP_ROUNDS = 2;
const HOP_BASES = 3;
/** Controls from which on a curve is turned round. */
const TURNING_CONTROLS = [4, 7, 10];
const JITTERS = 4;
const JITTER_PX = 1.2;
const JITTER_STEADINESS = 0.7;
/** Standard deviation of the turns that are begun with, px. */
const TURN_PX = 1.5;
/** So many places together are asked for as many samples as one. */
const PLACES_AS_ONE = 3;
/** A curve that costs more than this many times the best is not looked at in the picture. */
const HOPELESS = 1.25;
/** Costs and second moments that differ by less are of one curve, or of its mirror image. */
const SAME_COST = 0.002;
const SAME_MOMENT = 0.03;

/**
 * The curve whose power spectrum explains the measured one, its direction told by the picture. A spectrum leaves many
 * wrong curves that explain it nearly as well, so many starts are followed, and the best are torn up and followed
 * again.
 *
 * @param places - Several: a turn of the camera is looked for as well, and the picture tells only which way round the
 * curve runs.
 * @param edgeCost - What the picture of few edges under a path costs, at half size; `finalCost` the same at full size.
 */
export function searchCurve(
  places: readonly CurvePlace[],
  options: FitOptions,
  edgeCost: (curve: PathCurve) => number,
  finalCost: (curve: PathCurve) => number,
  kernels: Kernels,
): JudgedCurve {
  return beginCurves(places, options, kernels).finish(edgeCost, finalCost);
}

/** Curves followed as far as their rough course goes. */
export interface BegunCurves {
  /** What the best of them costs. */
  readonly cost: number;
  /** Of the first place, as far as they were looked at. */
  readonly samples: SpectrumSamples;
  /** All the rest of the search. */
  finish(edgeCost: (curve: PathCurve) => number, finalCost: (curve: PathCurve) => number): JudgedCurve;
}

/** The first half of the search, in which the picture has no say: enough to tell whether a curve explains anything. */
export function beginCurves(places: readonly CurvePlace[], options: FitOptions, kernels: Kernels): BegunCurves {
  const random = seededRandom(1);
  const turns = places.length > 1;
  const parameters = places.map(({ samples }) => firstParameters(samples, options));
  const thinning = Math.ceil(places.length / PLACES_AS_ONE);
  const levels = LEVELS.map(({ highest, every, ...level }) => ({
    ...level,
    places: places.map((place) => ({ ...place, samples: samplesUpTo(place.samples, highest, every * thinning) })),
  }));
  const [low, middle, high] = levels;
  const follow = (starts: readonly CurveStart[], level: (typeof levels)[number]) =>
    best(
      starts.map((start) => fitCurve(level.places, options, start, level.rounds, kernels)),
      level.kept,
    );
  const starts = EXTENTS_PX.flatMap((extent) =>
    times(turns ? TURNING_STARTS_EACH : STARTS_EACH, (at) => ({
      curve: turns ? wanderingCurve(random, extent) : startCurve(random, extent, at),
      turn: turns ? TURN_PX * random.normal() : null,
      parameters,
    })),
  );
  const begun = follow(follow(starts, low), middle);
  return {
    cost: begun[0].cost,
    samples: middle.places[0].samples,
    finish: (edgeCost, finalCost) => finishCurves(begun, { middle, high, follow, random, turns }, edgeCost, finalCost),
  };
}

interface CurveSearch<Level> {
  readonly middle: Level;
  readonly high: Level;
  follow(starts: readonly CurveStart[], level: Level): CurveFit[];
  readonly random: SeededRandom;
  readonly turns: boolean;
}

function finishCurves<Level>(
  begun: readonly CurveFit[],
  { middle, high, follow, random, turns }: CurveSearch<Level>,
  edgeCost: (curve: PathCurve) => number,
  finalCost: (curve: PathCurve) => number,
): JudgedCurve {
  const found = follow(begun, high);
  const judge = (fit: CurveFit): JudgedCurve => ({ ...fit, score: fit.cost * edgeCost(fit.curve) });
  const judgeBothWays = (fit: CurveFit) => {
    const [one, other] = [judge(fit), judge(mirrorImage(fit))];
    return one.score <= other.score ? one : other;
  };
  let judged = found.map(judgeBothWays).sort(byScore);
  for (let round = 0; round < HOP_ROUNDS; round++) {
    for (const base of judged.slice(0, HOP_BASES)) {
      for (const curve of [...turned(base.curve), ...times(JITTERS, () => jittered(base.curve, random))]) {
        const limit = HOPELESS * judged[0].cost;
        const [coarse] = follow([{ ...base, curve }], middle);
        if (coarse.cost > limit) continue;
        const [fit] = follow([coarse], high);
        if (fit.cost <= limit && !judged.some((known) => isSame(known, fit))) judged.push(judgeBothWays(fit));
      }
    }
    judged = judged.sort(byScore);
  }
  if (turns) {
    const least = judged.reduce((a, b) => (b.cost < a.cost ? b : a));
    return [least, mirrorImage(least)]
      .map((fit) => ({ ...fit, score: fit.cost * finalCost(fit.curve) }))
      .reduce((a, b) => (b.score < a.score ? b : a));
  }
  return judged
    .slice(0, FINALISTS)
    .map((fit) => ({ ...fit, score: fit.cost * finalCost(fit.curve) ** FINAL_SAY }))
    .reduce((a, b) => (b.score < a.score ? b : a));
}

/**
 * The curve that explains the coarsest part of a spectrum best, quickly: how far it reaches is told, not how it bends.
 * `highest` is the frequency up to which it was looked at.
 */
export function roughCurve(samples: SpectrumSamples, options: FitOptions, kernels: Kernels): CurveFit {
  const random = seededRandom(1);
  const [{ highest, every, rounds }] = LEVELS;
  const place = { samples: samplesUpTo(samples, highest, every), carried: carriedAt({ x: 0, y: 0 }) };
  const parameters = [firstParameters(samples, options)];
  const starts = EXTENTS_PX.flatMap((extent) =>
    times(ROUGH_STARTS_EACH, (at) => ({ curve: startCurve(random, extent, at), turn: null, parameters })),
  );
  return best(
    starts.map((start) => fitCurve([place], options, start, rounds, kernels)),
    1,
  )[0];
}

function mirrorImage(fit: CurveFit): CurveFit {
  return { ...fit, curve: mirrored(fit.curve), turn: fit.turn === null ? null : -fit.turn };
}

function byScore(a: JudgedCurve, b: JudgedCurve): number {
  return a.score - b.score;
}

function times<T>(count: number, make: (at: number) => T): T[] {
  return Array.from({ length: count }, (_, at) => make(at));
}

/** A spectrum under some softness, to begin with. */
function firstParameters(samples: SpectrumSamples, options: FitOptions): Float64Array {
  const gain = samples.f.map((f) => -18 * f);
  return Float64Array.from(fitSpectrum(samples, gain, options, 8).parameters);
}

/** The best ones that differ from each other. */
function best(fits: readonly CurveFit[], most: number): CurveFit[] {
  const kept: CurveFit[] = [];
  for (const fit of [...fits].sort((a, b) => a.cost - b.cost)) {
    if (kept.length === most) break;
    if (!kept.some((other) => isSame(other, fit))) kept.push(fit);
  }
  return kept;
}

function isSame(a: CurveFit, b: CurveFit): boolean {
  if (Math.abs(a.cost - b.cost) > SAME_COST * a.cost) return false;
  const [own, other] = [momentsOf(a.curve), momentsOf(b.curve)];
  const size = own[0] + own[2];
  return own.every((value, i) => Math.abs(value - other[i]) < SAME_MOMENT * size);
}

function momentsOf(curve: PathCurve): [number, number, number] {
  const { x, y } = pointsOf(curve);
  const mean = (values: Float64Array) => values.reduce((sum, value) => sum + value, 0) / POINTS;
  const [midX, midY] = [mean(x), mean(y)];
  return [
    mean(x.map((value) => (value - midX) ** 2)),
    mean(x.map((value, k) => (value - midX) * (y[k] - midY))),
    mean(y.map((value) => (value - midY) ** 2)),
  ];
}

/** The curve with what follows a control turned round it by half a circle: much of the spectrum stays. */
function turned(curve: PathCurve): PathCurve[] {
  return TURNING_CONTROLS.map((control) =>
    curve.map((value, i) => (i < 2 * control + 2 ? value : 2 * curve[2 * control + (i % 2)] - value)),
  );
}

function jittered(curve: PathCurve, random: { normal(): number }): PathCurve {
  const moved = curve.slice();
  const off = [0, 0];
  for (let i = 0; i < 2 * CONTROLS; i++) {
    off[i % 2] = JITTER_STEADINESS * off[i % 2] + JITTER_PX * random.normal();
    moved[i] += off[i % 2];
  }
  return moved;
}
