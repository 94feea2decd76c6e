import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { psfAtOrigin } from '../psf/transfer';
import { boxMean } from '../picture/boxMean';
import { keepBlind } from '../spectrum/blindness';
import { contrastVariance, PLACE_REACH } from './contradiction';

/** Half side of the squares over which the cautious recovery's energy is gathered. */
const CAUTIOUS_REACH = 10;
/**
 * Shares of the energy expected of nature and of the photograph's local contrast that count as the cautious recovery's.
 */
const NATURE_SHARE = 0.02;
const CONTRAST_SHARE = 0.02;

/**
 * Detail the photograph cannot vouch for: where it carries no information (1 − S, S = |K|²P / (|K|²P + N)), the energy
 * of (result − cautious recovery) over 9 px against the cautious recovery's own over 21 px and floors. √ of the ratio.
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
  const nature = keepBlind(spectra, otf, signal, floor);
  kernels.inverseFft2d(pair);
  if (beside) kernels.inverseFft2d(beside);
  const added = squaresOf(re, w, width, height);
  const own = squaresOf(im, w, width, height);
  if (beside) keepSmaller(added.data, squaresOf(beside.re, w, width, height).data);
  const energy = boxMean(added, PLACE_REACH);
  const known = boxMean(own, CAUTIOUS_REACH);
  const contrast = contrastVariance(original, variance, CAUTIOUS_REACH);
  return rootOfRatio(energy, known, contrast, NATURE_SHARE * nature + 1e-12);
}

/** Of the corner of a wider plane. */
function squaresOf(values: Float32Array, stride: number, width: number, height: number): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0, to = 0; y < height; y++) {
    for (let i = y * stride; i < y * stride + width; i++, to++) data[to] = values[i] * values[i];
  }
  return { width, height, data };
}

function keepSmaller(values: Float32Array, others: Float32Array): void {
  for (let i = 0; i < values.length; i++) if (others[i] < values[i]) values[i] = others[i];
}

function rootOfRatio(energy: Plane, known: Plane, contrast: Plane, floor: number): Plane {
  const [above, below, beside] = [energy.data, known.data, contrast.data];
  const data = new Float32Array(above.length);
  for (let i = 0; i < data.length; i++) {
    data[i] = Math.sqrt(Math.max(0, above[i]) / (Math.max(0, below[i]) + CONTRAST_SHARE * beside[i] + floor));
  }
  return { ...energy, data };
}

function spectrumOfDifference(a: Plane, b: Plane, w: number, h: number, kernels: Kernels): ComplexPlane {
  const out = createComplex(w, h);
  for (let y = 0; y < a.height; y++) {
    for (let x = 0; x < a.width; x++) out.re[y * w + x] = a.data[y * a.width + x] - b.data[y * a.width + x];
  }
  kernels.fft2d(out);
  return out;
}
