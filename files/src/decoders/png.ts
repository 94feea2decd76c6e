import { FileError } from '../fileError';
import { pngChunks } from './pngChunks';
import { pngProfile } from './pngColour';
import { rasterDecoder } from './raster';

/** W3C PNG (third edition), 5.2. */
const SIGNATURE = Buffer.from('\x89PNG\r\n\x1a\n', 'latin1');

export const pngDecoder = rasterDecoder(
  'png',
  'PNG',
  (head) => head.subarray(0, 8).equals(SIGNATURE),
  (path, { onlyValues }) => {
    const chunks = pngChunks(path);
    if (chunks.has('acTL')) throw new FileError('PICTURE_ANIMATED', 'The PNG is animated; a single picture is taken.');
    return { page: 0, directories: null, icc: onlyValues ? undefined : pngProfile(chunks) };
  },
);
