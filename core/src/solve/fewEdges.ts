import { createComplex, fft2d, inverseFft2d, type ComplexPlane } from '../fourier/fft2d';
import { createPlane, type Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { transferFunction } from '../psf/transfer';
import { frequencyWeights } from './splitting';

/** The penalty of the split starts at twice the price and grows by this until edges are hard. */
export const PENALTY_GROWTH = 2.5;
export const LAST_PENALTY = 40;

/**
 * The picture of few edges that explains a photograph under a known path: half-quadratic splitting of the L0 gradient
 * prior. Periodic: the photograph's ends must meet.
 *
 * @param photograph - Linear light, FFT-friendly sides.
 * @param price - Of an edge, in squared linear light.
 * Source: Xu, Zheng, Jia, "Unnatural L0 sparse representation for natural image deblurring", CVPR 2013.
 */
export function fewEdges(photograph: Plane, path: Psf, price: number): Plane {
  const { width, height } = photograph;
  const spectrum = complexOf(photograph);
  fft2d(spectrum);
  const otf = transferFunction(path, width, height);
  const across = frequencyWeights(width);
  const down = frequencyWeights(height);
  let picture = photograph;
  for (let penalty = 2 * price; penalty < LAST_PENALTY; penalty *= PENALTY_GROWTH) {
    const pull = complexOf(keptEdges(picture, price / penalty));
    fft2d(pull);
    for (let v = 0, i = 0; v < height; v++) {
      for (let u = 0; u < width; u++, i++) {
        const power = otf.re[i] * otf.re[i] + otf.im[i] * otf.im[i] + penalty * (across[u] + down[v]) + 1e-9;
        const re = otf.re[i] * spectrum.re[i] + otf.im[i] * spectrum.im[i] + penalty * pull.re[i];
        const im = otf.re[i] * spectrum.im[i] - otf.im[i] * spectrum.re[i] + penalty * pull.im[i];
        pull.re[i] = re / power;
        pull.im[i] = im / power;
      }
    }
    inverseFft2d(pull);
    picture = { width, height, data: pull.re };
  }
  return picture;
}

/** ∇ᵀ of the gradients whose square reaches `least`; the others are flat. Periodic ends. */
function keptEdges({ width, height, data }: Plane, least: number): Plane {
  const gx = new Float32Array(data.length);
  const gy = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const below = ((y + 1) % height) * width;
    for (let x = 0; x < width; x++) {
      const i = row + x;
      const dx = data[row + ((x + 1) % width)] - data[i];
      const dy = data[below + x] - data[i];
      if (dx * dx + dy * dy < least) continue;
      gx[i] = dx;
      gy[i] = dy;
    }
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const above = ((y + height - 1) % height) * width;
    for (let x = 0; x < width; x++) {
      const i = row + x;
      out.data[i] = gx[row + ((x + width - 1) % width)] - gx[i] + gy[above + x] - gy[i];
    }
  }
  return out;
}

function complexOf({ width, height, data }: Plane): ComplexPlane {
  const plane = createComplex(width, height);
  plane.re.set(data);
  return plane;
}
