import {
  clippedOver,
  cropPlane,
  decodePiece,
  filledPlane,
  movedReading,
  readingWindow,
  takeReading,
  type Kernels,
  type Plane,
  type Psf,
  type Reading,
  type Region,
} from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';
import { pieceOf } from './pieces';

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
  psf?: Psf,
): Reading {
  const bounds = mask ? boundsOf(mask) : box;
  const area = readingWindow(bounds, mask && cropPlane(mask, bounds));
  const piece = pieceOf(picture, area);
  const reading = takeReading({
    channels: decodePiece(piece, piece.region, picture.space),
    lumaWeights: picture.space.lumaWeights,
    use: mask ? cropPlane(mask, piece.region) : filledPlane(piece.region.width, piece.region.height, 1),
    clipped: clippedOver(piece, piece.region),
    jpeg: picture.format === 'jpeg',
    kernels,
    psf,
    masked: mask !== null,
  });
  return movedReading(reading, piece.region.x, piece.region.y);
}

/** The smallest rectangle that holds every sample over one half; the whole where there is none. */
export function boundsOf(mask: Plane): Region {
  let [left, top, right, bottom] = [mask.width, mask.height, -1, -1];
  for (let y = 0; y < mask.height; y++) {
    for (let x = 0; x < mask.width; x++) {
      if (mask.data[y * mask.width + x] <= 0.5) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  }
  if (right < 0) return { x: 0, y: 0, width: mask.width, height: mask.height };
  return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}
