import { boxMean } from '../picture/boxMean';
import { installedFilters } from '../picture/filters';
import { createPlane, type Plane } from '../picture/plane';
import { COLOUR_PAIRS } from './colourPairs';

/** Eighteen planes at once would fill a host's memory: larger ones are filtered here. */
const MOST_SAMPLES = 2 ** 18;

/**
 * Fits `wanted` around every sample by a plane over the guide's three colours, and takes what the planes say: borders
 * of `wanted` move to the guide's own.
 *
 * @param guide - Three planes, 0..1, size of `wanted`.
 * @param reach - Half side of the squares in which the planes are fitted, px.
 * @param stiffness - Variance of the guide below which it counts as flat.
 * Source: He, Sun, Tang, "Guided image filtering", IEEE TPAMI 35 (2013), colour guide.
 */
export function guidedFilter(wanted: Plane, guide: readonly Plane[], reach: number, stiffness: number): Plane {
  const installed = wanted.data.length <= MOST_SAMPLES ? installedFilters(wanted) : null;
  return (installed?.guidedFilter ?? plainGuidedFilter)(wanted, guide, reach, stiffness);
}

/** In double precision, in one order, as the twin in kernels/assembly/guidedFilter.ts. */
export function plainGuidedFilter(wanted: Plane, guide: readonly Plane[], reach: number, stiffness: number): Plane {
  const { slopes, offset } = guidedPlanes(wanted, guide, reach, stiffness);
  return appliedPlanes(slopes, offset, guide);
}

/** Slopes for the three colours and the offset, both averaged over the squares a sample lies in. */
function guidedPlanes(
  wanted: Plane,
  guide: readonly Plane[],
  reach: number,
  stiffness: number,
): { slopes: Plane[]; offset: Plane } {
  const { width, height } = wanted;
  const mean = (plane: Plane) => boxMean(plane, reach);
  const product = (p: Plane, q: Plane): Plane => {
    const out = createPlane(width, height);
    for (let i = 0; i < out.data.length; i++) out.data[i] = p.data[i] * q.data[i];
    return out;
  };
  const means = guide.map((plane) => mean(plane).data);
  const own = mean(wanted).data;
  const mixed = guide.map((plane) => mean(product(plane, wanted)).data);
  const pairs = COLOUR_PAIRS.map(([p, q]) => mean(product(guide[p], guide[q])).data);
  const slopes = guide.map(() => createPlane(width, height));
  const offset = createPlane(width, height);
  for (let i = 0; i < offset.data.length; i++) {
    const [r, g, b] = [means[0][i], means[1][i], means[2][i]];
    const rr = pairs[0][i] - r * r + stiffness;
    const rg = pairs[1][i] - r * g;
    const rb = pairs[2][i] - r * b;
    const gg = pairs[3][i] - g * g + stiffness;
    const gb = pairs[4][i] - g * b;
    const bb = pairs[5][i] - b * b + stiffness;
    const [cr, cg, cb] = [mixed[0][i] - r * own[i], mixed[1][i] - g * own[i], mixed[2][i] - b * own[i]];
    // Inverse of the symmetric 3 × 3 by its adjugate.
    const [a11, a12, a13] = [gg * bb - gb * gb, rb * gb - rg * bb, rg * gb - rb * gg];
    const determinant = rr * a11 + rg * a12 + rb * a13;
    const [a22, a23, a33] = [rr * bb - rb * rb, rb * rg - rr * gb, rr * gg - rg * rg];
    const sr = (a11 * cr + a12 * cg + a13 * cb) / determinant;
    const sg = (a12 * cr + a22 * cg + a23 * cb) / determinant;
    const sb = (a13 * cr + a23 * cg + a33 * cb) / determinant;
    slopes[0].data[i] = sr;
    slopes[1].data[i] = sg;
    slopes[2].data[i] = sb;
    offset.data[i] = own[i] - sr * r - sg * g - sb * b;
  }
  return { slopes: slopes.map(mean), offset: mean(offset) };
}

/** What the planes say at every sample of a guide of their own size. */
function appliedPlanes(slopes: readonly Plane[], offset: Plane, guide: readonly Plane[]): Plane {
  const out = createPlane(offset.width, offset.height);
  for (let i = 0; i < out.data.length; i++) {
    let value = offset.data[i];
    for (let c = 0; c < slopes.length; c++) value += slopes[c].data[i] * guide[c].data[i];
    out.data[i] = value;
  }
  return out;
}
