import { BlurOver } from '../audit/blurOver';
import { eyeDistance, type FacePart } from '../audit/face';
import { likenessOf, type PartLikeness } from '../audit/likeness';
import { psfBetween } from '../audit/psfBetween';
import { toOpponent } from '../picture/opponentColours';
import { cropPlane } from '../picture/crop';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { grow, intersect, placedIn, wholeOf, type Region, type Size } from '../picture/region';
import type { RecoveryEffort } from '../recover/recovery';
import { blurOf, MOST_FITTED_REACH } from './auditTile';
import type { Prescription } from '../prescription/prescription';
import { auditMargin, layerAtWork } from './recover';
import type { Passed, RenderSource } from './stage';

/** Where less of the answer shows it is not what people look at. */
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
 * Likeness of one part of a face. The answer at full strength is photographed again with the blur that was taken back
 * and held against the original.
 *
 * @param prescription - With the recovery that made `full`; without one `full` is an outside version.
 * @param original, full - Linear sRGB over `region`, as `regionOfPart` gives it; `full` as `atFullStrength` does.
 * @param face - All parts of the face, for its size.
 */
export function auditFacePart(
  source: RenderSource,
  prescription: Prescription,
  part: FacePart,
  face: readonly FacePart[],
  region: Region,
  original: Channels,
  full: Channels,
  effort: RecoveryEffort,
): PartLikeness {
  const layer = layerAtWork(prescription);
  const [before, after] = [original, full].map((channels) => toOpponent(channels)[0]);
  const parts = layer
    ? blurOf(source, layer, region, before, () => after, effort).parts
    : [{ psf: psfBetween(before, after, MOST_FITTED_REACH, effort.kernels).psf, share: null }];
  const over = new BlurOver(parts, effort.kernels);
  const again = over.blur(full);
  return likenessOf(original, again, { ...part, x: part.x - region.x, y: part.y - region.y }, eyeDistance(face));
}

/**
 * A part of what was passed on, with the answer of the mask at work as if it showed wholly wherever it shows plainly.
 */
export function atFullStrength({ region: covered, planes, solved }: Passed, region: Region): Plane[] {
  const layer = solved?.layers.find(({ isAtWork }) => isAtWork);
  return planes.map((shown, c) => {
    const answer = layer?.recovered.answer[c].data;
    const full = answer
      ? { ...shown, data: shown.data.map((value, i) => (layer.alpha.data[i] < LEAST_SHARE ? value : answer[i])) }
      : shown;
    return cropPlane(full, placedIn(region, covered));
  });
}
