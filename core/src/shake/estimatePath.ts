import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { cleanPath } from './cleanPath';
import { gradientSpectrum } from './gradientSpectrum';
import { resized } from '../picture/resized';
import { extended } from './pyramid';
import { solvePath } from './solvePath';

export interface PathOptions {
  /** Odd side of the square that holds the path at full size, px. */
  readonly side: number;
  /** Price of an edge in the last round of a level; the piece's standard deviation is CONTRAST. */
  readonly edgePrice: number;
  /** The price falls by this from round to round. */
  readonly priceFall: number;
}

/** One level of the pyramid: the piece, and where its samples were photographed and belong to the subject (0..1). */
export interface PathLevel {
  readonly piece: Plane;
  readonly use: Plane;
}

const CONTRAST = 0.2;
const ROUNDS = 5;
const SCALE = Math.SQRT2;
const LEAST_SIDE = 3;
/** Below this share of the strongest sample nothing counts. */
const LEAST_SHARE = 0.05;
const PULL = { towards: null, share: 0.01 };

/** A piece at √2, 2, 2√2 … times less size, down to where a path of `mostSide` is hardly more than a point. */
export function pathPyramid(piece: Plane, use: Plane, mostSide: number): PathLevel[] {
  const levels: PathLevel[] = [{ piece: withContrast(piece, CONTRAST), use }];
  while (levels.length <= levelsOf(mostSide)) {
    const { piece: finer, use: finerUse } = levels[levels.length - 1];
    const width = Math.round(piece.width / SCALE ** levels.length);
    const height = Math.round(piece.height / SCALE ** levels.length);
    levels.push({ piece: resized(finer, width, height), use: resized(finerUse, width, height) });
  }
  return levels;
}

function levelsOf(side: number): number {
  return Math.max(0, Math.ceil(Math.log(side / LEAST_SIDE) / Math.log(SCALE)));
}

function withContrast(plane: Plane, wanted: number): Plane {
  const { data } = plane;
  const mean = data.reduce((sum, value) => sum + value, 0) / data.length;
  const deviation = Math.sqrt(data.reduce((sum, value) => sum + (value - mean) ** 2, 0) / data.length);
  const gain = wanted / Math.max(deviation, 1e-6);
  return { ...plane, data: data.map((value) => gain * value) };
}

/**
 * Estimates the free path of a camera shake from one brightness plane, nothing told: coarse to fine, a picture of few
 * edges that explains the photograph under the path so far, then the path that turns its gradients into the
 * photograph's.
 *
 * @param pyramid - Of some 200 to 450 px with edges in many directions, from pathPyramid.
 * @param lastLevel - Where to stop: 0 is full size.
 * Source: Xu, Zheng, Jia, "Unnatural L0 sparse representation for natural image deblurring", CVPR 2013.
 */
export function estimatePath(
  pyramid: readonly PathLevel[],
  options: PathOptions,
  kernels: Kernels,
  lastLevel = 0,
): Psf {
  let path: Psf = normalisedPsf(LEAST_SIDE, LEAST_SIDE, [0, 0, 0, 0.5, 0.5, 0, 0, 0, 0]);
  for (let level = Math.min(pyramid.length - 1, levelsOf(options.side)); level >= lastLevel; level--) {
    const side = Math.max(LEAST_SIDE, 2 * Math.floor(options.side / SCALE ** level / 2) + 1);
    path = estimateAtLevel(pyramid[level], pathAtSide(path, side), options, kernels);
  }
  return path;
}

/** A path drawn into a square of another side. */
export function pathAtSide(path: Psf, side: number): Psf {
  if (side === path.width) return path;
  const drawn = resized(path, side, side);
  return normalisedPsf(
    side,
    side,
    drawn.data.map((value) => Math.max(0, value)),
  );
}

function estimateAtLevel(level: PathLevel, start: Psf, options: PathOptions, kernels: Kernels): Psf {
  const { edgePrice, priceFall } = options;
  const photograph = extended(level.piece, start.width);
  const gradients = gradientSpectrum(photograph, level, Math.ceil(start.width / 2), kernels);
  let path = start;
  for (let round = ROUNDS - 1; round >= 0; round--) {
    const picture = kernels.fewEdges(photograph, path, edgePrice * priceFall ** round);
    path = cleanPath(
      solvePath(gradientSpectrum(picture, level, 1, kernels), gradients, path, PULL, kernels),
      LEAST_SHARE,
    );
  }
  return path;
}
