import type { Kernels } from '../kernels';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { type MergedFit } from '../spectrum/cause';
import { logGainOfPsf } from '../spectrum/psfGain';
import { psfOf } from '../methods';
import { fitSpectrum, samplesUpTo, type FitOptions, type SpectrumSamples } from '../spectrum/spectralFit';
import { LINEAR } from '../spectrum/spectralSums';
import { cleanPath, withoutSpecks } from './cleanPath';
import { carriedAt, psfOfCurve, type PathCurve } from '../psf/pathCurve';
import { edgeCostOn } from './edgeCost';
import { estimatePath, pathAtSide, pathPyramid, type PathLevel, type PathOptions } from './estimatePath';
import { matchSpectrum } from './matchSpectrum';
import { rivalCost } from './rivalCost';
import { LEAST_LIGHT, mendPath } from './mendPath';
import { placesDiffer, readTurn, type TurnFit } from './readTurn';
import { richestPieces } from './richestPieces';
import { beginCurves } from './searchCurve';
import { inSquare, likenessOf, spreadOf } from './pathLikeness';
import { MOST_PATH_COLUMNS, MOST_PATH_SIDE } from '../psf/storedPath';
import { samplesIn, squareAround, turnPlaces } from './turnPlaces';
import { blurSizeOf, logGainOf, type CauseFit } from '../spectrum/fitCause';

const PIECES = 2;
const SIDE = 23;
/** Both are followed to half size on every piece, where the best ones decide whether a path is looked for at all. */
const STARTS: readonly PathOptions[] = [
  { side: SIDE, edgePrice: 1e-3, priceFall: 1.4 },
  { side: SIDE, edgePrice: 7e-4, priceFall: 1.9 },
];
/**
 * Measured at half size, best start against best family: 0.6 to 1.5, once 2.1, where the camera shook, else mostly 1.5
 * to 10.
 */
const HOPELESS_RATIO = 3;
const HALF_SIZE_LEVEL = 2;
const HALF_SIZE_HIGHEST = 0.25;
/**
 * What a curve costs at frequencies up to 0.2 beside the best family: 0.16 to 0.60 where the camera shook, 0.61 to 0.99
 * where it did not. A turning camera's one curve costs 0.39 to 0.87 of the best family, looked at in full.
 */
const HOPELESS_LEAD = 0.85;
const TURN_LEAD = 0.65;
const TURN_COST = 0.95;
const WIDEST = 41;
/** px that a curve may be mended beyond its square. */
const ROOM = 2;
const ROUNDS = 8;
/** Of movements, paths came out 0.78 and more like the movement found and 0.87 to 1.23 times as wide; of shakes, up to 0.88 like the best
 * movement, but 1.5 times as wide and more, or at most 0.61 like it. */
const ALIKE = 0.7;
const AS_WIDE = 1.35;
const TRACE = 1e-4;

/** The path as a place of the plane saw it. */
export interface PlacedPath {
  readonly x: number;
  readonly y: number;
  readonly path: Psf;
}

export interface ShakeFit {
  readonly path: Psf;
  /**
   * Where the camera turned as well: the path at places on a grid, row by row; else none. Mended only when they are
   * asked for.
   */
  readonly places: () => PlacedPath[];
  /** The camera turned as well: the spectrum of all places together then belongs to no path. */
  readonly hasTurned: boolean;
  /** Cost of the spectral fit with the path as a curve, and the noise floor under it. */
  readonly cost: number;
  readonly floor: number;
  /** Its cost over the best family's, both bent towards the spectrum alike: under 1 the path explains more. */
  readonly rivalRatio: number;
  /** How like the curve is to what the picture made of it, 0..1 (cosine). */
  readonly agreement: number;
}

/**
 * The free path that explains the picture best: a curve in time that explains the power spectrum of all of the used
 * area, chosen by what it makes of the piece with most edges, then mended there without the curve's bounds. Over a wide
 * area the camera may have turned as well: one curve and one turn then explain the spectra of its places, and the path
 * is mended place by place.
 *
 * @returns Null where the used area is too small, where the first estimates are hopelessly worse than a family, where
 * only endless curves explain it, or where the path is no other than the family's.
 */
