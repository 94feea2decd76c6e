import { BlurOver } from '../audit/blurOver';
import { eyeDistance, type FacePart } from '../audit/face';
import { likenessOf, type PartLikeness } from '../audit/likeness';
import { psfBetween } from '../audit/psfBetween';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { grow, intersect, wholeOf, type Region, type Size } from '../picture/region';
import type { RecoveryEffort } from '../recover/recover';
import { blurOf, MOST_FITTED_REACH } from './auditTile';
import type { Prescription } from './prescription';
import { auditMargin, maskOver, settingsOf, type RenderSource } from './render';

/** Where less of the answer shows it cannot be told from what is published. */
const LEAST_SHARE = 0.15;
const PART_MARGIN = 0.6;

/** The piece of the frame that judging a part looks at. */
export function regionOfPart({ x, y, rx, ry }: FacePart, prescription: Prescription, frame: Size): Region {
  const part = {
    x: Math.floor(x - (1 + PART_MARGIN) * rx),
    y: Math.floor(y - (1 + PART_MARGIN) * ry),
    width: Math.ceil(2 * (1 + PART_MARGIN) * rx) + 1,
    height: Math.ceil(2 * (1 + PART_MARGIN) * ry) + 1,
  };
  return intersect(grow(part, Math.max(MOST_FITTED_REACH, auditMargin(prescription))), wholeOf(frame));
}

/**
 * Likeness of one part of a face. The answer at full strength is photographed again with the blur that was taken back and
 * held against the original.
 *
 * @param prescription - With the recovery that made `shown`; without one `shown` is an outside version.
 * @param original, shown - Linear sRGB over `region`, as `regionOfPart` gives it.
 * @param face - All parts of the face, for its size.
 */
export function auditFacePart(
  source: RenderSource,
  prescription: Prescription,
  part: FacePart,
  face: readonly FacePart[],
  region: Region,
  original: Channels,
  shown: Channels,
  effort: RecoveryEffort,
): PartLikeness {
  const settings = settingsOf(prescription);
  const full = settings ? atFullStrength(source, prescription, region, original, shown) : shown;
  const [before, after] = [original, full].map((channels) => toOpponent(channels)[0]);
  const parts = settings
    ? blurOf(source, prescription, settings, region, before, () => after, effort).parts
    : [{ psf: psfBetween(before, after, MOST_FITTED_REACH, effort.kernels).psf, share: null }];
  const over = new BlurOver(parts, effort.kernels);
  const again = over.blur(full);
  return likenessOf(original, again, { ...part, x: part.x - region.x, y: part.y - region.y }, eyeDistance(face));
}

/** Undoes mask and amount: what stands at `share` of the answer stands at all of it. */
function atFullStrength(
  source: RenderSource,
  prescription: Prescription,
  region: Region,
  original: Channels,
  shown: Channels,
): Plane[] {
  const alpha = maskOver(source, prescription, region).data;
  const amount = prescription.recovery!.amount.value / 100;
  return shown.map((plane, c) => ({
    ...plane,
    data: plane.data.map((value, i) => {
      const share = amount * alpha[i];
      const before = original[c].data[i];
      return share < LEAST_SHARE ? value : before + (value - before) / share;
    }),
  }));
}
