import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { psfAtOrigin } from '../psf/transfer';
import { boxMean } from '../picture/boxMean';
import { NATURAL_SLOPE } from '../read/recoverableDetail';
import { contrastVariance, PLACE_REACH } from './contradiction';

/** Half side of the squares over which the cautious recovery's energy is gathered. */
const CAUTIOUS_REACH = 10;
/** Shares of the energy expected of nature and of the photograph's local contrast that count as the cautious recovery's. */
const NATURE_SHARE = 0.02;
const CONTRAST_SHARE = 0.02;

/**
 * Detail the photograph cannot vouch for: where it carries no information (1 − S, S = |K|²P / (|K|²P + N)), the energy of
 * (result − cautious recovery) over 9 px against the cautious recovery's own over 21 px and floors. √ of the ratio.
 *
 * @param result, cautious, original - Brightness, linear light, same size.
 * @param onlyAdded - What the original holds itself does not count: for versions that may have changed little.
 * @param signal - Power of the sharp picture at frequency 1: P = signal·f^−2.1.
 */
export function unsupported(
  result: Plane,
  cautious: Plane,
  original: Plane,
  psf: Psf,
  signal: number,
  variance: Plane,
  kernels: Kernels,
  onlyAdded = false,
): Plane {
  const { width, height } = result;
  const [w, h] = [fastLength(width), fastLength(height)];
  const floor = variance.data.reduce((sum, value) => sum + value, 0) / variance.data.length;
  const otf = { width: w, height: h, re: psfAtOrigin(psf, w, h), im: new Float32Array(w * h) };
  kernels.fft2d(otf);
  const [kRe, kIm] = [otf.re, otf.im];
  const pair = createComplex(w, h);
  const { re, im } = pair;
  const [shown, careful] = [result.data, cautious.data];
  for (let y = 0, i = 0; y < height; y++) {
    for (let to = y * w; to < y * w + width; to++, i++) {
      re[to] = shown[i] - careful[i];
      im[to] = careful[i];
    }
  }
  kernels.fft2d(pair);
  const beside = onlyAdded ? spectrumOfDifference(result, original, w, h, kernels) : null;
  const spectra = beside ? [pair, beside] : [pair];
  let nature = 0;
  const powers = naturalPowers(w, h);
  const half = (w >> 1) + 1;
  for (let v = 0; v < h; v++) {
    const row = Math.min(v, h - v) * half;
    const mirroredRow = v === 0 ? 0 : (h - v) * w;
    for (let u = 0; u < half; u++) {
      const i = v * w + u;
      const power = signal * powers[row + u];
      const seen = (kRe[i] * kRe[i] + kIm[i] * kIm[i]) * power;
      const blind = u === 0 && v === 0 ? 0 : floor / (seen + floor);
      // |K|² and P are the same at −u, −v.
      const isTwice = u > 0 && 2 * u < w;
      const j = mirroredRow + w - u;
      for (const { re: r, im: m } of spectra) {
        r[i] *= blind;
        m[i] *= blind;
        if (!isTwice) continue;
        r[j] *= blind;
        m[j] *= blind;
      }
      nature += (isTwice ? 2 : 1) * power * blind * blind;
    }
  }
  nature /= w * h;
  kernels.inverseFft2d(pair);
  if (beside) kernels.inverseFft2d(beside);
  const added = createPlane(width, height);
  const own = createPlane(width, height);
  for (let y = 0, to = 0; y < height; y++) {
    for (let i = y * w; i < y * w + width; i++, to++) {
      const squared = re[i] * re[i];
      added.data[to] = beside ? Math.min(squared, beside.re[i] ** 2) : squared;
      own.data[to] = im[i] * im[i];
    }
  }
  const energy = boxMean(added, PLACE_REACH);
  const known = boxMean(own, CAUTIOUS_REACH);
  const contrast = contrastVariance(original, variance, CAUTIOUS_REACH);
  for (let i = 0; i < energy.data.length; i++) {
    const floors = NATURE_SHARE * nature + CONTRAST_SHARE * contrast.data[i];
    energy.data[i] = Math.sqrt(Math.max(0, energy.data[i]) / (Math.max(0, known.data[i]) + floors + 1e-12));
  }
  return energy;
}

let lastPowers = { w: 0, h: 0, powers: new Float64Array(0) };

/** f^−2.1 for a quarter of the frequencies of a w × h transform, row by row; kept, since tiles are mostly of one size. */
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

function spectrumOfDifference(a: Plane, b: Plane, w: number, h: number, kernels: Kernels): ComplexPlane {
  const out = createComplex(w, h);
  for (let y = 0; y < a.height; y++) {
    for (let x = 0; x < a.width; x++) out.re[y * w + x] = a.data[y * a.width + x] - b.data[y * a.width + x];
  }
  kernels.fft2d(out);
  return out;
}
