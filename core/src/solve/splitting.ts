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
  /**
   * Per channel: trust in each sample, 1 at the noise that lambda is set for, 0 for unknown (outside frame or mask).
   */
  readonly weight: readonly Plane[];
  /** Per channel: 1 where the sample reached white, so the truth is this value or more. */
  readonly clipped: readonly (Uint8Array | null)[] | null;
}

/** Penalty that ties v to the gradients, over λ: the answer does not depend on it, the iterations needed do. */
export const GRADIENT_PENALTY_PER_LAMBDA = 20;
/** Over-relaxation, 1 to 2: 10 iterations come as near to the answer as 16 without it. */
export const RELAXATION = 1.8;

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
 * by the over-relaxed alternating direction method of multipliers with u = k⊗x and v = ∇x, each kept as its sum with
 * its dual, r = u + d and g = v + d, which tell both. Because u carries the weights, samples beyond the border, outside
 * the mask or at clipping are simply unknown, and no ringing starts at their edge. Clipped samples only bound the
 * answer from below. Edges common to the channels cost once: colours do not fringe.
 *
 * @param psf - No larger than the evidence.
 * @returns One plane a channel in linear light, not clipped.
 * @throws CoreError SPLITTING_OPTIONS, STOPPED
 *
 * Sources: Almeida & Figueiredo, "Deconvolving images with unknown boundaries using the alternating direction method of
 * multipliers", IEEE TIP 22 (2013); Eckstein & Bertsekas, Mathematical Programming 55 (1992) for the relaxation; Rudin,
 * Osher, Fatemi, Physica D 60 (1992) for the prior; Bresson & Chan, Inverse Problems and Imaging 2 (2008) for its
 * vectorial form; Whyte, Sivic, Zisserman, IJCV 110 (2014) for leaving clipped samples out.
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
  const kept = new Float32Array(count);
  const energy = new Float32Array(count);
  const pullX = new Float32Array(count);
  const pullY = new Float32Array(count);

  for (let iteration = 0; iteration < iterations; iteration++) {
    energy.fill(0);
    for (const channel of channels) addGradient(channel, kept, energy);
    shareKept(energy, 1 / GRADIENT_PENALTY_PER_LAMBDA, kept);
    for (const channel of channels) {
      const { pair } = channel;
      pullOfGradients(channel, kept, pullX, pullY);
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
  /** r = u + d of the data, g = v + d of the gradients. */
  readonly data: Float32Array;
  readonly gradientX: Float32Array;
  readonly gradientY: Float32Array;
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
    data: data.slice(),
    gradientX: zeros(),
    gradientY: zeros(),
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

/** g ← g + ρ·(∇x − v), v = kept share of g, with periodic ends; adds |g|² to `energy`. */
function addGradient({ pair, gradientX, gradientY }: Channel, kept: Float32Array, energy: Float32Array): void {
  const { width, height, re: x } = pair;
  for (let row = 0; row < height; row++) {
    const here = row * width;
    const below = row + 1 < height ? here + width : 0;
    for (let column = 0; column < width; column++) {
      const i = here + column;
      const value = x[i];
      const right = column + 1 < width ? x[i + 1] : x[here];
      const gx = gradientX[i] + RELAXATION * (right - value - kept[i] * gradientX[i]);
      const gy = gradientY[i] + RELAXATION * (x[below + column] - value - kept[i] * gradientY[i]);
      gradientX[i] = gx;
      gradientY[i] = gy;
      energy[i] += gx * gx + gy * gy;
    }
  }
}

/** Soft threshold on √energy: the share of the gradients that is kept. */
function shareKept(energy: Float32Array, threshold: number, kept: Float32Array): void {
  for (let i = 0; i < energy.length; i++) {
    const size = Math.sqrt(energy[i]);
    kept[i] = size > threshold ? 1 - threshold / size : 0;
  }
}

/** v − d. */
function pullOfGradients(
  { gradientX, gradientY }: Channel,
  kept: Float32Array,
  pullX: Float32Array,
  pullY: Float32Array,
): void {
  for (let i = 0; i < kept.length; i++) {
    const pull = 2 * kept[i] - 1;
    pullX[i] = pull * gradientX[i];
    pullY[i] = pull * gradientY[i];
  }
}

/** r ← r + ρ·(k⊗x − u), u = argmin ½w(u−y)² + ½μ(u − r)²; leaves u − d in place of x. */
function explainData({ blurred: y, weight: w, clipped, pair, data }: Channel, penalty: number): void {
  const { re, im: kx } = pair;
  // How far d = r − u goes from r to y.
  const pulled = (r: number, i: number) =>
    clipped !== null && clipped[i] === 1 && r >= y[i] ? 0 : (w[i] / (w[i] + penalty)) * (r - y[i]);
  for (let i = 0; i < kx.length; i++) {
    const before = data[i];
    const r = before + RELAXATION * (kx[i] - (before - pulled(before, i)));
    data[i] = r;
    re[i] = r - 2 * pulled(r, i);
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
