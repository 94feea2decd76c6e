// A plane between its samples, one axis after the other. The twin is core/src/picture/onGrid.ts, and the bits are the
// same. Rows lie `pitch` bytes apart, a multiple of 16.
import { transposed4 } from './transpose';

const BAND: i32 = 4;
const ROW: i32 = 2 * BAND + 1;
const TAPS: i32 = 6;

/** One term less: data − factor · the row that lies `by` bytes away. */
// @ts-ignore: decorator
@inline function less(value: v128, factor: f32, data: usize, by: usize): v128 {
  return f32x4.sub(value, f32x4.mul(f32x4.splat(factor), v128.load(data + by)));
}

/** Solves along the columns, in place: the factors of a band matrix, lower and upper in one, `ROW` a row. */
export function solveDown(data: usize, pitch: usize, count: i32, factors: usize): void {
  for (let i = 0; i < count; i++) {
    const own = factors + <usize>(i * ROW) * 4;
    const row = data + <usize>i * pitch;
    for (let j = max(0, i - BAND); j < i; j++) {
      const factor = load<f32>(own + <usize>(BAND + j - i) * 4);
      if (factor == 0) continue;
      const by = data + <usize>j * pitch;
      for (let x: usize = 0; x < pitch; x += 16) v128.store(row + x, less(v128.load(row + x), factor, by, x));
    }
  }
  for (let i = count - 1; i >= 0; i--) {
    const own = factors + <usize>(i * ROW) * 4;
    const row = data + <usize>i * pitch;
    for (let j = min(count - 1, i + BAND); j > i; j--) {
      const factor = load<f32>(own + <usize>(BAND + j - i) * 4);
      if (factor == 0) continue;
      const by = data + <usize>j * pitch;
      for (let x: usize = 0; x < pitch; x += 16) v128.store(row + x, less(v128.load(row + x), factor, by, x));
    }
    const scale = v128.load32_splat(own + BAND * 4);
    for (let x: usize = 0; x < pitch; x += 16) v128.store(row + x, f32x4.mul(scale, v128.load(row + x)));
  }
}

// @ts-ignore: decorator
@inline function held(at: i32, height: i32): usize {
  return <usize>max(0, min(height - 1, at));
}

/** Six samples of a column weighed, for every place along it. */
export function stretchDown(
  from: usize, pitch: usize, height: i32, first: usize, weights: usize, count: i32, to: usize,
): void {
  for (let y = 0; y < count; y++, to += pitch) {
    const top = load<i32>(first + <usize>y * 4);
    const w = weights + <usize>(y * TAPS) * 4;
    const a = from + held(top, height) * pitch;
    const b = from + held(top + 1, height) * pitch;
    const c = from + held(top + 2, height) * pitch;
    const d = from + held(top + 3, height) * pitch;
    const e = from + held(top + 4, height) * pitch;
    const f = from + held(top + 5, height) * pitch;
    const wa = v128.load32_splat(w);
    const wb = v128.load32_splat(w, 4);
    const wc = v128.load32_splat(w, 8);
    const wd = v128.load32_splat(w, 12);
    const we = v128.load32_splat(w, 16);
    const wf = v128.load32_splat(w, 20);
    for (let x: usize = 0; x < pitch; x += 16) {
      let sum = f32x4.add(f32x4.mul(wa, v128.load(a + x)), f32x4.mul(wb, v128.load(b + x)));
      sum = f32x4.add(sum, f32x4.mul(wc, v128.load(c + x)));
      sum = f32x4.add(sum, f32x4.mul(wd, v128.load(d + x)));
      sum = f32x4.add(sum, f32x4.mul(we, v128.load(e + x)));
      v128.store(to + x, f32x4.add(sum, f32x4.mul(wf, v128.load(f + x))));
    }
  }
}

/** Rows become columns; room for up to three rows more is there on both sides. */
export function turnOver(from: usize, pitch: usize, height: i32, to: usize, pitchAfter: usize): void {
  for (let y = 0; y < height; y += 4, from += 4 * pitch, to += 16) {
    for (let x: usize = 0, at = to; x < pitch; x += 16, at += 4 * pitchAfter) {
      transposed4(from + x, pitch, at, pitchAfter);
    }
  }
}
