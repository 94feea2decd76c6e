import type { ComplexPlane } from '../fourier/fft2d';
import { NATURAL_SLOPE } from './naturalSlope';

/**
 * Leaves of each spectrum, in place, what the photograph is blind for: (1 − S). Returns how much energy nature has
 * there, a sample.
 */
export function keepBlind(spectra: readonly ComplexPlane[], otf: ComplexPlane, signal: number, floor: number): number {
  const { width: w, height: h, re: kRe, im: kIm } = otf;
  const powers = naturalPowers(w, h);
  const half = (w >> 1) + 1;
  const share = new Float32Array(half * h);
  let nature = 0;
  for (let v = 0; v < h; v++) {
    const row = Math.min(v, h - v) * half;
    for (let u = 0; u < half; u++) {
      const i = v * w + u;
      const power = signal * powers[row + u];
      const seen = (kRe[i] * kRe[i] + kIm[i] * kIm[i]) * power;
      const blind = u === 0 && v === 0 ? 0 : floor / (seen + floor);
      nature += (u > 0 && 2 * u < w ? 2 : 1) * power * blind * blind;
      share[v * half + u] = blind;
    }
  }
  for (const spectrum of spectra) weigh(spectrum, share);
  return nature / (w * h);
}

/** Times shares given for half of the columns; they are the same at −u, −v. */
function weigh({ width: w, height: h, re, im }: ComplexPlane, share: Float32Array): void {
  const half = (w >> 1) + 1;
  for (let v = 0; v < h; v++) {
    const own = v * half;
    const mirrored = (v === 0 ? 0 : h - v) * half;
    for (let u = 0; u < w; u++) {
      const weight = u < half ? share[own + u] : share[mirrored + w - u];
      re[v * w + u] *= weight;
      im[v * w + u] *= weight;
    }
  }
}

let lastPowers = { w: 0, h: 0, powers: new Float64Array(0) };

/**
 * f^−2.1 for a quarter of the frequencies of a w × h transform, row by row; kept, since tiles are mostly of one size.
 */
function naturalPowers(w: number, h: number): Float64Array {
  if (lastPowers.w === w && lastPowers.h === h) return lastPowers.powers;
  const columns = (w >> 1) + 1;
  const powers = Float64Array.from({ length: columns * ((h >> 1) + 1) }, (_, i) => {
    const [fx, fy] = [(i % columns) / w, Math.floor(i / columns) / h];
    return Math.max(1 / (w * w), fx * fx + fy * fy) ** (-NATURAL_SLOPE / 2);
  });
  lastPowers = { w, h, powers };
  return powers;
}
