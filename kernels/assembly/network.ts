// Convolutions of a small network. The twin is core/src/learned/network.ts, and the bits are the same: every sum is
// taken in the same order. A channel is a plane of (height + 2) rows of `pitch` bytes with a rim of one sample around,
// which holds the sample beside it; what lies right of it, up to a multiple of eight samples, counts for nothing.

export const STORED: i32 = 0;
export const LEAKY: i32 = 1;
export const ADDED: i32 = 2;

// @ts-ignore: decorator
@inline const SLOPE: f32 = 0.1;

// @ts-ignore: decorator
@inline function finished(sum: v128, to: usize, mode: i32): v128 {
  if (mode == LEAKY) return f32x4.pmax(sum, f32x4.mul(f32x4.splat(SLOPE), sum));
  return mode == ADDED ? f32x4.add(v128.load(to), sum) : sum;
}

/**
 * Each of `outputs` (a multiple of four) channels as the 3 × 3 sums over all inputs. `weights` holds for each four
 * outputs, input by input, row by row, the four weights of a tap.
 */
export function convolve3x3(
  from: usize,
  inputs: i32,
  to: usize,
  outputs: i32,
  width: i32,
  height: i32,
  pitch: usize,
  weights: usize,
  mode: i32,
): void {
  const plane = pitch * (height + 2);
  const bytes = <usize>width * 4;
  const ofFour = <usize>inputs * 9 * 16;
  for (let y = 0; y < height; y++) {
    const row = from + <usize>y * pitch;
    const here = to + <usize>(y + 1) * pitch + 4;
    for (let four = 0; four < outputs; four += 4) {
      const first = weights + <usize>(four >> 2) * ofFour;
      const out = here + <usize>four * plane;
      for (let b: usize = 0; b < bytes; b += 32) {
        let a0 = f32x4.splat(0);
        let a1 = a0;
        let b0 = a0;
        let b1 = a0;
        let c0 = a0;
        let c1 = a0;
        let d0 = a0;
        let d1 = a0;
        let input = row + b;
        let weight = first;
        const end = first + ofFour;
        while (weight < end) {
          let line = input;
          for (let k = 0; k < 3; k++, line += pitch) {
            for (let tap: usize = 0; tap < 12; tap += 4, weight += 16) {
              const near = v128.load(line + tap);
              const next = v128.load(line + tap, 16);
              const wa = v128.load32_splat(weight);
              a0 = f32x4.add(a0, f32x4.mul(wa, near));
              a1 = f32x4.add(a1, f32x4.mul(wa, next));
              const wb = v128.load32_splat(weight, 4);
              b0 = f32x4.add(b0, f32x4.mul(wb, near));
              b1 = f32x4.add(b1, f32x4.mul(wb, next));
              const wc = v128.load32_splat(weight, 8);
              c0 = f32x4.add(c0, f32x4.mul(wc, near));
              c1 = f32x4.add(c1, f32x4.mul(wc, next));
              const wd = v128.load32_splat(weight, 12);
              d0 = f32x4.add(d0, f32x4.mul(wd, near));
              d1 = f32x4.add(d1, f32x4.mul(wd, next));
            }
          }
          input += plane;
        }
        const at = out + b;
        v128.store(at, finished(a0, at, mode));
        v128.store(at, finished(a1, at + 16, mode), 16);
        const second = at + plane;
        v128.store(second, finished(b0, second, mode));
        v128.store(second, finished(b1, second + 16, mode), 16);
        const third = second + plane;
        v128.store(third, finished(c0, third, mode));
        v128.store(third, finished(c1, third + 16, mode), 16);
        const last = third + plane;
        v128.store(last, finished(d0, last, mode));
        v128.store(last, finished(d1, last + 16, mode), 16);
      }
    }
  }
}

/** Puts the samples at the ends into the rim around each channel. */
export function repeatEnds(stack: usize, channels: i32, width: i32, height: i32, pitch: usize): void {
  const right = <usize>width * 4;
  for (let c = 0; c < channels; c++) {
    const first = stack + pitch;
    for (let y = 0; y < height; y++) {
      const row = first + <usize>y * pitch;
      store<f32>(row, load<f32>(row + 4));
      store<f32>(row + right + 4, load<f32>(row + right));
    }
    memory.copy(stack, first, pitch);
    const end = stack + <usize>(height + 1) * pitch;
    memory.copy(end, end - pitch, pitch);
    stack = end + pitch;
  }
}
