import { clampIndex } from './crop';
import { filteredInStrips } from './filters';
import { createPlane, type Plane } from './plane';

/** Gaussian smoothing with σ in px, drawn to 3 σ; border samples repeat. */
export function gaussianBlur(plane: Plane, sigmaPx: number): Plane {
  const fast = filteredInStrips(plane, reachOf(sigmaPx), (filters, strip) => filters.gaussianBlur(strip, sigmaPx));
  return fast ?? plainGaussianBlur(plane, sigmaPx);
}

/** Single precision throughout, in one order, as the twin in kernels/assembly/filters.ts. */
export function plainGaussianBlur(plane: Plane, sigmaPx: number): Plane {
  const weights = gaussianWeights(sigmaPx);
  const reach = weights.length - 1;
  const { width, height, data } = plane;
  const across = createPlane(width, height);
  const line = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < line.length; x++) line[x] = data[y * width + clampIndex(x - reach, width)];
    for (let x = 0; x < width; x++) {
      let sum = Math.fround(weights[0] * line[x + reach]);
      for (let k = 1; k <= reach; k++) sum = weighed(sum, weights[k], line[x + reach - k], line[x + reach + k]);
      across.data[y * width + x] = sum;
    }
  }
  const out = createPlane(width, height);
  const sums = out.data;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) sums[row + x] = weights[0] * across.data[row + x];
    for (let k = 1; k <= reach; k++) {
      const [above, below] = [clampIndex(y - k, height) * width, clampIndex(y + k, height) * width];
      for (let x = 0; x < width; x++) {
        sums[row + x] = weighed(sums[row + x], weights[k], across.data[above + x], across.data[below + x]);
      }
    }
  }
  return out;
}

function weighed(sum: number, weight: number, a: number, b: number): number {
  return Math.fround(sum + Math.fround(weight * Math.fround(a + b)));
}

const reachOf = (sigmaPx: number) => Math.max(1, Math.ceil(3 * sigmaPx));

/** From the middle to one side; both sides together sum to 1. */
export function gaussianWeights(sigmaPx: number): Float32Array {
  const reach = reachOf(sigmaPx);
  const weights = Float64Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k ** 2) / (2 * sigmaPx * sigmaPx)));
  const sum = weights.reduce((total, weight, k) => total + (k === 0 ? weight : 2 * weight), 0);
  return Float32Array.from(weights, (weight) => weight / sum);
}
