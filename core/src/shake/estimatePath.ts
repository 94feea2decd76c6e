import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { psfAtOrigin } from '../psf/transfer';
import { frequencyWeights } from '../recover/splitting';
import { cleanPath } from './cleanPath';
import { extended, resized } from './pyramid';

export interface PathOptions {
  /** Odd side of the square that holds the path, px. */
  readonly side: number;
  /** Price of an edge at the finest scale, linear light. */
  readonly edgePrice: number;
}

const ROUNDS = 5;
const SCALE = Math.SQRT2;
const RIDGE = 2;
/** The penalty of the split starts at twice the edge price and grows by this until edges are hard. */
const PENALTY_GROWTH = 2.5;
const LAST_PENALTY = 40;
const LEAST_SIDE = 3;

/**
 * Estimates the free path of a camera shake from one brightness plane, nothing told: coarse to fine, a picture of few
 * edges (L0 gradient prior) that explains the photograph under the path so far, then the path that turns its gradients
 * into the photograph's (ridge regression), cleaned of specks and brought to the middle.
 *
 * @param luma - Linear light; a piece of some 200 to 400 px with strong edges in many directions.
 * Source: Xu, Zheng, Jia, "Unnatural L0 sparse representation for natural image deblurring", CVPR 2013.
 */
export function estimatePath(luma: Plane, { side, edgePrice }: PathOptions, kernels: Kernels): Psf {
  const scales = Math.max(0, Math.ceil(Math.log(side / LEAST_SIDE) / Math.log(SCALE)));
  let path: Psf = normalisedPsf(LEAST_SIDE, LEAST_SIDE, [0, 0, 0, 0.5, 0.5, 0, 0, 0, 0]);
  for (let scale = scales; scale >= 0; scale--) {
    const shrink = SCALE ** scale;
    const sideHere = Math.max(LEAST_SIDE, 2 * Math.floor(side / shrink / 2) + 1);
    const piece = resized(luma, Math.round(luma.width / shrink), Math.round(luma.height / shrink));
    path = pathAtSide(path, sideHere);
    path = estimateAtScale(piece, path, edgePrice, kernels);
  }
  return path;
}

/** The path so far, drawn into a square of another side. */
function pathAtSide(path: Psf, side: number): Psf {
  if (side === path.width) return path;
  const drawn = resized(path, side, side);
  return normalisedPsf(
    side,
    side,
    drawn.data.map((value) => Math.max(0, value)),
  );
}

function estimateAtScale(piece: Plane, start: Psf, finestPrice: number, kernels: Kernels): Psf {
  const photograph = extended(piece, start.width);
  const gradients = gradientSpectra(photograph, piece, start.width, kernels);
  const spectrum = toComplex(photograph);
  kernels.fft2d(spectrum);
  let path = start;
  let price = finestPrice * 1.1 ** (ROUNDS - 1);
  for (let round = 0; round < ROUNDS; round++) {
    const picture = fewEdges(spectrum, photograph, path, price, kernels);
    path = solvePath(picture, gradients, piece, path.width, kernels);
    price = Math.max(1e-4, price / 1.1);
  }
  return path;
}

/** The picture of few edges that explains the photograph under the path: half-quadratic splitting of the L0 prior. */
function fewEdges(
  spectrum: ComplexPlane,
  { width, height, data }: Plane,
  path: Psf,
  price: number,
  kernels: Kernels,
): Plane {
  const otf = createComplex(width, height);
  otf.re.set(psfAtOrigin(path, width, height));
  kernels.fft2d(otf);
  const across = frequencyWeights(width);
  const down = frequencyWeights(height);
  let picture: Plane = { width, height, data };
  for (let penalty = 2 * price; penalty < LAST_PENALTY; penalty *= PENALTY_GROWTH) {
    const pull = toComplex(keptEdges(picture, price / penalty));
    kernels.fft2d(pull);
    for (let v = 0, i = 0; v < height; v++) {
      for (let u = 0; u < width; u++, i++) {
        const power = otf.re[i] * otf.re[i] + otf.im[i] * otf.im[i] + penalty * (across[u] + down[v]) + 1e-9;
        const re = otf.re[i] * spectrum.re[i] + otf.im[i] * spectrum.im[i] + penalty * pull.re[i];
        const im = otf.re[i] * spectrum.im[i] - otf.im[i] * spectrum.re[i] + penalty * pull.im[i];
        pull.re[i] = re / power;
        pull.im[i] = im / power;
      }
    }
    kernels.inverseFft2d(pull);
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

interface GradientSpectra {
  readonly x: ComplexPlane;
  readonly y: ComplexPlane;
}

function gradientSpectra(plane: Plane, piece: Plane, margin: number, kernels: Kernels): GradientSpectra {
  const x = toComplex(derivative(plane, piece, margin, 1, 0));
  const y = toComplex(derivative(plane, piece, margin, 0, 1));
  kernels.fft2d(x);
  kernels.fft2d(y);
  return { x, y };
}

/** Forward difference, 0 near the edges of the true piece: beyond them nothing was photographed. */
function derivative({ width, height, data }: Plane, piece: Plane, margin: number, dx: number, dy: number): Plane {
  const out = createPlane(width, height);
  const rim = Math.ceil(margin / 2);
  for (let y = rim; y < piece.height - rim; y++) {
    for (let x = rim; x < piece.width - rim; x++) {
      out.data[y * width + x] = data[(y + dy) * width + x + dx] - data[y * width + x];
    }
  }
  return out;
}

/** The path k that minimises |k⊗∇picture − ∇photograph|² + ridge·|k|², cleaned. */
function solvePath(picture: Plane, photograph: GradientSpectra, piece: Plane, side: number, kernels: Kernels): Psf {
  const own = gradientSpectra(picture, piece, 2, kernels);
  const { width, height } = picture;
  const answer = createComplex(width, height);
  for (let i = 0; i < answer.re.length; i++) {
    let [re, im, power] = [0, 0, 0];
    for (const axis of ['x', 'y'] as const) {
      const a = own[axis];
      const b = photograph[axis];
      re += a.re[i] * b.re[i] + a.im[i] * b.im[i];
      im += a.re[i] * b.im[i] - a.im[i] * b.re[i];
      power += a.re[i] * a.re[i] + a.im[i] * a.im[i];
    }
    answer.re[i] = re / (power + RIDGE);
    answer.im[i] = im / (power + RIDGE);
  }
  kernels.inverseFft2d(answer);
  const reach = (side - 1) / 2;
  const square = createPlane(side, side);
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) {
      square.data[(y + reach) * side + x + reach] = answer.re[((y + height) % height) * width + ((x + width) % width)];
    }
  }
  return cleanPath(square);
}

function toComplex({ width, height, data }: Plane): ComplexPlane {
  const plane = createComplex(width, height);
  plane.re.set(data);
  return plane;
}
