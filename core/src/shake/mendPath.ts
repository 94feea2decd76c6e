import type { Kernels } from '../kernels';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import { normalisedPsf, type Psf } from '../psf/psf';
import type { PathLevel } from './estimatePath';
import { gradientSpectrum } from './gradientSpectrum';
import { extended } from './pyramid';
import { solvePath } from './solvePath';

/** Below this share of the strongest sample nothing counts. */
export const LEAST_LIGHT = 0.03;

/** Edges (prices in squared units of the level's piece) are dear at first, so that a wrong path moves, and cheap at last, so that a
 * right one stays. */
const ROUNDS = [
  { edgePrice: 1e-3, pull: 0.01 },
  { edgePrice: 1e-3, pull: 0.01 },
  { edgePrice: 3e-4, pull: 0.01 },
  { edgePrice: 3e-4, pull: 0.01 },
  { edgePrice: 1e-4, pull: 0.1 },
  { edgePrice: 1e-4, pull: 0.1 },
  { edgePrice: 1e-4, pull: 0.1 },
];
/** From this round on the path is drawn to the one begun with, before to the last round's. */
const HOMEWARD = 4;

/**
 * A path that is nearly right, mended by the picture: in turn the picture of few edges under the path so far, and the
 * path that turns its gradients into the photograph's. Only what lies deeper in the subject than the path reaches
 * counts, for beyond its edge something else was photographed; of a subject narrower than that the path stays as it is.
 *
 * @param path - In a square that leaves it room; the answer has the same.
 * @returns Not cleaned of specks, and laid as the path that was begun with.
 * Source: Xu, Zheng, Jia, "Unnatural L0 sparse representation for natural image deblurring", CVPR 2013, for the two
 * steps.
 */
export function mendPath(level: PathLevel, path: Psf, kernels: Kernels): Psf {
  const photograph = extended(level.piece, path.width);
  const rim = Math.ceil(path.width / 2);
  const inner = { ...level, use: neighbourhoodRange(level.use, rim).low };
  if (!inner.use.data.some((value) => value > 0)) return path;
  const gradients = gradientSpectrum(photograph, inner, rim, kernels);
  return ROUNDS.reduce((mended, { edgePrice, pull }, round) => {
    const picture = gradientSpectrum(kernels.fewEdges(photograph, mended, edgePrice), inner, rim, kernels);
    const towards = round < HOMEWARD ? mended : path;
    const { width, height, data } = solvePath(picture, gradients, mended, { towards, share: pull }, kernels);
    const least = LEAST_LIGHT * data.reduce((most, value) => Math.max(most, value), 0);
    const values = data.map((value) => (value < least ? 0 : value));
    return values.some((value) => value > 0) ? normalisedPsf(width, height, values) : mended;
  }, path);
}
