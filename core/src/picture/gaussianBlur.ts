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
    // What lies as far to both sides weighs the same; two distances a pass.
    for (let k = 1; k <= reach; k += 2) {
      const near = weights[reach + k];
      const far = k < reach ? weights[reach + k + 1] : 0;
      const [left, right] = [reach - k, reach + k];
      const [before, after] = k < reach ? [left - 1, right + 1] : [left, right];
      for (let x = 0; x < width; x++) {
        row[x] += near * (line[x + left] + line[x + right]) + far * (line[x + before] + line[x + after]);
      }
    }
    across.set(row, y * width);
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const middle = y * width;
    for (let x = 0; x < width; x++) row[x] = weights[reach] * across[middle + x];
    for (let k = 1; k <= reach; k += 2) {
      const near = weights[reach + k];
      const far = k < reach ? weights[reach + k + 1] : 0;
      const [above, below] = [clampIndex(y - k, height) * width, clampIndex(y + k, height) * width];
      const [higher, lower] = [clampIndex(y - k - 1, height) * width, clampIndex(y + k + 1, height) * width];
      for (let x = 0; x < width; x++) {
        row[x] += near * (across[above + x] + across[below + x]) + far * (across[higher + x] + across[lower + x]);
      }
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
