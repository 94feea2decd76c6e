import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';

/** What the path is drawn to where the gradients leave it open. */
export interface PathPull {
  /** In a square of the answer's side; null draws to no light at all. */
  readonly towards: Psf | null;
  /** As a share of the gradients' whole energy. */
  readonly share: number;
}

const ROUNDS = 30;

/**
 * The path k ≥ 0 that turns a picture's gradients into the photograph's: minimises |k⊗∇picture − ∇photograph|² +
 * ridge·|k − towards|², by accelerated projected gradients on the normal equations.
 *
 * @param picture - From gradientSpectrum, as the photograph.
 * @param start - Path to start from; its square is the answer's.
 * @returns The light of the path as it comes out, its sum near 1 and its middle anywhere.
 * Source: Beck & Teboulle, SIAM Journal on Imaging Sciences 2 (2009) for the acceleration.
 */
export function solvePath(
  picture: ComplexPlane,
  photograph: ComplexPlane,
  start: Psf,
  pull: PathPull,
  kernels: Kernels,
): Plane {
  const side = start.width;
  const { own, cross } = correlations(picture, photograph, kernels);
  const ridge = pull.share * own.re[0];
  const wanted = middleOf(cross, (side - 1) / 2).data.map((value, i) => value + ridge * (pull.towards?.data[i] ?? 0));

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
  return { width: side, height: side, data: path };
}

/**
 * picture* · picture and picture* · photograph, as correlations in space: their real parts are both directions' sums.
 */
function correlations(picture: ComplexPlane, photograph: ComplexPlane, kernels: Kernels) {
  const { width, height, re, im } = picture;
  const own = createComplex(width, height);
  const cross = createComplex(width, height);
  for (let i = 0; i < re.length; i++) {
    own.re[i] = re[i] * re[i] + im[i] * im[i];
    cross.re[i] = re[i] * photograph.re[i] + im[i] * photograph.im[i];
    cross.im[i] = re[i] * photograph.im[i] - im[i] * photograph.re[i];
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
