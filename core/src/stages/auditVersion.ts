import { auditPlanes } from '../audit/auditPlanes';
import { changedShare } from '../audit/changedShare';
import { noiseVariances, type Photograph } from '../audit/contradiction';
import { psfBetween } from '../audit/psfBetween';
import { brightnessOf, toOpponent } from '../picture/opponentColours';
import { product } from '../picture/arithmetic';
import { decodePiece, type Channels, type CodePiece } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { grow, wholeOf, type Region } from '../picture/region';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import { reachOf, type Psf } from '../psf/psf';
import { recover } from '../recover/recover';
import type { RecoveryEffort } from '../recover/recovery';
import { insideFrame, isTrusted, MOST_FITTED_REACH, USUAL_SIGNAL, type TileAudit } from './auditTile';
import type { AcceptedReading } from '../prescription/prescription';
import { QUIET } from '../prescription/quiet';
import { guardAfter } from '../prescription/automatic';
import { CAUTIOUS_GUARD, CAUTIOUS_ITERATIONS } from './cautious';
import { clippedOver } from './clipped';
import type { RenderSource } from './stage';

/** px around a tile that the audit of an outside version looks at. */
export const VERSION_MARGIN = 40;
const USUAL_BLUR_PX = 4;
/** A version that changed less of a tile than this, or all but this, is judged all over. */
const LEAST_SHARE = 0.02;
/** What was worked on under a mask holds, for the greater part, places that lie this far within it. */
const SOLID_PX = 8;
const SOLID_SHARE = 0.5;
/** Masks end softly; this far within them a version may still be mixed with the original. */
const SOFT_EDGE_PX = 4;

/**
 * Audits one tile of an outside version that was laid onto the frame: first the blur that it seems to have taken back
 * is fitted, then it is judged as our own results are. Where it left the original as it was (its maker's mask) nothing
 * is fitted and nothing judged.
 *
 * @param original, version - Hold at least the part of grow(tile, VERSION_MARGIN) that lies in the frame.
 * @param covered - 1 where the version holds a sample, over grow(tile, VERSION_MARGIN).
 */
export function auditVersion(
  { frame, space }: RenderSource,
  reading: AcceptedReading | null,
  original: CodePiece,
  version: CodePiece,
  tile: Region,
  covered: Plane,
  bits: 8 | 16,
  effort: RecoveryEffort,
): TileAudit {
  const wide = grow(tile, VERSION_MARGIN);
  const { noise, noiseFloor } = reading ?? QUIET;
  const before = decodePiece(original, wide, space);
  const after = decodePiece(version, wide, space);
  const clipped = clippedOver(original, wide);
  const components = toOpponent(before);
  const [bright] = components;
  const photograph: Photograph = { original: before, components, noise, noiseFloor, clipped, bits };
  const changed = changedWhereMasked(photograph, after, covered);
  const fitted = psfBetween(bright, brightnessOf(after), MOST_FITTED_REACH, effort.kernels, changed);
  const trusted = isTrusted(fitted, noiseFloor[0]);
  const cautious = trusted
    ? () =>
        recover(
          {
            channels: [bright],
            lumaWeights: [1],
            known: covered,
            clipped,
            originX: wide.x,
            originY: wide.y,
            psf: fitted.psf,
          },
          {
            method: 'ordinary-softness',
            blurSizePx: USUAL_BLUR_PX,
            directionDeg: 0,
            noiseGuard: guardAfter(null) + CAUTIOUS_GUARD,
            haloLimitPercent: null,
            grainKeptPercent: 0,
            noise: [noise[0]],
            noiseFloor: [noiseFloor[0]],
          },
          { ...effort, iterations: CAUTIOUS_ITERATIONS },
        ).free[0]
    : null;
  const audit = auditPlanes(
    {
      ...photograph,
      shown: after,
      full: trusted ? after : null,
      cautious,
      solved: null,
      blur: changed
        ? [
            { psf: fitted.psf, share: changed },
            { psf: UNBLURRED, share: { ...changed, data: changed.data.map((share) => 1 - share) } },
          ]
        : [{ psf: fitted.psf, share: null }],
      blurPx: reading && reading.blurSizePx > 0 ? reading.blurSizePx : USUAL_BLUR_PX,
      signal: reading?.measured.signal ?? USUAL_SIGNAL,
      alpha: changed ? product(covered, changed) : covered,
      believed: changed ? product(covered, fullyWithin(changed, fitted.psf)) : covered,
      masked: changed ? fromHalf(changed) : covered,
      inFrame: insideFrame(wide, grow(wholeOf(frame), -MOST_FITTED_REACH)),
      lumaWeights: space.lumaWeights,
      toLinearSrgb: space.toLinearSrgb,
      isClipped: true,
    },
    { ...tile, x: tile.x - wide.x, y: tile.y - wide.y },
    tile,
    effort.kernels,
  );
  return { ...audit, fitted };
}

const UNBLURRED: Psf = { width: 1, height: 1, data: Float32Array.of(1) };

/**
 * Null where the version was worked on all over, nowhere, or in places too small to be a mask: edges, something painted
 * in.
 */
function changedWhereMasked(photograph: Photograph, after: Channels, covered: Plane): Plane | null {
  const changed = changedShare(photograph.original, after, noiseVariances(photograph)[0]);
  const solid = neighbourhoodRange(changed, SOLID_PX).low;
  let [sum, deep, count] = [0, 0, 0];
  for (let i = 0; i < changed.data.length; i++) {
    if (covered.data[i] === 0) continue;
    sum += changed.data[i];
    deep += solid.data[i];
    count++;
  }
  const share = sum / Math.max(1, count);
  const isMask = share > LEAST_SHARE && share < 1 - LEAST_SHARE && deep > SOLID_SHARE * sum;
  return isMask ? changed : null;
}

/**
 * 1 where all that a blur gathers was worked on: beyond its maker's mask nobody knows what the sharp picture would be.
 */
function fullyWithin(changed: Plane, psf: Psf): Plane {
  const { low } = neighbourhoodRange(changed, Math.ceil(reachOf(psf)) + SOFT_EDGE_PX);
  return { ...low, data: low.data.map((value) => (value >= 1 ? 1 : 0)) };
}

const fromHalf = (plane: Plane): Plane => ({ ...plane, data: plane.data.map((value) => (value >= 0.5 ? 1 : 0)) });
