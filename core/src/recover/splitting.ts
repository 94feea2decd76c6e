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
  /** One plane a channel, linear light; values at weight 0 only start the search. */
  readonly blurred: readonly Plane[];
  /** Per channel: trust in each sample, 1 at the noise that lambda is set for, 0 for unknown (outside frame or mask). */
  readonly weight: readonly Plane[];
  /** Per channel: 1 where the sample reached white, so the truth is this value or more. */
  readonly clipped: readonly (Uint8Array | null)[] | null;
}

/** Penalty that ties v to the gradients, over λ: the answer does not depend on it, the iterations needed do. */
export const GRADIENT_PENALTY_PER_LAMBDA = 20;

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
 * Non-blind deconvolution of one or several channels under a vectorial total-variation prior with unknown samples:
 *
 *   minimise  ½ Σ wᵢ·((k⊗x)ᵢ − yᵢ)² (over channels)  +  λ Σ |∇x|ᵢ,  |∇x| taken over all channels together,
 *
 * by the alternating direction method of multipliers with u = k⊗x and v = ∇x. Because u carries the weights, samples
 * beyond the border, outside the mask or at clipping are simply unknown, and no ringing starts at their edge. Clipped
 * samples only bound the answer from below. Edges common to the channels cost once: colours do not fringe.
 *
 * @param psf - No larger than the evidence.
 * @returns One plane a channel in linear light, not clipped.
 * @throws CoreError SPLITTING_OPTIONS, STOPPED
 *
 * Sources: Almeida & Figueiredo, "Deconvolving images with unknown boundaries using the alternating direction method
 * of multipliers", IEEE TIP 22 (2013); Rudin, Osher, Fatemi, Physica D 60 (1992) for the prior; Bresson & Chan,
 * Inverse Problems and Imaging 2 (2008) for its vectorial form; Whyte, Sivic, Zisserman, IJCV 110 (2014) for leaving
 * clipped samples out.
 */
export function splittingDeconvolve(evidence: Evidence, psf: Psf, options: SplittingOptions): Plane[] {
  checkSplittingOptions(options);
  const { lambda, iterations, dataPenalty } = options;
  const { width, height } = evidence.blurred[0];
  const count = width * height;
  const otf = transferFunction(psf, width, height);
  const gradientPenalty = GRADIENT_PENALTY_PER_LAMBDA * lambda;
  const step = inverseOfNormalMatrix(otf, dataPenalty, gradientPenalty);
  const channels = evidence.blurred.map((_, c) => startChannel(evidence, c));
  const energy = new Float32Array(count);
  const pullX = new Float32Array(count);
  const pullY = new Float32Array(count);

  for (let iteration = 0; iteration < iterations; iteration++) {
    energy.fill(0);
    for (const { pair, dualX, dualY } of channels) addGradient(pair.re, width, height, dualX, dualY, energy);
    for (const channel of channels) {
      const { pair, dualX, dualY } = channel;
      shrinkGradients(energy, 1 / GRADIENT_PENALTY_PER_LAMBDA, dualX, dualY, pullX, pullY);
      explainData(channel, dataPenalty);
      divergence(pullX, pullY, width, height, pair.im);
      fft2d(pair);
      solveInFrequency(pair, otf, step, dataPenalty, gradientPenalty);
      inverseFft2d(pair);
    }
    if (options.shouldStop?.()) throw new CoreError('STOPPED', 'Stopped.');
  }
  return channels.map(({ pair }) => ({ width, height, data: pair.re }));
}

interface Channel {
  readonly blurred: Float32Array;
  readonly weight: Float32Array;
  readonly clipped: Uint8Array | null;
  /** Real part: x. Imaginary part: k⊗x. One complex transform carries both. */
  readonly pair: ComplexPlane;
  readonly dualData: Float32Array;
  readonly dualX: Float32Array;
  readonly dualY: Float32Array;
}

function startChannel({ blurred, weight, clipped }: Evidence, c: number): Channel {
  const { width, height, data } = blurred[c];
  const pair = createComplex(width, height);
  pair.re.set(data);
  pair.im.set(data);
  const zeros = () => new Float32Array(data.length);
  return {
    blurred: data,
    weight: weight[c].data,
    clipped: clipped?.[c] ?? null,
    pair,
    dualData: zeros(),
    dualX: zeros(),
    dualY: zeros(),
  };
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

/** d ← ∇x + d, with periodic ends; adds |∇x + d|² to `energy`. */
function addGradient(
  x: Float32Array,
  width: number,
  height: number,
  dualX: Float32Array,
  dualY: Float32Array,
  energy: Float32Array,
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
      dualX[i] = gx;
      dualY[i] = gy;
      energy[i] += gx * gx + gy * gy;
    }
  }
}

/** Takes g = ∇x + d in the duals: v = shrink(g), d ← g − v; leaves v − d in `pull`. Soft threshold on √energy. */
function shrinkGradients(
  energy: Float32Array,
  threshold: number,
  dualX: Float32Array,
  dualY: Float32Array,
  pullX: Float32Array,
  pullY: Float32Array,
): void {
  for (let i = 0; i < energy.length; i++) {
    const size = Math.sqrt(energy[i]);
    const keep = size > threshold ? 1 - threshold / size : 0;
    const vx = dualX[i] * keep;
    const vy = dualY[i] * keep;
    const dx = dualX[i] - vx;
    const dy = dualY[i] - vy;
    dualX[i] = dx;
    dualY[i] = dy;
    pullX[i] = vx - dx;
    pullY[i] = vy - dy;
  }
}

/** u = argmin ½w(u−y)² + ½μ(u − k⊗x − d)², d ← k⊗x + d − u; leaves u − d in place of x. */
function explainData(channel: Channel, penalty: number): void {
  const { blurred: y, weight: w, clipped, pair, dualData: dual } = channel;
  const kx = pair.im;
  for (let i = 0; i < kx.length; i++) {
    const reached = kx[i] + dual[i];
    const free = clipped !== null && clipped[i] === 1 && reached >= y[i];
    const u = free ? reached : (w[i] * y[i] + penalty * reached) / (w[i] + penalty);
    const left = reached - u;
    dual[i] = left;
    pair.re[i] = u - left;
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
