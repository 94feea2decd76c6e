import { lanePlan, transformLanes, type LaneBuffers, type LanePlan } from './lanes';

/** Complex samples of a width × height picture, row by row. */
export interface ComplexPlane {
  readonly width: number;
  readonly height: number;
  readonly re: Float32Array;
  readonly im: Float32Array;
}

export function createComplex(width: number, height: number): ComplexPlane {
  return { width, height, re: new Float32Array(width * height), im: new Float32Array(width * height) };
}

const LANES = 16;

/**
 * Two-dimensional FFT in place: X(u,v) = Σ x(m,n)·exp(−2πi(um/W + vn/H)), unscaled.
 * Sides must have no prime factor over 5.
 */
export function fft2d(plane: ComplexPlane): void {
  transform(plane.width, plane.height, plane.re, plane.im);
}

/** The inverse, scaled by 1/(W·H), so that it undoes `fft2d`. */
export function inverseFft2d(plane: ComplexPlane): void {
  // Exchanging the real and imaginary parts on the way in and out turns the forward transform into the inverse.
  transform(plane.width, plane.height, plane.im, plane.re);
  const scale = 1 / (plane.width * plane.height);
  for (let i = 0; i < plane.re.length; i++) {
    plane.re[i] *= scale;
    plane.im[i] *= scale;
  }
}

function transform(width: number, height: number, re: Float32Array, im: Float32Array): void {
  const room = Math.max(width, height) * LANES;
  const buffers: LaneBuffers = {
    re: new Float32Array(room),
    im: new Float32Array(room),
    spareRe: new Float32Array(room),
    spareIm: new Float32Array(room),
  };
  rows(lanePlan(width), height, re, im, buffers);
  columns(lanePlan(height), width, re, im, buffers);
}

function rows(plan: LanePlan, height: number, re: Float32Array, im: Float32Array, buffers: LaneBuffers): void {
  const width = plan.length;
  for (let first = 0; first < height; first += LANES) {
    const lanes = Math.min(LANES, height - first);
    for (let lane = 0; lane < lanes; lane++) {
      const from = (first + lane) * width;
      for (let k = 0, at = lane; k < width; k++, at += lanes) {
        buffers.re[at] = re[from + k];
        buffers.im[at] = im[from + k];
      }
    }
    transformLanes(plan, lanes, buffers);
    for (let lane = 0; lane < lanes; lane++) {
      const to = (first + lane) * width;
      for (let k = 0, at = lane; k < width; k++, at += lanes) {
        re[to + k] = buffers.re[at];
        im[to + k] = buffers.im[at];
      }
    }
  }
}

function columns(plan: LanePlan, width: number, re: Float32Array, im: Float32Array, buffers: LaneBuffers): void {
  const height = plan.length;
  for (let first = 0; first < width; first += LANES) {
    const lanes = Math.min(LANES, width - first);
    for (let row = 0; row < height; row++) {
      for (let lane = 0, from = row * width + first, to = row * lanes; lane < lanes; lane++) {
        buffers.re[to + lane] = re[from + lane];
        buffers.im[to + lane] = im[from + lane];
      }
    }
    transformLanes(plan, lanes, buffers);
    for (let row = 0; row < height; row++) {
      for (let lane = 0, to = row * width + first, from = row * lanes; lane < lanes; lane++) {
        re[to + lane] = buffers.re[from + lane];
        im[to + lane] = buffers.im[from + lane];
      }
    }
  }
}
