import { boxMean } from '../picture/boxMean';
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
  return boxMean(squaredImmerkaer(plane), LOCAL_NOISE_REACH);
}

export function squaredImmerkaer(plane: Plane): Plane {
  const out = immerkaer(plane);
  for (let i = 0; i < out.data.length; i++) out.data[i] *= out.data[i];
  return out;
}

/** Response of the mask [1 −2 1; −2 4 −2; 1 −2 1] / 6; border samples repeat their inner neighbour. */
export function immerkaer(plane: Plane): Plane {
  const { width, height, data } = plane;
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const row = Math.min(Math.max(y, 1), height - 2) * width;
    for (let x = 0; x < width; x++) {
      if (width < 3 || height < 3) continue;
      const i = row + Math.min(Math.max(x, 1), width - 2);
      out.data[y * width + x] =
        (data[i - width - 1] +
          data[i - width + 1] +
          data[i + width - 1] +
          data[i + width + 1] -
          2 * (data[i - 1] + data[i + 1] + data[i - width] + data[i + width]) +
          4 * data[i]) /
        6;
    }
  }
  return out;
}
