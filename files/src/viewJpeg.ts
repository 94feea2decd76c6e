import { existsSync } from 'node:fs';
import sharp, { type Sharp } from 'sharp';
import type { Channels } from '@vitrocept/core';
import { READ, turn } from './decoders/raster';
import { jpegOf, srgbPixels } from './cropJpeg';
import { inspectPicture } from './readPicture';
import type { SampleFile } from './sampleFile';
import { smallPicture } from './smallPicture';
import { writeFileAtomically } from './writeAtomically';

/**
 * Of sensor data, which the image library does not read, a view so large is made once and kept beside the samples;
 * smaller ones are drawn from it.
 */
const KEPT_SIDE = 2048;
const keptPath = ({ path }: Pick<SampleFile, 'path'>) => `${path}.view.jpg`;

/** Whether a view of sensor data is drawn from the one that is kept; else all its samples are gone through. */
export const isDrawnFromKept = (file: SampleFile, side: number): boolean =>
  side <= KEPT_SIDE && existsSync(keptPath(file));

export async function keepView(file: SampleFile): Promise<void> {
  const jpeg = await jpegOf(await smallPicture(file, KEPT_SIDE));
  await writeFileAtomically(keptPath(file), 'allowed', (handle) => handle.writeFile(jpeg));
}

/** A JPEG of the whole picture for looking at: upright, sRGB, at most `side` px long. */
export async function viewJpeg(file: SampleFile, side: number): Promise<Buffer> {
  const view = await lookedAt(file, side);
  if ('linear' in view) return jpegOf(view.linear);
  return view.small.jpeg({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer();
}

/** The same as it stands in memory: sRGB, interleaved. */
export async function viewPixels(file: SampleFile, side: number) {
  const view = await lookedAt(file, side);
  if ('linear' in view) return srgbPixels(view.linear);
  const { data, info } = await view.small.flatten().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { pixels: data, width: info.width, height: info.height, channels: info.channels as number };
}

async function lookedAt(file: SampleFile, side: number): Promise<{ small: Sharp } | { linear: Channels }> {
  const { orientation, page, isSensorData } = await inspectPicture(file.original);
  if (!isSensorData) return { small: small(file.original, page, orientation, side) };
  if (side > KEPT_SIDE) return { linear: await smallPicture(file, side) };
  if (!isDrawnFromKept(file, side)) await keepView(file);
  return { small: small(keptPath(file), 0, 1, side) };
}

const small = (path: string, page: number, orientation: number, side: number) =>
  turn(sharp(path, { ...READ, page, ignoreIcc: false }), orientation)
    .toColourspace('srgb')
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true });
