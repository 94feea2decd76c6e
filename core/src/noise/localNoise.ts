import { plainBoxMean } from '../picture/boxMean';
import { installedFilters } from '../picture/filters';
import { keptWith } from '../picture/kept';
import { createPlane, type Plane } from '../picture/plane';

/** Half side, px, of the square over which local noise is averaged. */
export const LOCAL_NOISE_REACH = 8;

/**
 * Local noise variance: the mean square of Immerkær's mask (a difference of two Laplacians, scaled so that white
 * noise of variance σ² gives σ²) over a square of 17 px. In a blurred picture little else lives at these frequencies;
 * in a sharp one fine texture is counted as well.
 *
 * Source: Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64 (1996).
 */
export function localNoise(plane: Plane): Plane {
  return (installedFilters(plane)?.localNoise ?? plainLocalNoise)(plane);
}

/** Of a plane that is never changed after: measured once. */
export function keptLocalNoise(plane: Plane): Plane {
  return keptWith(plane, 'local noise', () => localNoise(plane));
}

/** Twin of kernels/assembly/filters.ts. */
export function plainLocalNoise(plane: Plane): Plane {
  return plainBoxMean(squaredImmerkaer(plane), LOCAL_NOISE_REACH);
}

export function squaredImmerkaer(plane: Plane): Plane {
  const out = immerkaer(plane);
  for (let i = 0; i < out.data.length; i++) out.data[i] *= out.data[i];
  return out;
}

/**
 * Response of the mask [1 −2 1; −2 4 −2; 1 −2 1] / 6 in single precision; border samples repeat their inner neighbour.
 */
export function immerkaer(plane: Plane): Plane {
  const { width, height, data } = plane;
  const out = createPlane(width, height);
  if (width < 3 || height < 3) return out;
  const bend = (before: number, here: number, after: number) => Math.fround(Math.fround(before + after) - 2 * here);
  const across = new Float32Array(data.length);
  for (let i = 1; i + 1 < data.length; i++) across[i] = bend(data[i - 1], data[i], data[i + 1]);
  for (let y = 0; y < height; y++) {
    const from = Math.min(Math.max(y, 1), height - 2) * width;
    const row = out.data.subarray(y * width, (y + 1) * width);
    for (let x = 1; x + 1 < width; x++) {
      const i = from + x;
      row[x] = bend(across[i - width], across[i], across[i + width]) * SIXTH;
    }
    row[0] = row[1];
    row[width - 1] = row[width - 2];
  }
  return out;
}

const SIXTH = Math.fround(1 / 6);
