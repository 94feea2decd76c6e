import { rasterDecoder } from './raster';

/** ISO/IEC 14496-12, 4.3: a box “ftyp” with the brand of AV1 pictures (AVIF 1.1.0, 6). */
export const avifDecoder = rasterDecoder('avif', 'AVIF', (head) => head.toString('latin1', 4, 12) === 'ftypavif');
