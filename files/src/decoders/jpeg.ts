import { rasterDecoder } from './raster';

/** ITU-T T.81 (JPEG), JFIF 1.02: every file begins with SOI and a marker. */
export const jpegDecoder = rasterDecoder(
  'jpeg',
  'JPEG',
  (head) => head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff,
);
