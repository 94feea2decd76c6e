import type { Kernels } from '../kernels';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import type { Psf } from '../psf/psf';
import { logGainOf, logGainOfPsf, type MergedFit } from '../read/cause';
import { fitSpectrum, samplesUpTo, type FitOptions, type SpectrumSamples } from '../read/spectralFit';
import { estimatePath, pathAtSide, pathPyramid, type PathOptions } from './estimatePath';

/** Longest side of the piece that the path is estimated on. */
const PIECE_PX = 450;
/** Too small for a path to be told from the picture. */
const LEAST_PIECE_PX = 128;
/** The first ones decide whether the others are tried. */
const SIDES = [23, 31, 15, 19, 41];
/** Every start is followed to half size and judged there; the best go on to full size. */
const STARTS: readonly PathOptions[] = SIDES.flatMap((side) => [
  { side, edgePrice: 1e-3, priceFall: 1.4 },
  { side, edgePrice: 7e-4, priceFall: 1.9 },
]);
const FIRST_STARTS = 2;
/** Measured at half size, best start against best family: 0.6 to 1.5 where the camera shook, else mostly 1.5 to 10. */
const HOPELESS_RATIO = 1.7;
const HALF_SIZE_LEVEL = 2;
const HALF_SIZE_HIGHEST = 0.25;
const FINALISTS = 3;
const ROUNDS = 8;

export interface ShakeFit {
  readonly path: Psf;
  /** Cost of the spectral fit with the path's transfer function, comparable with the other families'. */
  readonly cost: number;
  readonly floor: number;
}

/**
 * The free path that explains the picture best: estimated blindly from several starts on the piece of the used area
 * with most edges, and judged by the spectral fit over all of it, which has not seen the estimate.
 *
 * @returns Null where the used area is too small, or where the first starts are hopelessly worse than a family.
 */
export function readShake(luma: Plane, use: Plane, merged: MergedFit, kernels: Kernels): ShakeFit | null {
  const place = busiestPiece(luma, use);
  if (!place) return null;
  const { samples, options } = merged;
  const pyramid = pathPyramid(cropPlane(luma, place), cropPlane(use, place), Math.max(...SIDES));
  const coarse = samplesUpTo(samples, HALF_SIZE_HIGHEST);
  const judged = (start: PathOptions) => {
    const path = estimatePath(pyramid, start, kernels, HALF_SIZE_LEVEL);
    return { start, path, cost: fitPath(pathAtSide(path, start.side), coarse, options).cost };
  };
  const first = STARTS.slice(0, FIRST_STARTS).map(judged);
  const hopeless = HOPELESS_RATIO * rivalCost(merged, coarse);
  if (first.every(({ cost }) => cost > hopeless)) return null;
  return [...first, ...STARTS.slice(FIRST_STARTS).map(judged)]
    .sort((a, b) => a.cost - b.cost)
    .slice(0, FINALISTS)
    .map(({ start, path }) => estimatePath(pyramid, start, kernels, 0, { level: HALF_SIZE_LEVEL, path }))
    .map((path) => ({ path, ...fitPath(path, samples, options) }))
    .reduce((best, fit) => (fit.cost < best.cost ? fit : best));
}

/** What the best family, or no blur at all, costs at the coarse frequencies. */
function rivalCost({ best, options }: MergedFit, coarse: SpectrumSamples): number {
  const gains = [logGainOf(best.cause, best.size, best.directionDeg, coarse), new Float64Array(coarse.count)];
  return Math.min(...gains.map((gain) => fitSpectrum(coarse, gain, options, ROUNDS).cost));
}

function fitPath(path: Psf, spectrum: SpectrumSamples, options: FitOptions) {
  return fitSpectrum(spectrum, logGainOfPsf(path, spectrum), options, ROUNDS);
}

/** The square piece, mostly of the used area where possible, with the most edges. */
function busiestPiece(luma: Plane, use: Plane): Region | null {
  const width = Math.min(PIECE_PX, luma.width);
  const height = Math.min(PIECE_PX, luma.height);
  if (Math.min(width, height) < LEAST_PIECE_PX) return null;
  let best: { x: number; y: number; edges: number } | null = null;
  for (let y = 0; y + height <= luma.height; y += 50) {
    for (let x = 0; x + width <= luma.width; x += 50) {
      let edges = 0;
      let used = 0;
      for (let row = y; row < y + height - 1; row += 2) {
        for (let i = row * luma.width + x; i < row * luma.width + x + width - 1; i += 2) {
          if (use.data[i] <= 0.5) continue;
          used++;
          edges += Math.abs(luma.data[i + 1] - luma.data[i]) + Math.abs(luma.data[i + luma.width] - luma.data[i]);
        }
      }
      if (used < 0.15 * 0.25 * width * height) continue;
      if (!best || edges > best.edges) best = { x, y, edges };
    }
  }
  return best && { x: best.x, y: best.y, width, height };
}
