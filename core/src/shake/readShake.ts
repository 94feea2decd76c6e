import type { Kernels } from '../kernels';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { blurSizeOf, logGainOf, type CauseFit, type MergedFit } from '../read/cause';
import { logGainOfPsf } from '../read/psfGain';
import { psfOf } from '../recover/blurModel';
import { fitSpectrum, samplesUpTo, type FitOptions, type SpectrumSamples } from '../read/spectralFit';
import { LINEAR } from '../read/spectralSums';
import { cleanPath } from './cleanPath';
import { psfOfCurve } from './curve';
import { edgeCostOn } from './edgeCost';
import { estimatePath, pathAtSide, pathPyramid, type PathOptions } from './estimatePath';
import { matchSpectrum } from './matchSpectrum';
import { LEAST_LIGHT, mendPath } from './mendPath';
import { richestPieces } from './richestPieces';
import { searchCurve } from './searchCurve';

const PIECES = 2;
const SIDE = 23;
/** Both are followed to half size on every piece, where the best ones decide whether a path is looked for at all. */
const STARTS: readonly PathOptions[] = [
  { side: SIDE, edgePrice: 1e-3, priceFall: 1.4 },
  { side: SIDE, edgePrice: 7e-4, priceFall: 1.9 },
];
/** Measured at half size, best start against best family: 0.6 to 1.5, once 2.1, where the camera shook, else mostly 1.5 to 10. */
const HOPELESS_RATIO = 2.3;
const HALF_SIZE_LEVEL = 2;
const HALF_SIZE_HIGHEST = 0.25;
const WIDEST = 41;
/** px that a curve may be mended beyond its square. */
const ROOM = 2;
const ROUNDS = 8;
/** Of movements, paths came out 0.78 and more like the movement found and 0.87 to 1.23 times as wide; of shakes, up to 0.88 like the best
 * movement, but 1.5 times as wide and more, or at most 0.61 like it. */
const ALIKE = 0.7;
const AS_WIDE = 1.35;
const TRACE = 1e-4;

export interface ShakeFit {
  readonly path: Psf;
  /** Cost of the spectral fit with the path as a curve, and the noise floor under it. */
  readonly cost: number;
  readonly floor: number;
  /** Its cost over the best family's, both bent towards the spectrum alike: under 1 the path explains more. */
  readonly rivalRatio: number;
  /** How like the curve is to what the picture made of it, 0..1 (cosine). */
  readonly agreement: number;
}

/**
 * The free path that explains the picture best: a curve in time that explains the power spectrum of all of the used area,
 * chosen by what it makes of the piece with most edges, then mended there without the curve's bounds.
 *
 * @returns Null where the used area is too small, where the first estimates are hopelessly worse than a family, where only
 * endless curves explain it, or where the path is no other than the family's.
 */
export function readShake(luma: Plane, use: Plane, merged: MergedFit, kernels: Kernels): ShakeFit | null {
  const { samples, options } = merged;
  const coarse = samplesUpTo(samples, HALF_SIZE_HIGHEST);
  const pyramids = richestPieces(luma, use, PIECES).map((place) =>
    pathPyramid(cropPlane(luma, place), cropPlane(use, place), WIDEST),
  );
  const estimates = pyramids.flatMap((pyramid) =>
    STARTS.map((start) => estimatePath(pyramid, start, kernels, HALF_SIZE_LEVEL)),
  );
  const least = Math.min(...estimates.map((path) => costOf(pathAtSide(path, SIDE), coarse, options)));
  if (estimates.length === 0 || least > HOPELESS_RATIO * rivalCost(merged, coarse)) return null;
  const [richest] = pyramids;
  const edgeCost = edgeCostOn(richest[HALF_SIZE_LEVEL], 2 ** (HALF_SIZE_LEVEL / 2), kernels);
  const curve = searchCurve(samples, options, edgeCost, edgeCostOn(richest[0], 1, kernels), kernels);
  if (curve.score === Infinity) return null;
  const found = psfOfCurve(curve.curve);
  const drawn = inSquare(found, Math.min(WIDEST, found.width + 2 * ROOM));
  const mended = mendPath(richest[0], drawn, kernels);
  const bent = matchSpectrum(mended, samples, options, kernels);
  const path = cleanPath({ ...mended, data: mended.data.map((value, i) => value + bent.data[i]) }, LEAST_LIGHT);
  const family = familyIn(merged.best, path.width);
  if (isSame(path, family)) return null;
  const rival = matchSpectrum(family, samples, options, kernels);
  const rivalBest = Math.min(costOf(rival, samples, options), merged.best.cost);
  return {
    path,
    agreement: likenessOf(mended, drawn),
    cost: curve.cost,
    floor: Math.exp(curve.parameters[LINEAR]),
    rivalRatio: costOf(bent, samples, options) / rivalBest,
  };
}

