import sharp from 'sharp';
import type { Plane } from '@vitrocept/core';

/** A mask as a grey PNG: 0 untouched, the largest code fully recovered, no curve. */
export async function maskPng({ width, height, data }: Plane, bits: 8 | 16): Promise<Buffer> {
  const most = 2 ** bits - 1;
  const coded = (value: number) => Math.round(most * Math.min(1, Math.max(0, value)));
  const raw = { width, height, channels: 1 as const };
  if (bits === 8) return sharp(Uint8Array.from(data, coded), { raw }).toColourspace('b-w').png().toBuffer();
  return sharp(Uint16Array.from(data, coded), { raw }).toColourspace('grey16').png().toBuffer();
}
