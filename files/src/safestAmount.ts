import {
  atFullAmount,
  decodePiece,
  filledPlane,
  lumaOf,
  regionNeeded,
  richestPieces,
  strongestSafe,
  wholeOf,
  type Prescription,
  type RenderSource,
  type StageEffort,
} from '@vitrocept/core';
import { pieceOf } from './pieces';
import type { DecodedPicture } from './readPicture';

/** Places at which the audit is asked, and their side, px. */
const PLACES = 4;
const PLACE_PX = 192;

/** The strongest amount at which the audit finds nothing beyond safe at the places richest in edges under the mask. */
export function safestAmount(
  picture: DecodedPicture,
  prescription: Prescription,
  given: Omit<RenderSource, 'frame' | 'space'>,
  effort: StageEffort,
): number | null {
  if (!prescription.recovery) return null;
  const whole = wholeOf(picture);
  const luma = lumaOf(decodePiece(pieceOf(picture, whole), whole, picture.space), picture.space.lumaWeights);
  const tiles = richestPieces(luma, given.mask ?? filledPlane(whole.width, whole.height, 1), PLACES, PLACE_PX);
  const source = { ...given, frame: picture, space: picture.space };
  const full = atFullAmount(prescription);
  const placed = tiles.map((tile) => ({ tile, piece: pieceOf(picture, regionNeeded(source, full, tile, effort)) }));
  return strongestSafe(source, full, placed, picture.bits, effort).amount;
}
