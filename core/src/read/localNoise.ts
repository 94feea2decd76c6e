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

/** Mean over a square of 2·reach + 1 px, cut at the plane's edges. Running sums: the cost does not grow with reach. */
export function boxMean(plane: Plane, reach: number): Plane {
  const { width, height } = plane;
  const across = createPlane(width, height);
  for (let y = 0; y < height; y++) meanAlong(plane.data, across.data, y * width, width, reach);
  const out = createPlane(width, height);
  meanDown(across.data, out.data, width, height, reach);
  return out;
}

/** All columns at once, row by row, so that memory is read in order. */
function meanDown(from: Float32Array, to: Float32Array, width: number, height: number, reach: number): void {
  const sums = new Float64Array(width);
  let count = 0;
  for (let y = 0; y < Math.min(reach, height); y++, count++) {
    for (let x = 0; x < width; x++) sums[x] += from[y * width + x];
  }
  for (let y = 0; y < height; y++) {
    if (y + reach < height) {
      const ahead = (y + reach) * width;
      for (let x = 0; x < width; x++) sums[x] += from[ahead + x];
      count++;
    }
    if (y - reach - 1 >= 0) {
      const behind = (y - reach - 1) * width;
      for (let x = 0; x < width; x++) sums[x] -= from[behind + x];
      count--;
    }
    const row = y * width;
    for (let x = 0; x < width; x++) to[row + x] = sums[x] / count;
  }
}

function meanAlong(from: Float32Array, to: Float32Array, start: number, length: number, reach: number): void {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < Math.min(reach, length); i++) {
    sum += from[start + i];
    count++;
  }
  for (let i = 0; i < length; i++) {
    if (i + reach < length) {
      sum += from[start + i + reach];
      count++;
    }
    if (i - reach - 1 >= 0) {
      sum -= from[start + i - reach - 1];
      count--;
    }
    to[start + i] = sum / count;
  }
}
