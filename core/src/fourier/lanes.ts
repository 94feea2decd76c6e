/**
 * Complex FFTs of many signals at once ("lanes"): sample k of all lanes lies together, so every butterfly runs
 * over contiguous memory. Stockham's self-sorting form, radices 4, 2, 3 and 5: no digit reversal.
 * Source: Van Loan, Computational Frameworks for the Fast Fourier Transform (1992), 1.7 and 2.2.
 */
export interface LanePlan {
  readonly length: number;
  readonly stages: readonly Stage[];
}

interface Stage {
  readonly radix: 2 | 3 | 4 | 5;
  /** Butterflies per stride at this stage. */
  readonly groups: number;
  readonly stride: number;
  /** cos and sin of −2π·p·j/n for p in groups, j in 1..radix−1, pairwise. */
  readonly twiddles: Float64Array;
}

const plans = new Map<number, LanePlan>();

export function lanePlan(length: number): LanePlan {
  const known = plans.get(length);
  if (known) return known;
  const stages: Stage[] = [];
  let rest = length;
  let stride = 1;
  while (rest > 1) {
    const radix = rest % 4 === 0 ? 4 : rest % 2 === 0 ? 2 : rest % 3 === 0 ? 3 : rest % 5 === 0 ? 5 : 0;
    if (radix === 0) throw new RangeError(`FFT lengths must have no prime factor over 5, not ${length}.`);
    const groups = rest / radix;
    const twiddles = new Float64Array(groups * (radix - 1) * 2);
    for (let p = 0, at = 0; p < groups; p++) {
      for (let j = 1; j < radix; j++) {
        const angle = (-2 * Math.PI * p * j) / rest;
        twiddles[at++] = Math.cos(angle);
        twiddles[at++] = Math.sin(angle);
      }
    }
    stages.push({ radix, groups, stride, twiddles });
    stride *= radix;
    rest = groups;
  }
  const plan = { length, stages };
  plans.set(length, plan);
  return plan;
}

/**
 * Smallest length of at least `wanted` with no prime factor over 5, and a multiple of 4 (the kernels take four samples
 * at a time).
 */
export function fastLength(wanted: number): number {
  for (let length = Math.max(4, 4 * Math.ceil(wanted / 4)); ; length += 4) {
    let rest = length;
    for (const factor of [2, 3, 5]) while (rest % factor === 0) rest /= factor;
    if (rest === 1) return length;
  }
}

export interface LaneBuffers {
  re: Float32Array;
  im: Float32Array;
  spareRe: Float32Array;
  spareIm: Float32Array;
}

/** Transforms in place (buffers may be swapped: read the result from `buffers.re`, `buffers.im`). Unscaled. */
export function transformLanes(plan: LanePlan, lanes: number, buffers: LaneBuffers): void {
  for (const stage of plan.stages) {
    const { re, im, spareRe, spareIm } = buffers;
    if (stage.radix === 4) radix4(stage, lanes, re, im, spareRe, spareIm);
    else if (stage.radix === 2) radix2(stage, lanes, re, im, spareRe, spareIm);
    else if (stage.radix === 3) radix3(stage, lanes, re, im, spareRe, spareIm);
    else radix5(stage, lanes, re, im, spareRe, spareIm);
    buffers.re = spareRe;
    buffers.im = spareIm;
    buffers.spareRe = re;
    buffers.spareIm = im;
  }
}

type Samples = Float32Array;

function radix2(stage: Stage, lanes: number, re: Samples, im: Samples, outRe: Samples, outIm: Samples): void {
  const run = stage.stride * lanes;
  const apart = stage.groups * run;
  for (let p = 0; p < stage.groups; p++) {
    const c1 = stage.twiddles[2 * p];
    const s1 = stage.twiddles[2 * p + 1];
    const from = p * run;
    const to = 2 * p * run;
    for (let t = 0; t < run; t++) {
      const aRe = re[from + t];
      const aIm = im[from + t];
      const bRe = re[from + apart + t];
      const bIm = im[from + apart + t];
      outRe[to + t] = aRe + bRe;
      outIm[to + t] = aIm + bIm;
      const dRe = aRe - bRe;
      const dIm = aIm - bIm;
      outRe[to + run + t] = dRe * c1 - dIm * s1;
      outIm[to + run + t] = dRe * s1 + dIm * c1;
    }
  }
}

const SIN_60 = Math.sin(Math.PI / 3);

function radix3(stage: Stage, lanes: number, re: Samples, im: Samples, outRe: Samples, outIm: Samples): void {
  const run = stage.stride * lanes;
  const apart = stage.groups * run;
  for (let p = 0; p < stage.groups; p++) {
    const [c1, s1, c2, s2] = stage.twiddles.subarray(4 * p, 4 * p + 4);
    const from = p * run;
    const to = 3 * p * run;
    for (let t = 0; t < run; t++) {
      const aRe = re[from + t];
      const aIm = im[from + t];
      const bRe = re[from + apart + t];
      const bIm = im[from + apart + t];
      const cRe = re[from + 2 * apart + t];
      const cIm = im[from + 2 * apart + t];
      const sumRe = bRe + cRe;
      const sumIm = bIm + cIm;
      const midRe = aRe - 0.5 * sumRe;
      const midIm = aIm - 0.5 * sumIm;
      const turnRe = SIN_60 * (bIm - cIm);
      const turnIm = SIN_60 * (cRe - bRe);
      outRe[to + t] = aRe + sumRe;
      outIm[to + t] = aIm + sumIm;
      const uRe = midRe + turnRe;
      const uIm = midIm + turnIm;
      outRe[to + run + t] = uRe * c1 - uIm * s1;
      outIm[to + run + t] = uRe * s1 + uIm * c1;
      const vRe = midRe - turnRe;
      const vIm = midIm - turnIm;
      outRe[to + 2 * run + t] = vRe * c2 - vIm * s2;
      outIm[to + 2 * run + t] = vRe * s2 + vIm * c2;
    }
  }
}

