import { auditPlanes } from '../audit/auditPlanes';
import { psfBetween } from '../audit/psfBetween';
import { brightnessOf, toOpponent } from '../picture/opponentColours';
import { decodePiece, type CodePiece } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { grow, wholeOf, type Region } from '../picture/region';
import { recover, type RecoveryEffort } from '../recover/recover';
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

/**
 * Audits one tile of an outside version that was laid onto the frame: first the blur that it seems to have taken back is
 * fitted, then it is judged as our own results are.
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
  const fitted = psfBetween(bright, brightnessOf(after), MOST_FITTED_REACH, effort.kernels);
  const trusted = isTrusted(fitted, noiseFloor[0]);
  const cautious = trusted
    ? recover(
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
      original: before,
      components,
      shown: after,
      full: trusted ? after : null,
      cautious,
      blur: [{ psf: fitted.psf, share: null }],
      blurPx: reading && reading.blurSizePx > 0 ? reading.blurSizePx : USUAL_BLUR_PX,
      signal: reading?.measured.signal ?? USUAL_SIGNAL,
      noise,
      noiseFloor,
      clipped,
      bits,
      alpha: covered,
      believed: covered,
      masked: covered,
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
