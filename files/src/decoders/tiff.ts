import { FileError } from '../fileError';
import { damaged, rasterDecoder } from './raster';
import { tiffLayout } from './tiffLayout';

/** TIFF 6.0 (1992), section 2. */
export const tiffDecoder = rasterDecoder(
  'tiff',
  'TIFF',
  (head) => {
    const start = head.toString('latin1', 0, 4);
    if (start === 'II+\0' || start === 'MM\0+') {
      throw new FileError(
        'TIFF_BIG',
        'The file is a BigTIFF, which is not read. Save it as an ordinary TIFF (under 4 GB).',
      );
    }
    return start === 'II*\0' || start === 'MM\0*';
  },
  (path) => {
    try {
      return tiffLayout(path);
    } catch (error) {
      throw error instanceof FileError ? error : damaged('TIFF', error as Error);
    }
  },
);
