import { clampIndex } from './crop';
import { installedFilters } from './filters';
import { LANCZOS_TAPS } from './lanczos';
import { createPlane, type Plane } from './plane';

/** Where the samples of a result lie along one axis, and what is solved along it first. */
export interface GridAxis {
  /** Of every place the first of its six samples; beyond the plane its border goes on. */
  readonly first: Int32Array;
  /** Six a place. */
  readonly weights: Float32Array;
  /** A band matrix by its factors (see `solvedDown`), one row a sample of the plane; null: nothing is solved. */
  readonly solving: Float32Array | null;
}

/** How many neighbours on either side a row of a band matrix reaches. */
export const BAND = 4;
export const BAND_ROW = 2 * BAND + 1;

/** A plane between its samples, at places that are a column's and a row's. */
export function onGrid(plane: Plane, across: GridAxis, down: GridAxis): Plane {
  return (installedFilters(plane)?.onGrid ?? plainOnGrid)(plane, across, down);
}

// Single precision step by step, as the twin in kernels/assembly/onGrid.ts.
const { fround } = Math;

/** Down, turned over, down again, turned back: so that memory is read in order. */
export function plainOnGrid(plane: Plane, across: GridAxis, down: GridAxis): Plane {
  return turnedOver(stretchedDown(turnedOver(stretchedDown(plane, down)), across));
}

function stretchedDown(plane: Plane, { first, weights, solving }: GridAxis): Plane {
  const { width, height, data } = solving ? solvedDown(plane, solving) : plane;
  const out = createPlane(width, first.length);
  for (let y = 0, to = 0; y < first.length; y++, to += width) {
    const rows = Array.from({ length: LANCZOS_TAPS }, (_, k) => clampIndex(first[y] + k, height) * width);
    for (let x = 0; x < width; x++) {
      let sum = fround(weights[LANCZOS_TAPS * y] * data[rows[0] + x]);
      for (let k = 1; k < LANCZOS_TAPS; k++) {
        sum = fround(sum + fround(weights[LANCZOS_TAPS * y + k] * data[rows[k] + x]));
      }
      out.data[to + x] = sum;
    }
  }
  return out;
}

/**
 * Every column solved for.
 *
 * @param factors - `BAND_ROW` a row: what is taken of the rows before, one over the row's own, what is taken of those
 * after.
 */
function solvedDown(plane: Plane, factors: Float32Array): Plane {
  const { width, height } = plane;
  const data = Float32Array.from(plane.data);
  const take = (row: number, from: number) => {
    const times = factors[row * BAND_ROW + BAND + from - row];
    if (times === 0) return;
    for (let x = 0, to = row * width, own = from * width; x < width; x++) {
      data[to + x] -= fround(times * data[own + x]);
    }
  };
  for (let i = 0; i < height; i++) for (let j = Math.max(0, i - BAND); j < i; j++) take(i, j);
  for (let i = height - 1; i >= 0; i--) {
    for (let j = Math.min(height - 1, i + BAND); j > i; j--) take(i, j);
    const scale = factors[i * BAND_ROW + BAND];
    for (let x = i * width; x < (i + 1) * width; x++) data[x] *= scale;
  }
  return { width, height, data };
}

function turnedOver({ width, height, data }: Plane): Plane {
  const out = createPlane(height, width);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out.data[x * height + y] = data[y * width + x];
  return out;
}
