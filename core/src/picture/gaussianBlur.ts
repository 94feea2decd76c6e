import { createPlane, type Plane } from './plane';
import { clampIndex } from './crop';

/** Gaussian smoothing with σ in px, drawn to 3 σ; border samples repeat. */
export function gaussianBlur(plane: Plane, sigmaPx: number): Plane {
  const reach = Math.max(1, Math.ceil(3 * sigmaPx));
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigmaPx * sigmaPx)),
  );
  const sum = weights.reduce((total, weight) => total + weight, 0);
  const { width, height } = plane;
  const across = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let value = 0;
      for (let k = -reach; k <= reach; k++)
        value += weights[k + reach] * plane.data[y * width + clampIndex(x + k, width)];
      across.data[y * width + x] = value / sum;
    }
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let value = 0;
      for (let k = -reach; k <= reach; k++)
        value += weights[k + reach] * across.data[clampIndex(y + k, height) * width + x];
      out.data[y * width + x] = value / sum;
    }
  }
  return out;
}
