import { boxMean } from '../picture/boxMean';
import { createPlane, type Plane } from '../picture/plane';
import { COLOUR_PAIRS } from './colourPairs';

/** Variance added to every colour: grain and shading are no strangers. */
const LEAST_VARIANCE = 0.05;
/** What a sample costs where nothing is known nearby. */
const UNKNOWN = 6;
/** Every second sample of every second row tells what colours are around. */
const THIN = 3;

/**
 * How unlike a sample's colour is what lies around it: −ln of the likelihood under the normal distribution of the
 * weighted colours in the square around it, but for a constant.
 *
 * @param colours - Three planes.
 * @param weight - How much each sample counts, 0 or more.
 * @param wanted - 1 where the cost is asked for; elsewhere it is 0.
 */
export function localColourCosts(
  colours: readonly Plane[],
  weight: Plane,
  reach: number,
  wanted: Uint8Array,
): Float32Array {
  const { width, height } = weight;
  const thin = thinned(weight);
  const values = colours.map((plane) => thinned(plane).data);
  const meanOf = (p: Float32Array | null, q: Float32Array | null) => {
    const plane = createPlane(thin.width, thin.height);
    const { data } = plane;
    for (let i = 0; i < data.length; i++) data[i] = thin.data[i] * (p ? p[i] : 1) * (q ? q[i] : 1);
    return boxMean(plane, Math.round(reach / THIN)).data;
  };
  const total = meanOf(null, null);
  const [s0, s1, s2] = values.map((value) => meanOf(value, null));
  const [s00, s01, s02, s11, s12, s22] = COLOUR_PAIRS.map(([p, q]) => meanOf(values[p], values[q]));
  const [c0, c1, c2] = colours.map(({ data }) => data);
  const costs = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (wanted[i] === 0) continue;
      const k = Math.floor(y / THIN) * thin.width + Math.floor(x / THIN);
      if (total[k] < 1e-5) {
        costs[i] = UNKNOWN;
        continue;
      }
      const share = 1 / total[k];
      const m0 = s0[k] * share;
      const m1 = s1[k] * share;
      const m2 = s2[k] * share;
      const v00 = s00[k] * share - m0 * m0 + LEAST_VARIANCE;
      const v01 = s01[k] * share - m0 * m1;
      const v02 = s02[k] * share - m0 * m2;
      const v11 = s11[k] * share - m1 * m1 + LEAST_VARIANCE;
      const v12 = s12[k] * share - m1 * m2;
      const v22 = s22[k] * share - m2 * m2 + LEAST_VARIANCE;
      // Inverse of the symmetric 3 × 3 by its adjugate.
      const a00 = v11 * v22 - v12 * v12;
      const a01 = v02 * v12 - v01 * v22;
      const a02 = v01 * v12 - v02 * v11;
      const a11 = v00 * v22 - v02 * v02;
      const a12 = v02 * v01 - v00 * v12;
      const a22 = v00 * v11 - v01 * v01;
      const determinant = Math.max(1e-9, v00 * a00 + v01 * a01 + v02 * a02);
      const d0 = c0[i] - m0;
      const d1 = c1[i] - m1;
      const d2 = c2[i] - m2;
      const squared =
        a00 * d0 * d0 + a11 * d1 * d1 + a22 * d2 * d2 + 2 * (a01 * d0 * d1 + a02 * d0 * d2 + a12 * d1 * d2);
      costs[i] = squared / determinant / 2 + Math.log(determinant) / 2;
    }
  }
  return costs;
}

function thinned(plane: Plane): Plane {
  const out = createPlane(Math.ceil(plane.width / THIN), Math.ceil(plane.height / THIN));
  for (let y = 0, i = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, i++) out.data[i] = plane.data[THIN * y * plane.width + THIN * x];
  }
  return out;
}
