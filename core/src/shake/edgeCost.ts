import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';
import { psfOfCurve, type PathCurve } from '../psf/pathCurve';
import { halvedPsf } from '../psf/halvedPsf';
import type { Psf } from '../psf/psf';
import { pathPyramid, type PathLevel } from './estimatePath';
import { extended } from './pyramid';
import { MOST_PATH_SIDE } from '../psf/storedPath';

const EDGE_PRICE = 1e-3;
/** Squared difference, in the piece's contrast, that counts as an edge. */
const LEAST_EDGE = 1e-5;
/** The widest path that the extended piece has room for, samples. */
const ROOM = 41;

/**
 * How well a path explains a piece as the photograph of few edges: the mean over its samples of the squared difference
 * of the picture of few edges, photographed again, and of the price of its edges. Under a wrong path sharp edges do not
 * come out as such: more of them are needed, or the photograph is not met.
 *
 * @returns Infinity for a path too wide to be kept.
 * @param shrink - How many times smaller the level is than the frame, whose px the curve has.
 */
export function edgeCostOn({ piece, use }: PathLevel, shrink: number, kernels: Kernels): (curve: PathCurve) => number {
  const photograph = extended(piece, ROOM);
  return (curve) => {
    const drawn = psfOfCurve(curve.map((value) => value / shrink));
    if (drawn.width * shrink > MOST_PATH_SIDE) return Infinity;
    const picture = kernels.fewEdges(photograph, drawn, EDGE_PRICE);
    return costOf(picture, kernels.convolve([picture], drawn)[0], photograph, { piece, use });
  };
}

/**
 * The same for any blur on one piece, at full and at half size.
 *
 * @param luma - Linear light, at most some 450 px a side; `use` over 0.5 counts.
 */
export function fewEdgesOn(luma: Plane, use: Plane, kernels: Kernels) {
  const levels = pathPyramid(luma, use, ROOM);
  const full = { level: levels[0], photograph: extended(levels[0].piece, ROOM) };
  const half = { level: levels[HALF_SIZE], photograph: extended(levels[HALF_SIZE].piece, ROOM) };
  const cost = ({ level, photograph }: typeof full, psf: Psf) => {
    const picture = kernels.fewEdges(photograph, psf, EDGE_PRICE);
    return costOf(picture, kernels.convolve([picture], psf)[0], photograph, level);
  };
  return (psf: Psf) => ({ fullSize: cost(full, psf), halfSize: cost(half, halved(psf)) });
}

/** Of a pyramid whose levels are √2 apart. */
const HALF_SIZE = 2;

function halved(psf: Psf): Psf {
  const side = Math.max(3, 2 * Math.floor(Math.max(psf.width, psf.height) / 4) + 1);
  return halvedPsf(psf, side, side);
}

function costOf(picture: Plane, seen: Plane, photograph: Plane, { piece, use }: PathLevel): number {
  const { width, data } = picture;
  let sum = 0;
  let used = 0;
  for (let y = 1; y < piece.height; y++) {
    for (let x = 1; x < piece.width; x++) {
      if (use.data[y * piece.width + x] <= 0.5) continue;
      const i = y * width + x;
      const rise = (data[i] - data[i - 1]) ** 2 + (data[i] - data[i - width]) ** 2;
      sum += (seen.data[i] - photograph.data[i]) ** 2 + (rise > LEAST_EDGE ? EDGE_PRICE : 0);
      used++;
    }
  }
  return sum / Math.max(1, used);
}
