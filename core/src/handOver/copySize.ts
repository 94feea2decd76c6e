import type { Size } from '../picture/region';

/** TIFF 6.0 says where its samples lie in 32 bits; something is left for what stands beside them. */
const MOST_BYTES = 2 ** 32 - 2 ** 24;
const BYTES_PER_SAMPLE = 2;

/** Null where a picture of this size can be written; else a sentence. Asked before anything is rendered. */
export function copySizeFault({ width, height }: Size, channels: number): string | null {
  const most = MOST_BYTES / BYTES_PER_SAMPLE / channels;
  if (width * height <= most) return null;
  const megapixels = (px: number) => Math.floor(px / 1e6);
  return (
    `The copy would have ${width} × ${height} px (${megapixels(width * height)} megapixels); ` +
    `${megapixels(most)} can be written. Enlarge it less.`
  );
}
