import { normalisedPsf, type Psf } from '../psf/psf';
import { arcLength } from './arcLength';
import { resized } from './pyramid';

/** The free path of a camera shake as data: a square of shares, row by row, and the path's length. */
export interface StoredPath {
  readonly side: number;
  readonly lengthPx: number;
  readonly values: readonly number[];
}

export const MOST_PATH_SIDE = 65;
const MOST_PATH_PX = 200;
/** Shares are stored to this many parts of the strongest. */
const STEPS = 1000;

export function storePath(path: Psf): StoredPath {
  const strongest = Math.max(...path.data);
  return {
    side: path.width,
    lengthPx: Math.round(10 * Math.min(MOST_PATH_PX, arcLength(path))) / 10,
    values: Array.from(path.data, (value) => Math.round((STEPS * value) / strongest)),
  };
}

/** The point spread function of a stored path, made longer or shorter to `lengthPx`. */
export function psfOfPath({ side, lengthPx: own, values }: StoredPath, lengthPx: number): Psf {
  const path = normalisedPsf(side, side, values);
  const scale = lengthPx / Math.max(own, 0.1);
  if (Math.abs(scale - 1) < 0.02) return path;
  const scaled = Math.min(MOST_PATH_SIDE, Math.max(3, 2 * Math.round((side * scale - 1) / 2) + 1));
  return normalisedPsf(scaled, scaled, resized(path, scaled, scaled).data);
}
