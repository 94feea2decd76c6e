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
  type Region,
} from '@vitrocept/core';
import { pieceOf } from './pieces';
import { richestUnder } from './judgePlaces';
import type { DecodedPicture } from './readPicture';
import { spaceOfSamples } from './keptFacts';
import { readCodes, type SampleFile } from './sampleFile';

/** Places at which what cleaning takes away is looked at, and their side, px. */
const PLACES = 4;
const PLACE_PX = 192;
/**
 * Noise of brightness weaker than this at mid-tone, %, is often texture: then edges need not be damaged, a doubt is
 * enough. A frame with 1 % in each channel, ordinary at high ISO, has 0.67.
 */
const WEAK_NOISE_PERCENT = 0.6;

/**
 * Whether what a cleaning takes away looks like noise at the places richest in edges. Weak noise is easily read too
 * strong where all is texture: then edges go with it, and nothing should be cleaned by itself.
 */
export function cleaningHolds(picture: DecodedPicture, prescription: Prescription, kernels: Kernels): boolean {
  const whole = wholeOf(picture);
  const luma = lumaOf(decodePiece(pieceOf(picture, whole), whole, picture.space), picture.space.lumaWeights);
  const source = { frame: picture, space: picture.space };
  const effort = { ...FINAL_EFFORT, kernels };
  return richestPieces(luma, filledPlane(whole.width, whole.height, 1), PLACES, PLACE_PX).every((tile) => {
    const needed = regionNeeded(source, prescription, checkedAround(tile), effort);
    return takesNoiseOnly(cleanTile(source, prescription, pieceOf(picture, needed), tile, kernels), prescription, tile);
  });
}

/** The same on decoded samples, of which only the places are held. */
export async function cleaningHoldsIn(
  file: SampleFile,
  prescription: Prescription,
  kernels: Kernels,
): Promise<boolean> {
  const source = { frame: file, space: await spaceOfSamples(file) };
  for (const tile of await richestUnder(file, prescription)) {
    const needed = regionNeeded(source, prescription, checkedAround(tile), { ...FINAL_EFFORT, kernels });
    const cleaned = cleanTile(source, prescription, await readCodes(file, needed), tile, kernels);
    if (!takesNoiseOnly(cleaned, prescription, tile)) return false;
  }
  return true;
}

function takesNoiseOnly({ check }: ReturnType<typeof cleanTile>, { reading }: Prescription, tile: Region): boolean {
  const isWeak = (reading?.measured.noisePercent ?? 0) < WEAK_NOISE_PERCENT;
  const { edges, texture } = cleaningFigures([check], tile);
  return edges.verdict !== 'damaged' && !(isWeak && (edges.verdict === 'check' || texture.verdict === 'damaged'));
}
