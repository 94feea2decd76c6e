import sharp from 'sharp';
import { inspectPicture, turn } from './readPicture';
import { LIMITS } from './limits';

/** A JPEG of the whole picture for looking at: upright, sRGB, at most `side` px long. */
export async function viewJpeg(path: string, side: number): Promise<Buffer> {
  const { orientation } = await inspectPicture(path);
  const upright = await turn(sharp(path, { limitInputPixels: LIMITS.megapixels * 1e6 }), orientation);
  return upright
    .toColourspace('srgb')
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();
}
