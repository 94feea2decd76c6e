import { clampIndex } from '../picture/crop';
import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';

/** Where a sample of the frame lies in another picture: x' = scaleX·x + shiftX, px of the other. */
export interface Placement {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly shiftX: number;
  readonly shiftY: number;
}

/** Weights of the four neighbours at fraction t. Source: Keys, IEEE Trans. ASSP 29 (1981), a = −1/2. */
function cubicWeights(t: number): [number, number, number, number] {
  const u = t * t;
  const v = u * t;
  return [0.5 * (-v + 2 * u - t), 0.5 * (3 * v - 5 * u + 2), 0.5 * (-3 * v + 4 * u + t), 0.5 * (v - u)];
}

/**
 * Another picture's plane on the frame's grid by cubic convolution; where it holds more samples than the frame it is
 * smoothed first, or they would fold over. Outside of it border samples repeat.
 */
export function resampled(plane: Plane, placement: Placement, size: Size): Plane {
  const { scaleX, scaleY, shiftX, shiftY } = placement;
  const finer = Math.max(scaleX, scaleY);
  const source = finer > 1.05 ? gaussianBlur(plane, 0.45 * Math.sqrt(finer * finer - 1)) : plane;
  const across = createPlane(size.width, plane.height);
  const columns = new Int32Array(4 * size.width);
  const shares = new Float64Array(4 * size.width);
  for (let x = 0; x < size.width; x++) {
    const at = scaleX * x + shiftX;
    const left = Math.floor(at);
    shares.set(cubicWeights(at - left), 4 * x);
    for (let k = 0; k < 4; k++) columns[4 * x + k] = clampIndex(left + k - 1, plane.width);
  }
  for (let y = 0, i = 0; y < plane.height; y++) {
    const row = source.data.subarray(y * plane.width, (y + 1) * plane.width);
    for (let x = 0; x < columns.length; x += 4, i++) {
      across.data[i] =
        shares[x] * row[columns[x]] +
        shares[x + 1] * row[columns[x + 1]] +
        shares[x + 2] * row[columns[x + 2]] +
        shares[x + 3] * row[columns[x + 3]];
    }
  }
  const out = createPlane(size.width, size.height);
  for (let y = 0; y < size.height; y++) {
    const at = scaleY * y + shiftY;
    const top = Math.floor(at);
    const weights = cubicWeights(at - top);
    for (let k = 0; k < 4; k++) {
      const from = clampIndex(top + k - 1, plane.height) * size.width;
      for (let x = 0; x < size.width; x++) out.data[y * size.width + x] += weights[k] * across.data[from + x];
    }
  }
  return out;
}

/** 1 where the other picture holds a sample, else 0; over `size` samples of the frame from (left, top) on. */
export function coveredBy(other: Size, placement: Placement, size: Size, left = 0, top = 0): Plane {
  const out = createPlane(size.width, size.height);
  for (let y = 0; y < size.height; y++) {
    const v = placement.scaleY * (y + top) + placement.shiftY;
    if (v < -0.5 || v > other.height - 0.5) continue;
    for (let x = 0; x < size.width; x++) {
      const u = placement.scaleX * (x + left) + placement.shiftX;
      if (u >= -0.5 && u <= other.width - 0.5) out.data[y * size.width + x] = 1;
    }
  }
  return out;
}
