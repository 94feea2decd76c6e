/** A few normal distributions that together describe samples of `dimensions` numbers each. */
export interface Mixture {
  readonly dimensions: number;
  readonly parts: readonly Part[];
}

interface Part {
  readonly mean: Float64Array;
  /** Inverse of the covariance's lower Cholesky factor, row by row. */
  readonly whitening: Float64Array;
  /** ln of its share, less half of ln of the covariance's determinant. */
  readonly height: number;
}

/** Variance added to every feature, so that flat places do not make a spike. */
const LEAST_VARIANCE = 1e-3;
const ROUNDS = 6;

/**
 * Fits `count` normal distributions: clusters by Lloyd's steps from means spread along the samples, one full covariance
 * each. No samples give an empty mixture.
 *
 * @param samples - Interleaved, `dimensions` numbers each.
 */
export function fitMixture(samples: Float32Array, dimensions: number, count: number): Mixture {
  const total = Math.floor(samples.length / dimensions);
  if (total === 0) return { dimensions, parts: [] };
  const means = spreadMeans(samples, dimensions, Math.min(count, total));
  const owner = new Uint8Array(total);
  for (let round = 0; round < ROUNDS; round++) {
    assign(samples, dimensions, means, owner);
    move(samples, dimensions, means, owner);
  }
  return { dimensions, parts: means.flatMap((mean, k) => partOf(samples, dimensions, mean, owner, k) ?? []) };
}

/** −ln of the likelihood of the sample at `at`, by its best part alone; large where the mixture is empty. */
export function costIn({ dimensions: n, parts }: Mixture, samples: Float32Array, at: number): number {
  let best = parts.length > 0 ? Infinity : 50;
  for (let k = 0; k < parts.length; k++) {
    const { mean, whitening, height } = parts[k];
    for (let c = 0; c < n; c++) APART[c] = samples[at + c] - mean[c];
    const most = 2 * (best + height);
    let distance = 0;
    for (let r = 0; r < n && distance < most; r++) {
      let value = 0;
      for (let c = 0; c <= r; c++) value += whitening[r * n + c] * APART[c];
      distance += value * value;
    }
    if (distance < most) best = distance / 2 - height;
  }
  return best;
}

const APART = new Float64Array(8);

/** Each next mean is the sample farthest from those before, among a spread few hundred. */
function spreadMeans(samples: Float32Array, n: number, count: number): Float64Array[] {
  const total = samples.length / n;
  const step = Math.max(1, Math.floor(total / 400));
  const centre = new Float64Array(n);
  for (let i = 0; i < total; i++) for (let f = 0; f < n; f++) centre[f] += samples[i * n + f] / total;
  const means = [centre];
  while (means.length < count) {
    let [farthest, most] = [0, -1];
    for (let i = 0; i < total; i += step) {
      const near = Math.min(...means.map((mean) => squaredDistance(samples, i * n, mean)));
      if (near > most) [farthest, most] = [i, near];
    }
    means.push(Float64Array.from(samples.subarray(farthest * n, farthest * n + n)));
  }
  return means;
}

function squaredDistance(samples: Float32Array, at: number, mean: Float64Array): number {
  let sum = 0;
  for (let f = 0; f < mean.length; f++) sum += (samples[at + f] - mean[f]) ** 2;
  return sum;
}

function assign(samples: Float32Array, n: number, means: readonly Float64Array[], owner: Uint8Array): void {
  for (let i = 0; i < owner.length; i++) {
    let least = Infinity;
    for (let k = 0; k < means.length; k++) {
      const mean = means[k];
      let distance = 0;
      for (let f = 0, at = i * n; f < n; f++, at++) distance += (samples[at] - mean[f]) * (samples[at] - mean[f]);
      if (distance < least) {
        least = distance;
        owner[i] = k;
      }
    }
  }
}

function move(samples: Float32Array, n: number, means: readonly Float64Array[], owner: Uint8Array): void {
  const counts = new Float64Array(means.length);
  const sums = means.map(() => new Float64Array(n));
  for (let i = 0; i < owner.length; i++) {
    counts[owner[i]]++;
    for (let f = 0; f < n; f++) sums[owner[i]][f] += samples[i * n + f];
  }
  means.forEach((mean, k) => {
    if (counts[k] > 0) for (let f = 0; f < n; f++) mean[f] = sums[k][f] / counts[k];
  });
}

function partOf(samples: Float32Array, n: number, mean: Float64Array, owner: Uint8Array, k: number): Part | null {
  const covariance = new Float64Array(n * n);
  let count = 0;
  for (let i = 0; i < owner.length; i++) {
    if (owner[i] !== k) continue;
    count++;
    for (let r = 0; r < n; r++) {
      const d = samples[i * n + r] - mean[r];
      for (let c = 0; c <= r; c++) covariance[r * n + c] += d * (samples[i * n + c] - mean[c]);
    }
  }
  if (count === 0) return null;
  const factor = new Float64Array(n * n);
  let logDeterminant = 0;
  for (let r = 0; r < n; r++) {
    for (let c = 0; c <= r; c++) {
      let value = covariance[r * n + c] / count + (r === c ? LEAST_VARIANCE : 0);
      for (let m = 0; m < c; m++) value -= factor[r * n + m] * factor[c * n + m];
      factor[r * n + c] = r === c ? Math.sqrt(value) : value / factor[c * n + c];
    }
    logDeterminant += 2 * Math.log(factor[r * n + r]);
  }
  return { mean, whitening: inverted(factor, n), height: Math.log(count / owner.length) - logDeterminant / 2 };
}

/** Of a lower triangle, row by row. */
function inverted(factor: Float64Array, n: number): Float64Array {
  const out = new Float64Array(n * n);
  for (let c = 0; c < n; c++) {
    for (let r = c; r < n; r++) {
      let value = r === c ? 1 : 0;
      for (let m = c; m < r; m++) value -= factor[r * n + m] * out[m * n + c];
      out[r * n + c] = value / factor[r * n + r];
    }
  }
  return out;
}
