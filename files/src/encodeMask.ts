import { randomUUID } from 'node:crypto';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Plane, Region, Size } from '@vitrocept/core';
import { openPlainTiff } from './plainTiff';

const BAND_PX = 4e6;

/**
 * A mask as a grey PNG or TIFF: 0 untouched, the largest code fully recovered, no curve. It is drawn and coded a few
 * rows at a time.
 */
export async function encodeMask(
  { width, height }: Size,
  draw: (rows: Region) => Plane,
  bits: 8 | 16,
  format: 'png' | 'tiff',
): Promise<Buffer> {
  const path = join(tmpdir(), `.${randomUUID()}.part`);
  const tiff = openPlainTiff({ path, width, height, channels: 1, bits }, true);
  try {
    const most = 2 ** bits - 1;
    const rows = Math.max(1, Math.floor(BAND_PX / width));
    for (let y = 0; y < height; y += rows) {
      const band: Region = { x: 0, y, width, height: Math.min(rows, height - y) };
      const { data } = draw(band);
      const codes = bits === 8 ? new Uint8Array(data.length) : new Uint16Array(data.length);
      for (let i = 0; i < data.length; i++) codes[i] = Math.round(most * Math.min(1, Math.max(0, data[i])));
      tiff.write(band, codes);
    }
    const picture = sharp(path, { sequentialRead: true, limitInputPixels: false }).toColourspace(
      bits === 8 ? 'b-w' : 'grey16',
    );
    return await (format === 'png' ? picture.png() : picture.tiff({ compression: 'deflate' })).toBuffer();
  } finally {
    tiff.close();
    rmSync(path, { force: true });
  }
}