function radix4(stage: Stage, lanes: number, re: Samples, im: Samples, outRe: Samples, outIm: Samples): void {
  const run = stage.stride * lanes;
  const apart = stage.groups * run;
  const w = stage.twiddles;
  for (let p = 0; p < stage.groups; p++) {
    const c1 = w[6 * p];
    const s1 = w[6 * p + 1];
    const c2 = w[6 * p + 2];
    const s2 = w[6 * p + 3];
    const c3 = w[6 * p + 4];
    const s3 = w[6 * p + 5];
    const i0 = p * run;
    const i1 = i0 + apart;
    const i2 = i1 + apart;
    const i3 = i2 + apart;
    const o0 = 4 * p * run;
    const o1 = o0 + run;
    const o2 = o1 + run;
    const o3 = o2 + run;
    for (let t = 0; t < run; t++) {
      const aRe = re[i0 + t];
      const aIm = im[i0 + t];
      const bRe = re[i1 + t];
      const bIm = im[i1 + t];
      const cRe = re[i2 + t];
      const cIm = im[i2 + t];
      const dRe = re[i3 + t];
      const dIm = im[i3 + t];
      const acRe = aRe + cRe;
      const acIm = aIm + cIm;
      const bdRe = bRe + dRe;
      const bdIm = bIm + dIm;
      const amcRe = aRe - cRe;
      const amcIm = aIm - cIm;
      const turnRe = bIm - dIm;
      const turnIm = dRe - bRe;
      outRe[o0 + t] = acRe + bdRe;
      outIm[o0 + t] = acIm + bdIm;
      const uRe = amcRe + turnRe;
      const uIm = amcIm + turnIm;
      outRe[o1 + t] = uRe * c1 - uIm * s1;
      outIm[o1 + t] = uRe * s1 + uIm * c1;
      const vRe = acRe - bdRe;
      const vIm = acIm - bdIm;
      outRe[o2 + t] = vRe * c2 - vIm * s2;
      outIm[o2 + t] = vRe * s2 + vIm * c2;
      const xRe = amcRe - turnRe;
      const xIm = amcIm - turnIm;
      outRe[o3 + t] = xRe * c3 - xIm * s3;
      outIm[o3 + t] = xRe * s3 + xIm * c3;
    }
  }
}

const C72 = Math.cos((2 * Math.PI) / 5);
const C144 = Math.cos((4 * Math.PI) / 5);
const S72 = Math.sin((2 * Math.PI) / 5);
const S144 = Math.sin((4 * Math.PI) / 5);

function radix5(stage: Stage, lanes: number, re: Samples, im: Samples, outRe: Samples, outIm: Samples): void {
  const run = stage.stride * lanes;
  const apart = stage.groups * run;
  for (let p = 0; p < stage.groups; p++) {
    const w = stage.twiddles.subarray(8 * p, 8 * p + 8);
    const from = p * run;
    const to = 5 * p * run;
    for (let t = 0; t < run; t++) {
      const i = from + t;
      const o = to + t;
      const sum14Re = re[i + apart] + re[i + 4 * apart];
      const sum14Im = im[i + apart] + im[i + 4 * apart];
      const dif14Re = re[i + apart] - re[i + 4 * apart];
      const dif14Im = im[i + apart] - im[i + 4 * apart];
      const sum23Re = re[i + 2 * apart] + re[i + 3 * apart];
      const sum23Im = im[i + 2 * apart] + im[i + 3 * apart];
      const dif23Re = re[i + 2 * apart] - re[i + 3 * apart];
      const dif23Im = im[i + 2 * apart] - im[i + 3 * apart];
      const aRe = re[i];
      const aIm = im[i];
      const m1Re = aRe + C72 * sum14Re + C144 * sum23Re;
      const m1Im = aIm + C72 * sum14Im + C144 * sum23Im;
      const m2Re = aRe + C144 * sum14Re + C72 * sum23Re;
      const m2Im = aIm + C144 * sum14Im + C72 * sum23Im;
      const t1Re = S72 * dif14Im + S144 * dif23Im;
      const t1Im = -S72 * dif14Re - S144 * dif23Re;
      const t2Re = S144 * dif14Im - S72 * dif23Im;
      const t2Im = -S144 * dif14Re + S72 * dif23Re;
      outRe[o] = aRe + sum14Re + sum23Re;
      outIm[o] = aIm + sum14Im + sum23Im;
      write(outRe, outIm, o + run, m1Re + t1Re, m1Im + t1Im, w[0], w[1]);
      write(outRe, outIm, o + 2 * run, m2Re + t2Re, m2Im + t2Im, w[2], w[3]);
      write(outRe, outIm, o + 3 * run, m2Re - t2Re, m2Im - t2Im, w[4], w[5]);
      write(outRe, outIm, o + 4 * run, m1Re - t1Re, m1Im - t1Im, w[6], w[7]);
    }
  }
}

function write(outRe: Samples, outIm: Samples, at: number, re: number, im: number, c: number, s: number): void {
  outRe[at] = re * c - im * s;
  outIm[at] = re * s + im * c;
}
