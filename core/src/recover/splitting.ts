import { createComplex, fft2d, inverseFft2d, type ComplexPlane } from '../fourier/fft2d';
import type { Psf } from '../psf/psf';
import { transferFunction } from '../psf/transfer';
import type { Plane } from '../picture/plane';
import { CoreError } from '../errors';

export interface SplittingOptions {
  /** Weight of the gradient prior against a data term of weight 1. */
  readonly lambda: number;
  readonly iterations: number;
  /** Penalty that ties the blurred estimate to the data, > 0. Smaller follows unknown samples faster. */
  readonly dataPenalty: number;
  /** Asked after each iteration; true stops with CoreError STOPPED. */
  readonly shouldStop?: () => boolean;
}

/** Everything known about the samples that the solver must explain. All planes have FFT-friendly, equal sides. */
export interface Evidence {
  /** Linear light; values at weight 0 only start the search. */
  readonly blurred: Plane;
  /** Trust in each sample, 1 at the noise that lambda was set for, 0 for unknown (outside the frame or the mask). */
  readonly weight: Plane;
  /** 1 where the sample reached white: the truth is this value or more. */
  readonly clipped: Uint8Array | null;
}

/** @throws CoreError SPLITTING_OPTIONS */
export function checkSplittingOptions({ lambda, iterations, dataPenalty }: SplittingOptions): void {
  if (!(lambda > 0) || !(dataPenalty > 0) || !(iterations >= 1)) {
    throw new CoreError(
      'SPLITTING_OPTIONS',
      `λ, the penalty and the iterations must be positive, not ${lambda}, ${dataPenalty}, ${iterations}.`,
    );
  }
}

/**
 * Non-blind deconvolution under a total-variation prior with unknown samples:
 *
 *   minimise  ½ Σ wᵢ·((k⊗x)ᵢ − yᵢ)²  +  λ Σ |∇x|ᵢ
 *
 * by the alternating direction method of multipliers with u = k⊗x and v = ∇x. Because u carries the weights, samples
 * beyond the border, outside the mask or at clipping are simply unknown, and no ringing starts at their edge. Clipped
 * samples only bound the answer from below.
 *
 * @param psf - No larger than the evidence.
 * @returns The estimate in linear light, not clipped.
 * @throws CoreError SPLITTING_OPTIONS, STOPPED
 *
 * Sources: Almeida & Figueiredo, "Deconvolving images with unknown boundaries using the alternating direction method
 * of multipliers", IEEE TIP 22 (2013); Rudin, Osher, Fatemi, Physica D 60 (1992) for the prior; Whyte, Sivic,
 * Zisserman, IJCV 110 (2014) for leaving clipped samples out.
 */
export function splittingDeconvolve(evidence: Evidence, psf: Psf, options: SplittingOptions): Plane {
  checkSplittingOptions(options);
  const { lambda, iterations, dataPenalty } = options;
  const { width, height } = evidence.blurred;
  const count = width * height;
  const otf = transferFunction(psf, width, height);
  const gradientPenalty = 100 * lambda;
  const threshold = lambda / gradientPenalty;
  const step = inverseOfNormalMatrix(otf, dataPenalty, gradientPenalty);

  // Real part: x. Imaginary part: k⊗x. One complex transform carries both.
  const pair = createComplex(width, height);
  pair.re.set(evidence.blurred.data);
  pair.im.set(evidence.blurred.data);
  const dualData = new Float32Array(count);
  const dualX = new Float32Array(count);
  const dualY = new Float32Array(count);
  const pullX = new Float32Array(count);
  const pullY = new Float32Array(count);

  for (let iteration = 0; iteration < iterations; iteration++) {
    shrinkGradients(pair.re, width, height, threshold, dualX, dualY, pullX, pullY);
    explainData(pair.im, evidence, dataPenalty, dualData, pair.re);
    divergence(pullX, pullY, width, height, pair.im);
    fft2d(pair);
    solveInFrequency(pair, otf, step, dataPenalty, gradientPenalty);
    inverseFft2d(pair);
    if (options.shouldStop?.()) throw new CoreError('STOPPED', 'Stopped.');
  }
  return { width, height, data: pair.re };
}

/** |1 − exp(−2πiu/length)|² of each frequency u: what a forward difference does to it. */
export function frequencyWeights(length: number): Float64Array {
  return Float64Array.from({ length }, (_, u) => 2 - 2 * Math.cos((2 * Math.PI * u) / length));
}