export function readShake(
  luma: Plane,
  use: Plane,
  clipped: Uint8Array,
  merged: MergedFit,
  kernels: Kernels,
): ShakeFit | null {
  const { options, highest } = merged;
  const coarse = samplesUpTo(merged.samples, HALF_SIZE_HIGHEST);
  const pieces = richestPieces(luma, use, PIECES);
  const pyramids = pieces.map((place) => pathPyramid(cropPlane(luma, place), cropPlane(use, place), WIDEST));
  const estimates = pyramids.flatMap((pyramid) =>
    STARTS.map((start) => estimatePath(pyramid, start, kernels, HALF_SIZE_LEVEL)),
  );
  const least = Math.min(...estimates.map((path) => costOf(pathAtSide(path, SIDE), coarse, options)));
  if (estimates.length === 0 || least > HOPELESS_RATIO * rivalCost(merged, coarse)) return null;
  const [piece] = pieces;
  const [richest] = pyramids;
  const edgeCost = edgeCostOn(richest[HALF_SIZE_LEVEL], 2 ** (HALF_SIZE_LEVEL / 2), kernels);
  const finalCost = edgeCostOn(richest[0], 1, kernels);
  const pivot = { x: piece.x + piece.width / 2, y: piece.y + piece.height / 2 };
  const begun = beginCurves([{ samples: merged.samples, carried: carriedAt({ x: 0, y: 0 }) }], options, kernels);
  const lead = begun.cost / rivalCost(merged, begun.samples);
  if (lead > HOPELESS_LEAD) return null;
  const one = begun.finish(edgeCost, finalCost);
  const mayTurn = lead < TURN_LEAD && one.cost < TURN_COST * merged.best.cost;
  const spectra = mayTurn ? turnPlaces(luma, use, clipped, highest) : [];
  const turn = placesDiffer(spectra, options, one.curve, kernels)
    ? readTurn(spectra, options, pivot, edgeCost, finalCost, kernels)
    : null;
  // One place's spectrum is free of what the turn does to the others.
  const local = turn && samplesIn(piece, luma, use, clipped, highest);
  if (local) {
    const gain = logGainOf(merged.best.cause, merged.best.size, merged.best.directionDeg, local);
    const family = { ...merged.best, cost: fitSpectrum(local, gain, options, ROUNDS).cost };
    const { cost, floor } = fitSpectrum(local, logGainOfPsf(psfOfCurve(turn.curve), local), options, ROUNDS);
    const fit = weighed({ curve: turn.curve, cost, floor }, richest[0], { samples: local, options, family }, kernels);
    return fit && { ...fit, hasTurned: true, places: () => mendedPlaces(turn, luma, use, clipped, merged, kernels) };
  }
  if (one.score === Infinity) return null;
  const found = { ...one, floor: Math.exp(one.parameters[0][LINEAR]) };
  return weighed(found, richest[0], { samples: merged.samples, options, family: merged.best }, kernels);
}

interface Found {
  readonly curve: PathCurve;
  readonly cost: number;
  readonly floor: number;
}

interface Evidence {
  readonly samples: SpectrumSamples;
  readonly options: FitOptions;
  readonly family: CauseFit;
}

/** The curve mended by the picture and weighed against the best family; null where it is the family's own path. */
function weighed(
  { curve, cost, floor }: Found,
  level: PathLevel,
  { samples, options, family }: Evidence,
  kernels: Kernels,
): ShakeFit | null {
  const drawn = drawnWithRoom(curve, WIDEST);
  const { mended, bent } = mendedBy(level, drawn, samples, options, kernels);
  const path = cleanPath(sumOf(mended, bent), LEAST_LIGHT);
  const straight = familyIn(family, path.width);
  if (isSame(path, straight)) return null;
  const rival = matchSpectrum(straight, samples, options, kernels);
  const rivalBest = Math.min(costOf(rival, samples, options), family.cost);
  return {
    path,
    hasTurned: false,
    places: () => [],
    agreement: likenessOf(mended, drawn),
    cost,
    floor,
    rivalRatio: costOf(bent, samples, options) / rivalBest,
  };
}

