import { createComplex } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';

export interface PsfBetween {
  readonly psf: Psf;
  /** How much of what changed the blur explains, 0..1: the rest is not blur taken back. */
  readonly takenBack: number;
}

const STEPS = 300;

/**
 * The blur that turns `result` back into `original`: at least 0, sum 1, within `reach` px. Least squares by projected
 * gradients (Nesterov's steps) on the normal equations, whose entries are correlations of the planes' differences.
 *
 * @param original, result - Brightness, linear light, same size, border of `reach` px not counted.
 */
export function psfBetween(original: Plane, result: Plane, reach: number, kernels: Kernels): PsfBetween {
  const side = 2 * reach + 1;
  const span = 4 * reach + 1;
  const own = correlations(result, result, 2 * reach, kernels);
  const cross = correlations(original, result, reach, kernels);
  const count = side * side;
  const values = new Float64Array(count);
  values[(count - 1) >> 1] = 1;
  let ahead = values.slice();
  const step = 1 / own.reduce((sum, value) => sum + Math.abs(value), 0);
  const gradient = new Float64Array(count);
  for (let k = 0; k < STEPS; k++) {
    for (let p = 0; p < count; p++) {
      const [px, py] = [p % side, Math.floor(p / side)];
      let sum = -cross[p];
      for (let qy = 0, q = 0; qy < side; qy++) {
        const row = (py - qy + 2 * reach) * span + px + 2 * reach;
        for (let qx = 0; qx < side; qx++, q++) sum += own[row - qx] * ahead[q];
      }
      gradient[p] = sum;
    }
    const next = ahead.map((value, p) => Math.max(0, value - step * gradient[p]));
    const total = next.reduce((sum, value) => sum + value, 0) || 1;
    const pace = k / (k + 3);
    ahead = next.map((value, p) => value / total + pace * (value / total - values[p]));
    next.forEach((value, p) => (values[p] = value / total));
  }
  const psf = normalisedPsf(side, side, values);
  return { psf, takenBack: explained(original, result, psf, reach) };
}

/** Σ a(i + shift)·b(i) of the planes' Laplacians for shifts up to `most`, row by row. */
function correlations(a: Plane, b: Plane, most: number, kernels: Kernels): Float64Array {
  const [w, h] = [fastLength(a.width + most), fastLength(a.height + most)];
  const pair = createComplex(w, h);
  const count = a.width * a.height;
  const put = ({ width, height, data }: Plane, into: Float32Array) => {
    // Edges tell the blur, flat light does not.
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const i = y * width + x;
        into[y * w + x] = 4 * data[i] - data[i - 1] - data[i + 1] - data[i - width] - data[i + width];
      }
    }
  };
  put(a, pair.re);
  const other = createComplex(w, h);
  put(b, other.re);
  kernels.fft2d(pair);
  kernels.fft2d(other);
  for (let i = 0; i < pair.re.length; i++) {
    const [re, im] = [pair.re[i], pair.im[i]];
    pair.re[i] = re * other.re[i] + im * other.im[i];
    pair.im[i] = im * other.re[i] - re * other.im[i];
  }
  kernels.inverseFft2d(pair);
  const side = 2 * most + 1;
  return Float64Array.from({ length: side * side }, (_, i) => {
    const [x, y] = [(i % side) - most, Math.floor(i / side) - most];
    return pair.re[((y + h) % h) * w + ((x + w) % w)] / count;
  });
}

function explained(original: Plane, result: Plane, psf: Psf, reach: number): number {
  const { width, height, data } = result;
  let [left, changed] = [0, 0];
  // Every second sample: a share needs no more.
  for (let y = reach; y < height - reach; y += 2) {
    for (let x = reach; x < width - reach; x += 2) {
      let again = 0;
      for (let v = 0; v < psf.height; v++) {
        const row = (y - v + reach) * width + x + reach;
        for (let u = 0; u < psf.width; u++) again += psf.data[v * psf.width + u] * data[row - u];
      }
      const i = y * width + x;
      left += (again - original.data[i]) ** 2;
      changed += (data[i] - original.data[i]) ** 2;
    }
  }
  return changed > 0 ? Math.max(0, 1 - left / changed) : 1;
}
