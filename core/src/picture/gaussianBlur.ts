import { clampIndex } from './crop';
import { createPlane, type Plane } from './plane';

/** Gaussian smoothing with σ in px, drawn to 3 σ; border samples repeat. */
export function gaussianBlur(plane: Plane, sigmaPx: number): Plane {
  const weights = weightsOf(sigmaPx);
  const reach = (weights.length - 1) / 2;
  const { width, height, data } = plane;
  const across = createPlane(width, height);
  const line = new Float64Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < line.length; x++) line[x] = data[y * width + clampIndex(x - reach, width)];
    for (let x = 0; x < width; x++) {
      let value = 0;
      for (let k = 0; k < weights.length; k++) value += weights[k] * line[x + k];
      across.data[y * width + x] = value;
    }
  }
  const out = createPlane(width, height);
  const row = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    row.fill(0);
    // Row by row, so that memory is read in order.
    for (let k = 0; k < weights.length; k++) {
      const from = clampIndex(y + k - reach, height) * width;
      for (let x = 0; x < width; x++) row[x] += weights[k] * across.data[from + x];
    }
    out.data.set(row, y * width);
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