function drawnWithRoom(curve: PathCurve, widest: number): Psf {
  const drawn = psfOfCurve(curve);
  return inSquare(drawn, Math.min(widest, drawn.width + 2 * ROOM));
}

/** What the picture makes of a path, and that bent towards the spectrum. */
function mendedBy(level: PathLevel, drawn: Psf, samples: SpectrumSamples, options: FitOptions, kernels: Kernels) {
  const mended = mendPath(level, drawn, kernels);
  return { mended, bent: matchSpectrum(mended, samples, options, kernels) };
}

function sumOf(a: Psf, b: Psf): Psf {
  return { ...a, data: a.data.map((value, i) => value + b.data[i]) };
}

/** Between neighbouring places a path may change by so many px; the square that each is mended in. */
const PLACE_CHANGE_PX = 3;
const PLACE_PX = 400;

/** The path at places on a grid, each as the turn has it and mended there where the picture can. */
function mendedPlaces(
  { at, swing }: TurnFit,
  luma: Plane,
  use: Plane,
  clipped: Uint8Array,
  { options, highest }: MergedFit,
  kernels: Kernels,
): PlacedPath[] {
  const countOver = (length: number) =>
    Math.min(MOST_PATH_COLUMNS, Math.max(1, Math.ceil((swing * length) / PLACE_CHANGE_PX)));
  const [columns, rows] = [countOver(luma.width), countOver(luma.height)];
  return Array.from({ length: columns * rows }, (_, i) => {
    const x = ((i % columns) + 0.5) * (luma.width / columns);
    const y = (Math.floor(i / columns) + 0.5) * (luma.height / rows);
    const drawn = drawnWithRoom(at(x, y), MOST_PATH_SIDE);
    const part = squareAround(luma, x, y, PLACE_PX);
    const samples = samplesIn(part, luma, use, clipped, highest);
    if (!samples) return { x, y, path: drawn };
    const [level] = pathPyramid(cropPlane(luma, part), cropPlane(use, part), 1);
    const { mended, bent } = mendedBy(level, drawn, samples, options, kernels);
    return { x, y, path: withoutSpecks(sumOf(mended, bent), LEAST_LIGHT) };
  });
}

/** An estimated path is never exact; its error acts like noise of this variance, times the square of the fit's cost. */
const PATH_ERROR = 8e-4;
/** A curve that is right is mended by about this at most (1 − cosine); most wrong ones by 0.09 to 0.26. */
const USUAL_DISAGREEMENT = 0.06;

/** Variance of the noise that a path's error acts like, linear light. */
export function pathError({ cost, agreement }: ShakeFit): number {
  return PATH_ERROR * cost ** 2 * Math.max(1, (1 - agreement) / USUAL_DISAGREEMENT) ** 2;
}

/** The path is the family's own: as wide, and like it. */
function isSame(path: Psf, family: Psf): boolean {
  const width = spreadOf(path) / spreadOf(family);
  return width < AS_WIDE && width > 1 / AS_WIDE && likenessOf(inSquare(path, family.width), family) > ALIKE;
}

/** A family's point spread function in a square of at least `side`, with a trace of light everywhere to grow from. */
function familyIn(family: CauseFit, side: number): Psf {
  const { cause: method, directionDeg } = family;
  const psf = psfOf({ method, blurSizePx: blurSizeOf(family), directionDeg });
  const room = Math.max(side, psf.width);
  const values = new Float32Array(room * room).fill(TRACE / (room * room));
  const rim = (room - psf.width) / 2;
  for (let y = 0; y < psf.height; y++) {
    for (let x = 0; x < psf.width; x++) values[(y + rim) * room + x + rim] += psf.data[y * psf.width + x];
  }
  return normalisedPsf(room, room, values);
}

function costOf(path: Psf, samples: SpectrumSamples, options: FitOptions): number {
  return fitSpectrum(samples, logGainOfPsf(path, samples), options, ROUNDS).cost;
}
