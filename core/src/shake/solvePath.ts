import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { cleanPath } from './cleanPath';

/** Spectra of the differences to the right and downwards. */
export interface GradientSpectra {
  readonly x: ComplexPlane;
  readonly y: ComplexPlane;
}

/** Price of a strong sample, as a share of the gradients' whole energy. */
const RIDGE_SHARE = 0.01;
const ROUNDS = 25;

/**
 * The path k ≥ 0 that turns a picture's gradients into the photograph's:
 * minimises |k⊗∇picture − ∇photograph|² + ridge·|k|², by accelerated projected gradients on the normal equations, then
 * cleaned of specks and brought to the middle.
 *
 * @param start - Path to start from; its square is the answer's.
 * Source: Beck & Teboulle, SIAM Journal on Imaging Sciences 2 (2009) for the acceleration.
 */
export function solvePath(picture: GradientSpectra, photograph: GradientSpectra, start: Psf, kernels: Kernels): Psf {
  const side = start.width;
  const { own, cross } = correlations(picture, photograph, kernels);
  const wanted = middleOf(cross, (side - 1) / 2).data;
  const energy = own.re[0];
  const ridge = RIDGE_SHARE * energy;

  const room = fastLength(2 * side - 1);
  const gain = createComplex(room, room);
  const lags = middleOf(own, side - 1);
  for (let y = 0; y < lags.height; y++) {
    for (let x = 0; x < lags.width; x++) {
      gain.re[((y - side + 1 + room) % room) * room + ((x - side + 1 + room) % room)] = lags.data[y * lags.width + x];
    }
  }
  kernels.fft2d(gain);
  const step = 1 / (gain.re.reduce((most, value) => Math.max(most, value), 0) + ridge);

  let path = Float32Array.from(start.data);
  let leap = path;
  let pace = 1;
  const answer = createComplex(room, room);
  for (let round = 0; round < ROUNDS; round++) {
    answer.re.fill(0);
    answer.im.fill(0);
    for (let y = 0; y < side; y++) answer.re.set(leap.subarray(y * side, (y + 1) * side), y * room);
    kernels.fft2d(answer);
    for (let i = 0; i < gain.re.length; i++) {
      answer.re[i] *= gain.re[i];
      answer.im[i] *= gain.re[i];
    }
    kernels.inverseFft2d(answer);
    const next = new Float32Array(path.length);
    for (let y = 0, i = 0; y < side; y++) {
      for (let x = 0; x < side; x++, i++) {
        next[i] = Math.max(0, leap[i] - step * (answer.re[y * room + x] + ridge * leap[i] - wanted[i]));
      }
    }
    const nextPace = (1 + Math.sqrt(1 + 4 * pace * pace)) / 2;
    const momentum = (pace - 1) / nextPace;
    const before = path;
    leap = next.map((value, i) => value + momentum * (value - before[i]));
    path = next;
    pace = nextPace;
  }
  return cleanPath({ width: side, height: side, data: path });
}

/** Σ over both directions of picture* · picture and picture* · photograph, as correlations in space. */
function correlations(picture: GradientSpectra, photograph: GradientSpectra, kernels: Kernels) {
  const { width, height } = picture.x;
  const own = createComplex(width, height);
  const cross = createComplex(width, height);
  for (const [a, b] of [
    [picture.x, photograph.x],
    [picture.y, photograph.y],
  ]) {
    for (let i = 0; i < own.re.length; i++) {
      own.re[i] += a.re[i] * a.re[i] + a.im[i] * a.im[i];
      cross.re[i] += a.re[i] * b.re[i] + a.im[i] * b.im[i];
      cross.im[i] += a.re[i] * b.im[i] - a.im[i] * b.re[i];
    }
  }
  kernels.inverseFft2d(own);
  kernels.inverseFft2d(cross);
  return { own, cross };
}

/** The square round the origin of a periodic plane. */
function middleOf({ width, height, re }: ComplexPlane, reach: number): Plane {
  const side = 2 * reach + 1;
  const out = createPlane(side, side);
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) {
      out.data[(y + reach) * side + x + reach] = re[((y + height) % height) * width + ((x + width) % width)];
    }
  }
  return out;
}
