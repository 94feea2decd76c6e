import sharp from 'sharp';
import { READ, turn } from './decoders/raster';
import { jpegOf, srgbPixels } from './cropJpeg';
import { inspectPicture } from './readPicture';
import type { SampleFile } from './sampleFile';
import { smallPicture } from './smallPicture';

/** A JPEG of the whole picture for looking at: upright, sRGB, at most `side` px long. */
export async function viewJpeg(file: SampleFile, side: number): Promise<Buffer> {
  const { orientation, page, isSensorData } = await inspectPicture(file.original);
  if (isSensorData) return jpegOf(await smallPicture(file, side));
  return small(file.original, page, orientation, side).jpeg({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer();
}

/** The same as it stands in memory: sRGB, interleaved. */
export async function viewPixels(file: SampleFile, side: number) {
  const { orientation, page, isSensorData } = await inspectPicture(file.original);
  if (isSensorData) return srgbPixels(await smallPicture(file, side));
  const { data, info } = await small(file.original, page, orientation, side)
    .flatten()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { pixels: data, width: info.width, height: info.height, channels: info.channels as number };
}

const small = (path: string, page: number, orientation: number, side: number) =>
  turn(sharp(path, { ...READ, page, ignoreIcc: false }), orientation)
    .toColourspace('srgb')
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true });
