import sharp from 'sharp';
import { READ, turn } from './decoders/raster';
import { inspectPicture } from './readPicture';

/** A JPEG of the whole picture for looking at: upright, sRGB, at most `side` px long. */
export async function viewJpeg(path: string, side: number): Promise<Buffer> {
  const { orientation, page } = await inspectPicture(path);
  const upright = turn(sharp(path, { ...READ, page, ignoreIcc: false }), orientation);
  return upright
    .toColourspace('srgb')
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();
}
