import {
  boundsOver,
  clippedOver,
  cropPlane,
  decodePiece,
  filledPlane,
  movedReading,
  readingWindow,
  takeReading,
  wholeOf,
  type Kernels,
  type Plane,
  type Reading,
  type ReadingInput,
  type Region,
} from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';
import { pieceOf } from './pieces';

/** Beside where: what is known, and how closely it is looked at. */
export type FileReadingWishes = Pick<ReadingInput, 'psf' | 'isSubject' | 'isTriage'>;

/**
 * A reading of a decoded file over a mask (0..1, size of the frame), else over a box. Places are in frame coordinates.
 *
 * @throws CoreError READING_AREA
 */
export function takeFileReading(
  picture: DecodedPicture,
  box: Region,
  mask: Plane | null,
  kernels: Kernels,
  { isSubject = mask !== null, ...wishes }: FileReadingWishes = {},
): Reading {
  const bounds = mask ? (boundsOver(mask, 0.5) ?? wholeOf(mask)) : box;
  const area = readingWindow(bounds, mask && cropPlane(mask, bounds));
  const piece = pieceOf(picture, area);
  const reading = takeReading({
    channels: decodePiece(piece, piece.region, picture.space),
    lumaWeights: picture.space.lumaWeights,
    use: mask ? cropPlane(mask, piece.region) : filledPlane(piece.region.width, piece.region.height, 1),
    clipped: clippedOver(piece, piece.region),
    jpeg: picture.format === 'jpeg',
    sensorNoise: picture.sensorNoise,
    kernels,
    isSubject,
    ...wishes,
  });
  return movedReading(reading, piece.region.x, piece.region.y);
}
