import { normalisedPsf, type Psf } from './psf';
import { arcLength } from './arcLength';
import { resized } from '../picture/resized';

/** A path as data: a square of shares, row by row, and the path's length. */
export interface PathSquare {
  readonly side: number;
  readonly lengthPx: number;
  readonly values: readonly number[];
}

/** The path as a place of the frame saw it. */
export interface PathPlace extends PathSquare {
  readonly x: number;
  readonly y: number;
}

/** The free path of a camera shake. */
export interface StoredPath extends PathSquare {
  /** Where the camera turned as well: the path at places on a grid, row by row. Left out, one path holds everywhere. */
  readonly places?: readonly PathPlace[];
}

export const MOST_PATH_SIDE = 65;
const MOST_PATH_PX = 200;
/** Shares are stored to this many parts of the strongest. */
const STEPS = 1000;

/** Columns and rows of the places of a path at most. */
export const MOST_PATH_COLUMNS = 6;

export function storePath(path: Psf): PathSquare {
  const strongest = Math.max(...path.data);
  return {
    side: path.width,
    lengthPx: Math.round(10 * Math.min(MOST_PATH_PX, arcLength(path))) / 10,
    values: Array.from(path.data, (value) => Math.round((STEPS * value) / strongest)),
  };
}

/** The same path, one everywhere. */
export function withoutPlaces({ side, lengthPx, values }: StoredPath): StoredPath {
  return { side, lengthPx, values };
}

/** The same path, its places so many px farther right and down. */
export function movedPath(path: StoredPath, right: number, down: number): StoredPath {
  if (!path.places) return path;
  return { ...path, places: path.places.map((place) => ({ ...place, x: place.x + right, y: place.y + down })) };
}

/** The point spread function of a stored path, made longer or shorter to `lengthPx`. */
export function psfOfPath({ side, lengthPx: own, values }: PathSquare, lengthPx: number): Psf {
  const path = normalisedPsf(side, side, values);
  const scale = lengthPx / Math.max(own, 0.1);
  if (Math.abs(scale - 1) < 0.02) return path;
  const scaled = Math.min(MOST_PATH_SIDE, Math.max(3, 2 * Math.round((side * scale - 1) / 2) + 1));
  return normalisedPsf(scaled, scaled, resized(path, scaled, scaled).data);
}
