import { LANCZOS_REACH, LANCZOS_TAPS, lanczosPlaces } from '../picture/lanczos';
import { BAND, BAND_ROW, type GridAxis } from '../picture/onGrid';

/** A place of one grid from that of another, along one axis: slope · index + offset. */
export interface AxisMap {
  readonly slope: number;
  readonly offset: number;
}

/**
 * What is enlarged depends on so many px of the plane around a place: Lanczos, and what the solution below still feels
 * of its neighbours (less than a millionth from here).
 */
export const ENLARGE_REACH = LANCZOS_REACH + 9;

/**
 * Where the samples of a finer (or coarser) grid lie along one axis of a plane, for `onGrid`, by Lanczos. Where it
 * `projects` the values between which is interpolated are first chosen so that the result, shrunk again by the area of
 * every px, is the plane itself: the fixed point of iterative back-projection, solved along each axis instead of
 * approached by turns.
 *
 * @param map - Px of the plane from px of the result; its slope not above 1 where it projects.
 * Sources: Duchon, "Lanczos filtering in one and two dimensions", J. Appl. Meteor. 18 (1979), three lobes; Irani &
 * Peleg, "Improving resolution by image registration", CVGIP 53 (1991), for the condition.
 */
export function enlargedAxis(length: number, count: number, { slope, offset }: AxisMap, projects: boolean): GridAxis {
  const places = lanczosPlaces(Float64Array.from({ length: count }, (_, i) => slope * i + offset));
  return { ...places, solving: projects ? shrinkingOf(length, count, { slope, offset }) : null };
}

/** Enlarging and shrinking again along one axis as a band matrix, by its lower and upper factors. */
function shrinkingOf(count: number, fine: number, { slope, offset }: AxisMap): Float32Array {
  const factors = new Float64Array(count * BAND_ROW);
  for (let i = 0; i < count; i++) {
    // Borders of the sample, in px of the finer grid whose samples reach from −½ to ½.
    const [low, high] = [(i - 0.5 - offset) / slope + 0.5, (i + 0.5 - offset) / slope + 0.5];
    if (low < -1e-6 || high > fine + 1e-6 || i < BAND || i >= count - BAND) {
      factors[i * BAND_ROW + BAND] = 1;
      continue;
    }
    const within = Float64Array.from({ length: Math.ceil(high) - Math.floor(low) }, (_, k) => Math.floor(low) + k);
    const { first, weights } = lanczosPlaces(within.map((at) => slope * at + offset));
    within.forEach((at, n) => {
      const share = (Math.min(high, at + 1) - Math.max(low, at)) * slope;
      for (let k = 0; k < LANCZOS_TAPS; k++) {
        const j = first[n] + k - i;
        if (share > 0 && Math.abs(j) <= BAND) factors[i * BAND_ROW + BAND + j] += share * weights[n * LANCZOS_TAPS + k];
      }
    });
  }
  eliminate(factors, count);
  for (let i = 0; i < count; i++) factors[i * BAND_ROW + BAND] = 1 / factors[i * BAND_ROW + BAND];
  return Float32Array.from(factors);
}

/** Gaussian elimination within the band; the matrix lies near the identity, so nothing has to be exchanged. */
function eliminate(factors: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) {
    for (let row = i + 1; row <= Math.min(count - 1, i + BAND); row++) {
      const at = row * BAND_ROW + BAND + i - row;
      const times = factors[at] / factors[i * BAND_ROW + BAND];
      factors[at] = times;
      if (times === 0) continue;
      for (let j = i + 1; j <= Math.min(count - 1, i + BAND); j++) {
        factors[row * BAND_ROW + BAND + j - row] -= times * factors[i * BAND_ROW + BAND + j - i];
      }
    }
  }
}
