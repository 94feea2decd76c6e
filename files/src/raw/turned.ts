import type { Size } from '@vitrocept/core';

/**
 * Interleaved samples turned upright.
 *
 * @param orientation - 1..8. Source: Exif 2.32, 4.6.4, Orientation.
 */
export function turned(
  samples: Uint16Array,
  { width, height }: Size,
  channels: number,
  orientation: number,
): Uint16Array {
  if (orientation === 1) return samples;
  const swaps = orientation >= 5;
  const [wide, high] = swaps ? [height, width] : [width, height];
  const out = new Uint16Array(samples.length);
  for (let y = 0, to = 0; y < high; y++) {
    for (let x = 0; x < wide; x++) {
      const [fromX, fromY] = SOURCES[orientation](x, y, width - 1, height - 1);
      const from = (fromY * width + fromX) * channels;
      for (let c = 0; c < channels; c++, to++) out[to] = samples[from + c];
    }
  }
  return out;
}

/** Where a sample of the upright picture lies in the stored one. */
const SOURCES: Readonly<Record<number, (x: number, y: number, right: number, bottom: number) => [number, number]>> = {
  2: (x, y, right) => [right - x, y],
  3: (x, y, right, bottom) => [right - x, bottom - y],
  4: (x, y, _, bottom) => [x, bottom - y],
  5: (x, y) => [y, x],
  6: (x, y, _, bottom) => [y, bottom - x],
  7: (x, y, right, bottom) => [right - y, bottom - x],
  8: (x, y, right) => [right - y, x],
};
