import { LANCZOS_REACH, lanczosGrid, lanczosTaps } from '../picture/lanczos';
import type { Plane } from '../picture/plane';

/** A place of one grid from that of another, along one axis: slope · index + offset. */
export interface AxisMap {
  readonly slope: number;
  readonly offset: number;
}

/**
 * What is enlarged depends on so many px of the plane around a place: Lanczos, and what the solution below still feels of
 * its neighbours (less than a millionth from here).
 */
export const ENLARGE_REACH = LANCZOS_REACH + 9;

/**
 * A plane over a finer grid by Lanczos. Where it `projects` the values between which is interpolated are first chosen so that
 * the result, shrunk again by the area of every px, is the plane itself: the fixed point of iterative back-projection,
 * solved along each axis instead of approached by turns.
 *
 * @param across, down - Px of the plane from px of the result; slopes not above 1 where it projects.
 * Source: Irani & Peleg, "Improving resolution by image registration", CVGIP 53 (1991), for the condition.
 */
export function enlarged(
  plane: Plane,
  width: number,
  height: number,
  across: AxisMap,
  down: AxisMap,
  projects: boolean,
): Plane {
  const upon = (from: Plane) => lanczosGrid(from, width, height, placeBy(across), placeBy(down));
  if (!projects) return upon(plane);
  const [columns, rows] = [shrinkingOf(plane.width, width, across), shrinkingOf(plane.height, height, down)];
  return upon(solvedAcross(solvedDown(plane, rows), columns));
}

const placeBy =
  ({ slope, offset }: AxisMap) =>
  (index: number) =>
    slope * index + offset;

/** How many neighbours on either side a shrunk sample depends on. */
const BAND = LANCZOS_REACH + 1;
const ROW = 2 * BAND + 1;

/** Enlarging and shrinking again along one axis as a band matrix, its lower and upper factors in one. */
interface Shrinking {
  readonly count: number;
  readonly factors: Float64Array;
}

function shrinkingOf(count: number, fine: number, { slope, offset }: AxisMap): Shrinking {
  const factors = new Float64Array(count * ROW);
  for (let i = 0; i < count; i++) {
    // Borders of the sample, in px of the finer grid whose samples reach from −½ to ½.
    const [low, high] = [(i - 0.5 - offset) / slope + 0.5, (i + 0.5 - offset) / slope + 0.5];
    if (low < -1e-6 || high > fine + 1e-6 || i < BAND || i >= count - BAND) {
      factors[i * ROW + BAND] = 1;
      continue;
    }
    for (let at = Math.floor(low); at < high; at++) {
      const share = (Math.min(high, at + 1) - Math.max(low, at)) * slope;
      const { first, weights } = lanczosTaps(slope * at + offset);
      weights.forEach((weight, k) => {
        const j = first + k - i;
        if (share > 0 && Math.abs(j) <= BAND) factors[i * ROW + BAND + j] += share * weight;
      });
    }
  }
  // Gaussian elimination within the band; the matrix lies near the identity, so nothing has to be exchanged.
  for (let i = 0; i < count; i++) {
    for (let row = i + 1; row <= Math.min(count - 1, i + BAND); row++) {
      const at = row * ROW + BAND + i - row;
      const times = factors[at] / factors[i * ROW + BAND];
      factors[at] = times;
      if (times === 0) continue;
      for (let j = i + 1; j <= Math.min(count - 1, i + BAND); j++) {
        factors[row * ROW + BAND + j - row] -= times * factors[i * ROW + BAND + j - i];
      }
    }
  }
  return { count, factors };
}

/** All columns at once, row by row, so that memory is read in order. */
function solvedDown(plane: Plane, { count, factors }: Shrinking): Plane {
  const { width } = plane;
  const out = { ...plane, data: Float32Array.from(plane.data) };
  const { data } = out;
  const take = (row: number, from: number, times: number) => {
    if (times === 0) return;
    for (let x = 0, to = row * width, own = from * width; x < width; x++) data[to + x] -= times * data[own + x];
  };
  for (let i = 0; i < count; i++) {
    for (let j = Math.max(0, i - BAND); j < i; j++) take(i, j, factors[i * ROW + BAND + j - i]);
  }
  for (let i = count - 1; i >= 0; i--) {
    for (let j = Math.min(count - 1, i + BAND); j > i; j--) take(i, j, factors[i * ROW + BAND + j - i]);
    const own = 1 / factors[i * ROW + BAND];
    if (own !== 1) for (let x = i * width; x < (i + 1) * width; x++) data[x] *= own;
  }
  return out;
}

function solvedAcross(plane: Plane, { count, factors }: Shrinking): Plane {
  const out = { ...plane, data: Float32Array.from(plane.data) };
  const row = new Float64Array(count);
  for (let y = 0; y < plane.height; y++) {
    row.set(out.data.subarray(y * count, (y + 1) * count));
    for (let i = 0; i < count; i++) {
      let value = row[i];
      for (let j = Math.max(0, i - BAND); j < i; j++) value -= factors[i * ROW + BAND + j - i] * row[j];
      row[i] = value;
    }
    for (let i = count - 1; i >= 0; i--) {
      let value = row[i];
      for (let j = Math.min(count - 1, i + BAND); j > i; j--) value -= factors[i * ROW + BAND + j - i] * row[j];
      row[i] = value / factors[i * ROW + BAND];
    }
    out.data.set(row, y * count);
  }
  return out;
}
