import type { Size } from '@vitrocept/core';
import { FileError } from './fileError';

/** Checked before anything is decoded. */
export const LIMITS = {
  fileBytes: 400 * 1024 * 1024,
  megapixels: 120,
  sidePx: 30000,
} as const;

/** @throws FileError PICTURE_EMPTY, PICTURE_TOO_LARGE */
export function checkSize({ width, height }: Size): void {
  if (width < 1 || height < 1) throw new FileError('PICTURE_EMPTY', 'The picture has no pixels.');
  if (width > LIMITS.sidePx || height > LIMITS.sidePx || width * height > LIMITS.megapixels * 1e6) {
    throw new FileError(
      'PICTURE_TOO_LARGE',
      `The picture has ${width} × ${height} px; at most ${LIMITS.megapixels} megapixels and ${LIMITS.sidePx} px a side are taken.`,
    );
  }
}
