import { clampIndex } from './crop';
import { createPlane, type Plane } from './plane';

/** Gaussian smoothing with σ in px, drawn to 3 σ; border samples repeat. */
export function gaussianBlur(plane: Plane, sigmaPx: number): Plane {
  const weights = weightsOf(sigmaPx);
  const reach = (weights.length - 1) / 2;
  const { width, height, data } = plane;
  const across = new Float32Array(width * height);
  const line = new Float64Array(width + 2 * reach);
  const row = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < line.length; x++) line[x] = data[y * width + clampIndex(x - reach, width)];
    for (let x = 0; x < width; x++) row[x] = weights[reach] * line[x + reach];
    // What lies as far to both sides weighs the same.
    for (let k = 1; k <= reach; k++) {
      const weight = weights[reach + k];
      for (let x = 0; x < width; x++) row[x] += weight * (line[x + reach - k] + line[x + reach + k]);
    }
    across.set(row, y * width);
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const middle = y * width;
    for (let x = 0; x < width; x++) row[x] = weights[reach] * across[middle + x];
    for (let k = 1; k <= reach; k++) {
      const weight = weights[reach + k];
      const above = clampIndex(y - k, height) * width;
      const below = clampIndex(y + k, height) * width;
      for (let x = 0; x < width; x++) row[x] += weight * (across[above + x] + across[below + x]);
    }
    out.data.set(row, middle);
  }
  return out;
}

/** Sum 1. */
function weightsOf(sigmaPx: number): Float64Array {
  const reach = Math.max(1, Math.ceil(3 * sigmaPx));
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigmaPx * sigmaPx)),
  );
  const sum = weights.reduce((total, weight) => total + weight, 0);
  return weights.map((weight) => weight / sum);
}