/** 1 / (μ_d |K|² + μ_g |D|²), D the forward differences with periodic ends. */
function inverseOfNormalMatrix(otf: ComplexPlane, dataPenalty: number, gradientPenalty: number): Float32Array {
  const { width, height } = otf;
  const across = frequencyWeights(width);
  const down = frequencyWeights(height);
  const inverse = new Float32Array(width * height);
  for (let v = 0, i = 0; v < height; v++) {
    for (let u = 0; u < width; u++, i++) {
      const power = otf.re[i] * otf.re[i] + otf.im[i] * otf.im[i];
      inverse[i] = 1 / (dataPenalty * power + gradientPenalty * (across[u] + down[v]) + 1e-12);
    }
  }
  return inverse;
}

/** v = shrink(∇x + d), d ← ∇x + d − v; leaves v − d in `pull`. Isotropic soft threshold. */
function shrinkGradients(
  x: Float32Array,
  width: number,
  height: number,
  threshold: number,
  dualX: Float32Array,
  dualY: Float32Array,
  pullX: Float32Array,
  pullY: Float32Array,
): void {
  for (let row = 0; row < height; row++) {
    const here = row * width;
    const below = row + 1 < height ? here + width : 0;
    for (let column = 0; column < width; column++) {
      const i = here + column;
      const value = x[i];
      const right = column + 1 < width ? x[i + 1] : x[here];
      const gx = right - value + dualX[i];
      const gy = x[below + column] - value + dualY[i];
      const size = Math.sqrt(gx * gx + gy * gy);
      const keep = size > threshold ? 1 - threshold / size : 0;
      const vx = gx * keep;
      const vy = gy * keep;
      const dx = gx - vx;
      const dy = gy - vy;
      dualX[i] = dx;
      dualY[i] = dy;
      pullX[i] = vx - dx;
      pullY[i] = vy - dy;
    }
  }
}

/** u = argmin ½w(u−y)² + ½μ(u − k⊗x − d)², d ← k⊗x + d − u; leaves u − d in `out`. */
function explainData(
  kx: Float32Array,
  { blurred, weight, clipped }: Evidence,
  dataPenalty: number,
  dual: Float32Array,
  out: Float32Array,
): void {
  const y = blurred.data;
  const w = weight.data;
  for (let i = 0; i < kx.length; i++) {
    const reached = kx[i] + dual[i];
    const free = clipped !== null && clipped[i] === 1 && reached >= y[i];
    const u = free ? reached : (w[i] * y[i] + dataPenalty * reached) / (w[i] + dataPenalty);
    const left = reached - u;
    dual[i] = left;
    out[i] = u - left;
  }
}

/** ∇ᵀ of (px, py): the transpose of the forward differences. */
function divergence(px: Float32Array, py: Float32Array, width: number, height: number, out: Float32Array): void {
  for (let row = 0; row < height; row++) {
    const here = row * width;
    const above = row > 0 ? here - width : (height - 1) * width;
    for (let column = 0; column < width; column++) {
      const i = here + column;
      const left = column > 0 ? px[i - 1] : px[here + width - 1];
      out[i] = left - px[i] + py[above + column] - py[i];
    }
  }
}

/**
 * With Z = A + iB of the real planes a = u − d and b = ∇ᵀ(v − d):
 * X = (μ_d·conj(K)·A + μ_g·B) / (μ_d|K|² + μ_g|D|²), and leaves X + i·K·X, so that one inverse gives x and k⊗x.
 */
function solveInFrequency(
  z: ComplexPlane,
  otf: ComplexPlane,
  step: Float32Array,
  dataPenalty: number,
  gradientPenalty: number,
): void {
  const { width, height, re, im } = z;
  for (let v = 0; v <= height - v; v++) {
    const mirroredRow = v === 0 ? 0 : (height - v) * width;
    const selfMirrored = mirroredRow === v * width;
    for (let u = 0; u < width; u++) {
      const mirroredColumn = u === 0 ? 0 : width - u;
      if (selfMirrored && mirroredColumn < u) break;
      const i = v * width + u;
      const j = mirroredRow + mirroredColumn;
      const aRe = 0.5 * (re[i] + re[j]);
      const aIm = 0.5 * (im[i] - im[j]);
      const bRe = 0.5 * (im[i] + im[j]);
      const bIm = 0.5 * (re[j] - re[i]);
      const kRe = otf.re[i];
      const kIm = otf.im[i];
      const scale = step[i];
      const xRe = scale * (dataPenalty * (kRe * aRe + kIm * aIm) + gradientPenalty * bRe);
      const xIm = scale * (dataPenalty * (kRe * aIm - kIm * aRe) + gradientPenalty * bIm);
      const yRe = kRe * xRe - kIm * xIm;
      const yIm = kRe * xIm + kIm * xRe;
      re[i] = xRe - yIm;
      im[i] = xIm + yRe;
      re[j] = xRe + yIm;
      im[j] = yRe - xIm;
    }
  }
}
