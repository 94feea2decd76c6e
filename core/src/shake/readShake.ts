import type { Kernels } from '../kernels';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { blurSizeOf, logGainOf, type CauseFit, type MergedFit } from '../read/cause';
import { logGainOfPsf } from '../read/psfGain';
import { psfOf } from '../recover/blurModel';
import { fitSpectrum, samplesUpTo, type FitOptions, type SpectrumSamples } from '../read/spectralFit';
import { cleanPath } from './cleanPath';
import { estimatePath, pathAtSide, pathPyramid, type PathLevel, type PathOptions } from './estimatePath';
import { matchSpectrum } from './matchSpectrum';
import { richestPieces } from './richestPieces';

const PIECES = 2;
/** The first ones decide whether the others are tried. */
const SIDES = [23, 31, 15, 19, 41];
/** Every start is followed to half size and judged there; the best go on to full size. */
const STARTS: readonly PathOptions[] = SIDES.flatMap((side) => [
  { side, edgePrice: 1e-3, priceFall: 1.4 },
  { side, edgePrice: 7e-4, priceFall: 1.9 },
]);
const FIRST_STARTS = 2;
/** Measured at half size, best start against best family: 0.6 to 1.5 where the camera shook, else mostly 1.5 to 10. */
const HOPELESS_RATIO = 1.95;
const HALF_SIZE_LEVEL = 2;
const HALF_SIZE_HIGHEST = 0.25;
const FINALISTS = 3;
const ROUNDS = 8;
const TRACE = 1e-4;

export interface ShakeFit {
  readonly path: Psf;
  /** Cost of the spectral fit with the path as estimated from the picture. */
  readonly cost: number;
  /** Its cost over the best family's, both bent towards the spectrum alike: under 1 the path explains more. */
  readonly rivalRatio: number;
}

/**
 * The free path that explains the picture best: estimated blindly from several starts on the pieces of the used area
 * with most edges, and judged by the spectral fit over all of it, which has not seen the estimate.
 *
 * @returns Null where the used area is too small, or where the first starts are hopelessly worse than a family.
 */
export function readShake(luma: Plane, use: Plane, merged: MergedFit, kernels: Kernels): ShakeFit | null {
  const { samples, options } = merged;
  const coarse = samplesUpTo(samples, HALF_SIZE_HIGHEST);
  const pyramids = richestPieces(luma, use, PIECES).map((place) =>
    pathPyramid(cropPlane(luma, place), cropPlane(use, place), Math.max(...SIDES)),
  );
  const begin = (pyramid: readonly PathLevel[], start: PathOptions) => {
    const path = estimatePath(pyramid, start, kernels, HALF_SIZE_LEVEL);
    return { pyramid, start, path, cost: costOf(pathAtSide(path, start.side), coarse, options) };
  };
  const first = pyramids.flatMap((pyramid) => STARTS.slice(0, FIRST_STARTS).map((start) => begin(pyramid, start)));
  first.sort((a, b) => a.cost - b.cost);
  if (first.length === 0 || first[0].cost > HOPELESS_RATIO * rivalCost(merged, coarse)) return null;
  const { path, cost } = [...first, ...STARTS.slice(FIRST_STARTS).map((start) => begin(first[0].pyramid, start))]
    .sort((a, b) => a.cost - b.cost)
    .slice(0, FINALISTS)
    .map(({ pyramid, start, path }) => estimatePath(pyramid, start, kernels, 0, { level: HALF_SIZE_LEVEL, path }))
    .map((path) => ({ path, cost: costOf(path, samples, options) }))
    .reduce((best, fit) => (fit.cost < best.cost ? fit : best));
  const bent = matchSpectrum(path, samples, options);
  const rival = matchSpectrum(familyIn(merged.best, path.width), samples, options);
  const rivalBest = Math.min(costOf(rival, samples, options), merged.best.cost);
  return { path: between(path, bent), cost, rivalRatio: costOf(bent, samples, options) / rivalBest };
}

/** The estimate knows the phase, the bent path the spectrum: the mean of both is nearer the truth than either. */
function between(path: Psf, bent: Psf): Psf {
  const { width, height, data } = path;
  return cleanPath({ width, height, data: data.map((value, i) => (value + bent.data[i]) / 2) });
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
