import sharp from 'sharp';
import { addClipped, CLIPPED, createPlane } from '@vitrocept/core';
import { bandsOf, type SampleFile } from './sampleFile';

const STRIPE_PX = 4;

/** A see-through PNG that hatches clipped places: white ones along /, black ones along \\, dark on light lines. */
export async function clippingView(file: SampleFile, side: number): Promise<Buffer> {
  const { width: full, height: fullHeight } = file;
  const scale = Math.min(1, side / Math.max(full, fullHeight));
  const width = Math.max(1, Math.round(full * scale));
  const height = Math.max(1, Math.round(fullHeight * scale));
  const map = createPlane(width, height);
  for await (const band of bandsOf(file)) addClipped(map, band, file);
  const rgba = Buffer.alloc(width * height * 4);
  map.data.forEach((kind, i) => {
    if (kind === CLIPPED.none) return;
    const x = i % width;
    const y = Math.floor(i / width);
    const along = kind === CLIPPED.white ? x + y : x - y + height * STRIPE_PX;
    rgba.fill(Math.floor(along / STRIPE_PX) % 2 === 0 ? 0 : 255, 4 * i, 4 * i + 3);
    rgba[4 * i + 3] = 255;
  });
  return sharp(rgba, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}
