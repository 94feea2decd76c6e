// Two-dimensional complex FFT in place, unscaled; both sides multiples of 4. The twin is core/src/fourier/fft2d.ts.
import { forwardLanes, placesOf } from './lanes';
import { putTransposed4, transposed4 } from './transpose';

/** Columns fetched together: a whole line of the cache, as four groups of lanes. */
// @ts-ignore: decorator
@inline const COLUMNS: i32 = 16;

/** `work` holds 32 × max(width, height) floats. The inverse is the same with re and im exchanged. */
export function fft2d(
  width: i32,
  height: i32,
  planX: usize,
  planY: usize,
  re: usize,
  im: usize,
  work: usize,
): void {
  rows(width, height, planX, re, im, work);
  columns(width, height, planY, re, im, work);
}

function rows(width: i32, height: i32, plan: usize, re: usize, im: usize, work: usize): void {
  const pitch = <usize>width * 4;
  const places = placesOf(plan);
  for (let first: usize = 0; first < <usize>height * pitch; first += 4 * pitch) {
    for (let k: usize = 0; k < pitch; k += 16) {
      transposed4(re + first + k, pitch, work + 8 * k, 32);
      transposed4(im + first + k, pitch, work + 8 * k + 16, 32);
    }
    forwardLanes(plan, work, 32);
    for (let k: usize = 0; k < pitch; k += 16) {
      const a = work + (<usize>load<u32>(places + k) << 5);
      const b = work + (<usize>load<u32>(places + k, 4) << 5);
      const c = work + (<usize>load<u32>(places + k, 8) << 5);
      const d = work + (<usize>load<u32>(places + k, 12) << 5);
      const at = first + k;
      putTransposed4(v128.load(a), v128.load(b), v128.load(c), v128.load(d), re + at, pitch);
      putTransposed4(v128.load(a, 16), v128.load(b, 16), v128.load(c, 16), v128.load(d, 16), im + at, pitch);
    }
  }
}

function columns(width: i32, height: i32, plan: usize, re: usize, im: usize, work: usize): void {
  const pitch = <usize>width * 4;
  const places = placesOf(plan);
  const room = <usize>height * 32;
  for (let first = 0; first < width; first += COLUMNS) {
    const groups = min(COLUMNS, width - first) / 4;
    for (let row = 0; row < height; row++) {
      const from = <usize>row * pitch + <usize>first * 4;
      const to = work + <usize>row * 32;
      for (let g = 0; g < groups; g++) {
        v128.store(to + <usize>g * room, v128.load(re + from + <usize>g * 16));
        v128.store(to + <usize>g * room, v128.load(im + from + <usize>g * 16), 16);
      }
    }
    for (let g = 0; g < groups; g++) forwardLanes(plan, work + <usize>g * room, 32);
    for (let row = 0; row < height; row++) {
      const to = <usize>row * pitch + <usize>first * 4;
      const from = work + (<usize>load<u32>(places + <usize>row * 4) << 5);
      for (let g = 0; g < groups; g++) {
        v128.store(re + to + <usize>g * 16, v128.load(from + <usize>g * room));
        v128.store(im + to + <usize>g * 16, v128.load(from + <usize>g * room, 16));
      }
    }
  }
}
