import { normalisedPsf, type Psf } from './psf';

/** A point spread function at half size in odd sides of its own, every sample shared between its four nearest. */
export function halvedPsf({ width, height, data }: Psf, across: number, down: number): Psf {
  const values = new Float64Array(across * down);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = [(x - (width - 1) / 2) / 2 + (across - 1) / 2, (y - (height - 1) / 2) / 2 + (down - 1) / 2];
      const [left, top] = [Math.floor(u), Math.floor(v)];
      for (const [dx, dy] of CORNERS) {
        if (left + dx < 0 || top + dy < 0 || left + dx >= across || top + dy >= down) continue;
        const share = Math.abs(1 - dx - (u - left)) * Math.abs(1 - dy - (v - top));
        values[(top + dy) * across + left + dx] += share * data[y * width + x];
      }
    }
  }
  return normalisedPsf(across, down, values);
}

const CORNERS = [
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
] as const;
