import { mended, regionOfMend, sourceOfMend } from '../finish/mend';
import { pastePlane } from '../picture/crop';
import { createPlane } from '../picture/plane';
import { intersect, isEmpty, joined, type Region } from '../picture/region';
import type { Mend } from '../prescription/finishing';
import type { FrameStage } from './stage';

/**
 * Small places covered from their surroundings, one after the other: a later one may take from what an earlier one
 * covered.
 */
export const mendStage: FrameStage<readonly Mend[]> = {
  name: 'mend',

  settingsOf: ({ mends }) => (mends && mends.length > 0 ? mends : null),

  reach: (mends) =>
    mends.reduce((most, mend) => {
      const [own, source] = [regionOfMend(mend), sourceOfMend(mend)];
      const both = joined(own, source);
      return Math.max(most, both.width, both.height);
    }, 0),

  regionNeeded: (mends, wanted) =>
    actingOn(mends, wanted).reduce((region, mend) => joined(region, regionsOf(mend)), wanted),

  keyOf: (mends) => mends.map(({ id: _, ...mend }) => mend),

  touches: (mends, region) => actingOn(mends, region).length > 0,

  apply({ region, planes, touched, solved }, mends, wanted) {
    const acting = actingOn(mends, wanted);
    const shown = planes.map((plane) => ({ ...plane, data: Float32Array.from(plane.data) }));
    const share = touched
      ? { ...touched, data: Float32Array.from(touched.data) }
      : createPlane(region.width, region.height);
    for (const mend of acting) {
      const { place, channels, alpha } = mended(shown, region, mend);
      const at = { x: place.x - region.x, y: place.y - region.y };
      shown.forEach((plane, c) => pastePlane(plane, channels[c], at));
      for (let y = 0, i = 0; y < alpha.height; y++) {
        for (let to = (at.y + y) * region.width + at.x, end = to + alpha.width; to < end; to++, i++) {
          share.data[to] = Math.max(share.data[to], alpha.data[i]);
        }
      }
    }
    return { region, planes: shown, touched: share, solved };
  },
};

const regionsOf = (mend: Mend): Region => joined(regionOfMend(mend), sourceOfMend(mend));

/** Those that change anything in a region, and those that these take from, in their order. */
function actingOn(mends: readonly Mend[], region: Region): Mend[] {
  const acting: Mend[] = [];
  const seen: Region[] = [region];
  for (const mend of [...mends].reverse()) {
    if (!seen.some((place) => !isEmpty(intersect(place, regionOfMend(mend))))) continue;
    acting.unshift(mend);
    seen.push(regionsOf(mend));
  }
  return acting;
}
