import sharp from 'sharp';
import { asLinearSrgb, CODE_MAX, decodePiece, srgbEncode, type Channels, type Region } from '@vitrocept/core';
import { spaceOfSamples } from './keptFacts';
import { readCodes, type SampleFile } from './sampleFile';

/** A place of a frame px for px, as an sRGB JPEG for looking at. */
export async function cropJpeg(file: SampleFile, place: Region): Promise<Buffer> {
  const piece = await readCodes(file, place);
  const space = await spaceOfSamples(file);
  return jpegOf(asLinearSrgb(decodePiece(piece, piece.region, space), space));
}

/** @param linear - Linear sRGB, or grey. */
export function jpegOf(linear: Channels): Promise<Buffer> {
  const { pixels, width, height } = srgbPixels(linear);
  return sharp(pixels, { raw: { width, height, channels: linear.length as 1 | 3 } })
    .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
    .toBuffer();
}

/** By linear light in steps of a code of 16 bits. */
const SRGB_CODES = Uint8Array.from({ length: CODE_MAX + 1 }, (_, code) =>
  Math.round(255 * srgbEncode(code / CODE_MAX)),
);

/** Interleaved sRGB of eight bits. */
export function srgbPixels(linear: Channels) {
  const [{ width, height }] = linear;
  const pixels = Buffer.alloc(width * height * linear.length);
  linear.forEach(({ data }, c) => {
    for (let i = 0; i < data.length; i++)
      pixels[i * linear.length + c] = SRGB_CODES[Math.round(CODE_MAX * Math.min(1, Math.max(0, data[i])))];
  });
  return { pixels, width, height, channels: linear.length };
}
