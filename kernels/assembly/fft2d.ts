// Two-dimensional complex FFT in place, unscaled; both sides multiples of 4. The twin is core/src/fourier/fft2d.ts.
import { transformLanes } from './lanes';

// @ts-ignore: decorator
@inline const LANES: i32 = 16;

/** `work` holds 4 × max(width, height) × 16 floats. The inverse is the same with re and im exchanged. */
export function fft2d(
  width: i32,
  height: i32,
  planX: usize,
  planY: usize,
  re: usize,
  im: usize,
  work: usize,
): void {
  const room = <usize>(max(width, height) * LANES * 4);
  rows(width, height, planX, re, im, work, room);
  columns(width, height, planY, re, im, work, room);
}

// @ts-ignore: decorator
@inline function transposed4(from: usize, fromStride: i32, to: usize, toStride: i32): void {
  const a = v128.load(from);
  const b = v128.load(from + fromStride);
  const c = v128.load(from + 2 * fromStride);
  const d = v128.load(from + 3 * fromStride);
  const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab0, cd0, 0, 1, 4, 5));
  v128.store(to + toStride, v128.shuffle<f32>(ab0, cd0, 2, 3, 6, 7));
  v128.store(to + 2 * toStride, v128.shuffle<f32>(ab1, cd1, 0, 1, 4, 5));
  v128.store(to + 3 * toStride, v128.shuffle<f32>(ab1, cd1, 2, 3, 6, 7));
}

function rows(width: i32, height: i32, plan: usize, re: usize, im: usize, work: usize, room: usize): void {
  const pitch = width * 4;
  for (let first = 0; first < height; first += LANES) {
    const lanes = min(LANES, height - first);
    const lanePitch = lanes * 4;
    for (let lane = 0; lane < lanes; lane += 4) {
      const from = <usize>((first + lane) * pitch);
      for (let k = 0; k < width; k += 4) {
        const to = <usize>(k * lanePitch + lane * 4);
        transposed4(re + from + k * 4, pitch, work + to, lanePitch);
        transposed4(im + from + k * 4, pitch, work + room + to, lanePitch);
      }
    }
    const swapped = transformLanes(plan, lanes, work, work + room, work + 2 * room, work + 3 * room);
    const done = work + (swapped ? 2 * room : 0);
    for (let lane = 0; lane < lanes; lane += 4) {
      const to = <usize>((first + lane) * pitch);
      for (let k = 0; k < width; k += 4) {
        const from = <usize>(k * lanePitch + lane * 4);
        transposed4(done + from, lanePitch, re + to + k * 4, pitch);
        transposed4(done + room + from, lanePitch, im + to + k * 4, pitch);
      }
    }
  }
}

function columns(width: i32, height: i32, plan: usize, re: usize, im: usize, work: usize, room: usize): void {
  const pitch = width * 4;
  for (let first = 0; first < width; first += LANES) {
    const lanes = min(LANES, width - first);
    const lanePitch = lanes * 4;
    for (let row = 0; row < height; row++) {
      const from = <usize>(row * pitch + first * 4);
      const to = <usize>(row * lanePitch);
      for (let b = 0; b < lanePitch; b += 16) {
        v128.store(work + to + b, v128.load(re + from + b));
        v128.store(work + room + to + b, v128.load(im + from + b));
      }
    }
    const swapped = transformLanes(plan, lanes, work, work + room, work + 2 * room, work + 3 * room);
    const done = work + (swapped ? 2 * room : 0);
    for (let row = 0; row < height; row++) {
      const to = <usize>(row * pitch + first * 4);
      const from = <usize>(row * lanePitch);
      for (let b = 0; b < lanePitch; b += 16) {
        v128.store(re + to + b, v128.load(done + from + b));
        v128.store(im + to + b, v128.load(done + room + from + b));
      }
    }
  }
}
