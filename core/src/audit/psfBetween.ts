import { createComplex } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { normalisedPsf, type Psf } from '../psf/psf';

export interface PsfBetween {
  readonly psf: Psf;
  /** How much of what changed the blur explains, 0..1: the rest is not blur taken back. */
  readonly takenBack: number;
  /** Variance of what the blur leaves unexplained, at the usual place: near the noise where most is explained. */
  readonly leftOver: number;
}

const STEPS = 300;
/** Share of the change below which the fit is tried without what seems painted over. */
const POORLY_EXPLAINED = 0.6;
const PAINTED_TIMES = 8;

/**
 * The blur that turns `result` back into `original`: at least 0, sum 1, within `reach` px. Least squares by projected
 * gradients (Nesterov's steps) on the normal equations, whose entries are correlations of the planes' differences.
 *
 * @param original, result - Brightness, linear light, same size, border of `reach` px not counted.
 * @param counted - 0..1: how far a sample counts (where a version left the original as it was it says nothing).
 */
export function psfBetween(
  original: Plane,
  result: Plane,
  reach: number,
  kernels: Kernels,
  counted: Plane | null = null,
): PsfBetween {
  const plain = fitted(original, result, reach, kernels, counted);
  if (plain.takenBack >= POORLY_EXPLAINED) return plain;
  // A few places that were painted over would bend the fit for all: without them it may explain the rest.
  const robust = fitted(withoutPainted(original, result), result, reach, kernels, counted);
  const truly = { psf: robust.psf, ...explained(original, result, robust.psf, reach, counted) };
  return truly.leftOver < plain.leftOver ? truly : plain;
}

/** Where the two differ far more than they usually do, the original is taken to be as the result. */
function withoutPainted(original: Plane, result: Plane): Plane {
  const apart = original.data.map((value, i) => Math.abs(value - result.data[i]));
  const usual = Float32Array.from(apart).sort()[apart.length >> 1];
  const painted = { ...original, data: apart.map((value) => (value > PAINTED_TIMES * usual + 1e-6 ? 1 : 0)) };
  const around = boxMean(painted, 3).data;
  return { ...original, data: original.data.map((value, i) => (around[i] > 1e-4 ? result.data[i] : value)) };
}

function fitted(original: Plane, result: Plane, reach: number, kernels: Kernels, counted: Plane | null): PsfBetween {
  const side = 2 * reach + 1;
  const span = 4 * reach + 1;
  const [before, after] = [bends(original, counted), bends(result, counted)];
  const own = correlations(after, after, 2 * reach, 2 * reach, kernels);
  const cross = correlations(before, after, reach, 2 * reach, kernels);
  const count = side * side;
  let values = new Float64Array(count);
  let since = 0;
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
    const next = onSimplex(ahead.map((value, p) => value - step * gradient[p]));
    // Momentum that leads uphill is dropped.
    let uphill = 0;
    for (let p = 0; p < count; p++) uphill += (ahead[p] - next[p]) * (next[p] - values[p]);
    const pace = uphill > 0 ? 0 : since / (since + 3);
    since = uphill > 0 ? 0 : since + 1;
    ahead = next.map((value, p) => value + pace * (value - values[p]));
    values = next;
  }
  const psf = normalisedPsf(side, side, values);
  return { psf, ...explained(original, result, psf, reach, counted) };
}

/** The nearest values that are at least 0 and sum to 1. Source: Duchi, Shalev-Shwartz, Singer, Chandra, ICML 2008. */
function onSimplex(values: Float64Array): Float64Array<ArrayBuffer> {
  const sorted = Float64Array.from(values).sort().reverse();
  let [sum, excess] = [0, 0];
  for (let i = 0; i < sorted.length; i++) {
    sum += sorted[i];
    const candidate = (sum - 1) / (i + 1);
    if (sorted[i] - candidate > 0) excess = candidate;
  }
  return Float64Array.from(values, (value) => Math.max(0, value - excess));
}

/** Edges tell the blur, flat light does not: the Laplacian, as far as it counts. */
function bends({ width, height, data }: Plane, counted: Plane | null): Plane {
  const out = createPlane(width, height);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const share = counted ? counted.data[i] : 1;
      out.data[i] = share * (4 * data[i] - data[i - 1] - data[i + 1] - data[i - width] - data[i + width]);
    }
  }
  return out;
}

/** Σ a(i + shift)·b(i) for shifts up to `most`, row by row; `room` is kept against wrapping. */
function correlations(a: Plane, b: Plane, most: number, room: number, kernels: Kernels): Float64Array {
  const [w, h] = [fastLength(a.width + room), fastLength(a.height + room)];
  const pair = createComplex(w, h);
  const count = a.width * a.height;
  const other = createComplex(w, h);
  for (let y = 0; y < a.height; y++) {
    const [from, to] = [y * a.width, (y + 1) * a.width];
    pair.re.set(a.data.subarray(from, to), y * w);
    other.re.set(b.data.subarray(from, to), y * w);
  }
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

/** The median of a squared normal value of variance 1. */
const MEDIAN_OF_SQUARE = 0.4549;

function explained(
  original: Plane,
  result: Plane,
  psf: Psf,
  reach: number,
  counted: Plane | null,
): Omit<PsfBetween, 'psf'> {
  const { width, height, data } = result;
  let [left, changed] = [0, 0];
  const errors: number[] = [];
  // Every second sample: a share needs no more.
  for (let y = reach; y < height - reach; y += 2) {
    for (let x = reach; x < width - reach; x += 2) {
      if (counted && counted.data[y * width + x] < 1) continue;
      let again = 0;
      for (let v = 0; v < psf.height; v++) {
        const row = (y - v + reach) * width + x + reach;
        for (let u = 0; u < psf.width; u++) again += psf.data[v * psf.width + u] * data[row - u];
      }
      const i = y * width + x;
      const error = (again - original.data[i]) ** 2;
      errors.push(error);
      left += error;
      changed += (data[i] - original.data[i]) ** 2;
    }
  }
  const sorted = Float64Array.from(errors).sort();
  return {
    takenBack: changed > 0 ? Math.max(0, 1 - left / changed) : 1,
    leftOver: (sorted[sorted.length >> 1] ?? 0) / MEDIAN_OF_SQUARE,
  };
}
