import type { Channels } from '../picture/picture';
import { bilinear } from '../picture/bilinear';
import { createPlane, type Plane } from '../picture/plane';
import { scaledDown } from '../picture/scaledDown';
import { srgbEncode } from '../picture/toneCurve';
import { findSubject } from './findSubject';
import { guidedFilter } from './guidedFilter';
import type { Dab } from './maskOperation';

/** Long side of the picture in which the subject is cut out, px. */
const CUT_SIDE = 400;
/** Half side of the squares that follow the picture's own borders, as a share of the long side. */
const REACH_SHARE = 0.005;
const STIFFNESS = 1e-3;
/** The filter leaves borders softer than they are. */
const STEEPER = 2;

/**
 * The subject's coverage at the size of `picture`: cut out small, then its border laid along the picture's own.
 *
 * @param picture - Linear sRGB, as large as the coverage is wanted.
 * @param dabs - In px of `picture`.
 */
export function subjectArea(picture: Channels, dabs: readonly Dab[]): Plane {
  const { width, height } = picture[0];
  const scale = Math.min(1, CUT_SIDE / Math.max(width, height));
  const small = picture.map((plane) => scaledDown(plane, scale));
  const labels = findSubject(
    small,
    dabs.map(({ x, y, radius, isSubject }) => ({ x: x * scale, y: y * scale, radius: radius * scale, isSubject })),
  );
  const coarse = { ...small[0], data: Float32Array.from(labels) };
  const wanted = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      wanted.data[i] = bilinear(coarse, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5);
    }
  }
  const guide = picture.map(({ data }) => ({
    width,
    height,
    data: data.map((value) => srgbEncode(Math.max(0, value))),
  }));
  const colours = guide.length === 3 ? guide : [guide[0], guide[0], guide[0]];
  const reach = Math.max(2, Math.round(REACH_SHARE * Math.max(width, height)));
  const fine = guidedFilter(wanted, colours, reach, STIFFNESS);
  for (let i = 0; i < fine.data.length; i++) {
    fine.data[i] = Math.min(1, Math.max(0, STEEPER * (fine.data[i] - 0.5) + 0.5));
  }
  return fine;
}