/** An estimated path is never exact; its error acts like noise of this variance, times the square of the fit's cost. */
const PATH_ERROR = 8e-4;
/** A curve that is right is mended by about this at most (1 − cosine); most wrong ones by 0.09 to 0.26. */
const USUAL_DISAGREEMENT = 0.06;

/** Variance of the noise that a path's error acts like, linear light. */
export function pathError({ cost, agreement }: ShakeFit): number {
  return PATH_ERROR * cost ** 2 * Math.max(1, (1 - agreement) / USUAL_DISAGREEMENT) ** 2;
}

/** In the middle of a square of another odd side; what does not fit is lost. */
function inSquare({ width, data }: Psf, side: number): Psf {
  const values = new Float32Array(side * side);
  const rim = (side - width) / 2;
  data.forEach((value, i) => {
    const x = (i % width) + rim;
    const y = Math.floor(i / width) + rim;
    if (x >= 0 && x < side && y >= 0 && y < side) values[y * side + x] = value;
  });
  return normalisedPsf(side, side, values);
}

/** The path is the family's own: as wide, and like it. */
function isSame(path: Psf, family: Psf): boolean {
  const width = spreadOf(path) / spreadOf(family);
  return width < AS_WIDE && width > 1 / AS_WIDE && likenessOf(inSquare(path, family.width), family) > ALIKE;
}

/** Root of the mean squared distance from the centroid, px. */
function spreadOf({ width, data }: Psf): number {
  let [x, y, squares] = [0, 0, 0];
  data.forEach((value, i) => {
    const [column, row] = [i % width, Math.floor(i / width)];
    x += value * column;
    y += value * row;
    squares += value * (column * column + row * row);
  });
  return Math.sqrt(squares - x * x - y * y);
}

const MOST_SHIFT = 4;

/** How like a path is to another in a square of the same side (cosine, 0..1), moved by whole px to where it is most so. */
function likenessOf(path: Psf, other: Psf): number {
  const product = (a: Float32Array, b: Float32Array) => a.reduce((sum, value, i) => sum + value * b[i], 0);
  let most = 0;
  for (let dy = -MOST_SHIFT; dy <= MOST_SHIFT; dy++) {
    for (let dx = -MOST_SHIFT; dx <= MOST_SHIFT; dx++) {
      most = Math.max(most, product(shifted(path, dx, dy), other.data));
    }
  }
  return most / Math.sqrt(product(path.data, path.data) * product(other.data, other.data));
}

function shifted({ width, height, data }: Psf, dx: number, dy: number): Float32Array {
  const out = new Float32Array(data.length);
  data.forEach((value, i) => {
    const x = (i % width) + dx;
    const y = Math.floor(i / width) + dy;
    if (x >= 0 && x < width && y >= 0 && y < height) out[y * width + x] = value;
  });
  return out;
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

/** What the best family, or no blur at all, costs at the coarse frequencies. */
function rivalCost({ best, options }: MergedFit, coarse: SpectrumSamples): number {
  const gains = [logGainOf(best.cause, best.size, best.directionDeg, coarse), new Float64Array(coarse.count)];
  return Math.min(...gains.map((gain) => fitSpectrum(coarse, gain, options, ROUNDS).cost));
}

function costOf(path: Psf, samples: SpectrumSamples, options: FitOptions): number {
  return fitSpectrum(samples, logGainOfPsf(path, samples), options, ROUNDS).cost;
}
