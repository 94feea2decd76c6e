import {
  checkedAround,
  cleaningFigures,
  cleanTile,
  decodePiece,
  filledPlane,
  lumaOf,
  regionNeeded,
  richestPieces,
  wholeOf,
  FINAL_EFFORT,
  type Kernels,
  type Prescription,
} from '@vitrocept/core';
import { pieceOf } from './pieces';
import type { DecodedPicture } from './readPicture';

/** Places at which what cleaning takes away is looked at, and their side, px. */
const PLACES = 4;
const PLACE_PX = 192;
/**
 * Noise of brightness weaker than this at mid-tone, %, is often texture: then edges need not be damaged, a doubt is enough.
 * A frame with 1 % in each channel, ordinary at high ISO, has 0.67.
 */
const WEAK_NOISE_PERCENT = 0.6;

/**
 * Whether what a cleaning takes away looks like noise at the places richest in edges. Weak noise is easily read too strong
 * where all is texture: then edges go with it, and nothing should be cleaned by itself.
 */
export function cleaningHolds(picture: DecodedPicture, prescription: Prescription, kernels: Kernels): boolean {
  const whole = wholeOf(picture);
  const luma = lumaOf(decodePiece(pieceOf(picture, whole), whole, picture.space), picture.space.lumaWeights);
  const source = { frame: picture, space: picture.space };
  const effort = { ...FINAL_EFFORT, kernels };
  const isWeak = (prescription.reading?.measured.noisePercent ?? 0) < WEAK_NOISE_PERCENT;
  return richestPieces(luma, filledPlane(whole.width, whole.height, 1), PLACES, PLACE_PX).every((tile) => {
    const needed = regionNeeded(source, prescription, checkedAround(tile), effort);
    const { check } = cleanTile(source, prescription, pieceOf(picture, needed), tile, kernels);
    const { edges, texture } = cleaningFigures([check], tile);
    return edges.verdict !== 'damaged' && !(isWeak && (edges.verdict === 'check' || texture.verdict === 'damaged'));
  });
}
