import sharp from 'sharp';
import { decodePiece, srgbEncode, wholeOf, type Plane } from '@vitrocept/core';
import { pieceOf, readPicture } from '@vitrocept/files';

/** Linear channels as a 16-bit sRGB PNG, or as a JPEG of the given quality with full colour resolution. */
export async function writePicture(channels: readonly Plane[], file: string, jpeg: number | null): Promise<void> {
  const { width, height } = channels[0];
  const codes = new Uint16Array(width * height * 3);
  channels.forEach((plane, c) => {
    plane.data.forEach((value, i) => {
      codes[i * 3 + c] = Math.round(65535 * srgbEncode(Math.min(1, Math.max(0, value))));
    });
  });
  if (jpeg) {
    const bytes = Uint8Array.from(codes, (code) => Math.round(code / 257));
    await sharp(bytes, { raw: { width, height, channels: 3 } })
      .jpeg({ quality: jpeg, chromaSubsampling: '4:4:4' })
      .toFile(file);
    return;
  }
  await sharp(codes, { raw: { width, height, channels: 3 } })
    .toColourspace('rgb16')
    .png()
    .toFile(file);
}

/** A plane scaled to its brightest sample, as a 16-bit grey PNG without curve. */
export async function writeGrey({ width, height, data }: Plane, file: string): Promise<void> {
  const most = data.reduce((high, value) => Math.max(high, value), 0);
  const codes = Uint16Array.from(data, (value) => Math.round((65535 * value) / most));
  await sharp(codes, { raw: { width, height, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toFile(file);
}

/** Three sRGB-encoded channels, 0..1. */
export async function readEncoded(file: string): Promise<Plane[]> {
  const picture = await readPicture(file);
  const whole = wholeOf(picture);
  return decodePiece(pieceOf(picture, whole), whole, picture.space).map((plane) => ({
    ...plane,
    data: plane.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))),
  }));
}
