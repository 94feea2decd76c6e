import sharp from 'sharp';
import type { Plane } from '@vitrocept/core';

/** A mask as a grey PNG or TIFF: 0 untouched, the largest code fully recovered, no curve. */
export async function encodeMask(
  { width, height, data }: Plane,
  bits: 8 | 16,
  format: 'png' | 'tiff',
): Promise<Buffer> {
  const most = 2 ** bits - 1;
  const coded = (value: number) => Math.round(most * Math.min(1, Math.max(0, value)));
  const raw = { width, height, channels: 1 as const };
  const picture =
    bits === 8
      ? sharp(Uint8Array.from(data, coded), { raw }).toColourspace('b-w')
      : sharp(Uint16Array.from(data, coded), { raw }).toColourspace('grey16');
  return format === 'png' ? picture.png().toBuffer() : picture.tiff({ compression: 'deflate' }).toBuffer();
}
