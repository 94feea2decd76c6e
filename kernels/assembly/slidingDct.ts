// Four neighbouring blocks at once, one a lane; the transform of core/src/clean/slidingDct.ts, its twin.

const H: f32 = 0.35355339059327373;
const C1: f32 = 0.49039264020161522;
const C2: f32 = 0.46193976625564337;
const C3: f32 = 0.41573480615127262;
const C5: f32 = 0.27778511650980114;
const C6: f32 = 0.19134171618254489;
const C7: f32 = 0.097545161008064134;

// @ts-ignore: decorator
@inline function times(a: v128, by: f32): v128 {
  return f32x4.mul(a, f32x4.splat(by));
}

// @ts-ignore: decorator
@inline function sum4(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(a, b), f32x4.add(c, d));
}

/** Orthonormal DCT-II of eight values `stride` bytes apart, in place. */
function forward(p: usize, stride: usize): void {
  const x0 = v128.load(p);
  const x1 = v128.load(p + stride);
  const x2 = v128.load(p + 2 * stride);
  const x3 = v128.load(p + 3 * stride);
  const x4 = v128.load(p + 4 * stride);
  const x5 = v128.load(p + 5 * stride);
  const x6 = v128.load(p + 6 * stride);
  const x7 = v128.load(p + 7 * stride);
  const s0 = f32x4.add(x0, x7);
  const s1 = f32x4.add(x1, x6);
  const s2 = f32x4.add(x2, x5);
  const s3 = f32x4.add(x3, x4);
  const d0 = f32x4.sub(x0, x7);
  const d1 = f32x4.sub(x1, x6);
  const d2 = f32x4.sub(x2, x5);
  const d3 = f32x4.sub(x3, x4);
  const a0 = f32x4.add(s0, s3);
  const a1 = f32x4.add(s1, s2);
  const b0 = f32x4.sub(s0, s3);
  const b1 = f32x4.sub(s1, s2);
  v128.store(p, times(f32x4.add(a0, a1), H));
  v128.store(p + 4 * stride, times(f32x4.sub(a0, a1), H));
  v128.store(p + 2 * stride, f32x4.add(times(b0, C2), times(b1, C6)));
  v128.store(p + 6 * stride, f32x4.sub(times(b0, C6), times(b1, C2)));
  v128.store(p + stride, sum4(times(d0, C1), times(d1, C3), times(d2, C5), times(d3, C7)));
  v128.store(p + 3 * stride, sum4(times(d0, C3), times(d1, -C7), times(d2, -C1), times(d3, -C5)));
  v128.store(p + 5 * stride, sum4(times(d0, C5), times(d1, -C1), times(d2, C7), times(d3, C3)));
  v128.store(p + 7 * stride, sum4(times(d0, C7), times(d1, -C5), times(d2, C3), times(d3, -C1)));
}

/** Undoes `forward`. */
function backward(p: usize, stride: usize): void {
  const x0 = v128.load(p);
  const x1 = v128.load(p + stride);
  const x2 = v128.load(p + 2 * stride);
  const x3 = v128.load(p + 3 * stride);
  const x4 = v128.load(p + 4 * stride);
  const x5 = v128.load(p + 5 * stride);
  const x6 = v128.load(p + 6 * stride);
  const x7 = v128.load(p + 7 * stride);
  const e0 = times(f32x4.add(x0, x4), H);
  const e1 = times(f32x4.sub(x0, x4), H);
  const f0 = f32x4.add(times(x2, C2), times(x6, C6));
  const f1 = f32x4.sub(times(x2, C6), times(x6, C2));
  const s0 = f32x4.add(e0, f0);
  const s3 = f32x4.sub(e0, f0);
  const s1 = f32x4.add(e1, f1);
  const s2 = f32x4.sub(e1, f1);
  const o0 = sum4(times(x1, C1), times(x3, C3), times(x5, C5), times(x7, C7));
  const o1 = sum4(times(x1, C3), times(x3, -C7), times(x5, -C1), times(x7, -C5));
  const o2 = sum4(times(x1, C5), times(x3, -C1), times(x5, C7), times(x7, C3));
  const o3 = sum4(times(x1, C7), times(x3, -C5), times(x5, C3), times(x7, -C1));
  v128.store(p, f32x4.add(s0, o0));
  v128.store(p + 7 * stride, f32x4.sub(s0, o0));
  v128.store(p + stride, f32x4.add(s1, o1));
  v128.store(p + 6 * stride, f32x4.sub(s1, o1));
  v128.store(p + 2 * stride, f32x4.add(s2, o2));
  v128.store(p + 5 * stride, f32x4.sub(s2, o2));
  v128.store(p + 3 * stride, f32x4.add(s3, o3));
  v128.store(p + 4 * stride, f32x4.sub(s3, o3));
}

const ROW: usize = 8 * 16;

/** Reads four blocks two samples apart, a lane each, and transforms them. */
// @ts-ignore: decorator
@inline function loadBlocks(from: usize, pitch: usize, block: usize): void {
  for (let row: usize = 0; row < 8; row++) {
    const at = from + row * pitch;
    for (let column: usize = 0; column < 8; column++) {
      const a = v128.load(at + column * 4);
      const b = v128.load(at + column * 4 + 16);
      v128.store(block + row * ROW + column * 16, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    }
  }
  for (let row: usize = 0; row < 8; row++) forward(block + row * ROW, 16);
  for (let column: usize = 0; column < 8; column++) forward(block + column * 16, ROW);
}

/** Transforms back and adds the first `present` blocks, weighted, to `sum` and their weights to `weights`. */
// @ts-ignore: decorator
@inline function addBlocks(
  block: usize,
  all: v128,
  present: i32,
  sum: usize,
  weights: usize,
  corner: usize,
  pitch: usize,
): void {
  for (let row: usize = 0; row < 8; row++) backward(block + row * ROW, 16);
  for (let column: usize = 0; column < 8; column++) backward(block + column * 16, ROW);
  const zero = f32x4.splat(0);
  const lanes = memory.data<f32>([0, 1, 2, 3], 16);
  const weight = v128.and(all, f32x4.lt(v128.load(lanes), f32x4.splat(<f32>present)));
  const weightLow = v128.shuffle<f32>(weight, zero, 0, 4, 1, 5);
  const weightHigh = v128.shuffle<f32>(weight, zero, 2, 4, 3, 5);
  for (let row: usize = 0; row < 8; row++) {
    const at = corner + row * pitch;
    for (let column: usize = 0; column < 8; column++) {
      const value = f32x4.mul(weight, v128.load(block + row * ROW + column * 16));
      const i = at + column * 4;
      v128.store(sum + i, f32x4.add(v128.load(sum + i), v128.shuffle<f32>(value, zero, 0, 4, 1, 5)));
      v128.store(sum + i + 16, f32x4.add(v128.load(sum + i + 16), v128.shuffle<f32>(value, zero, 2, 4, 3, 5)));
      v128.store(weights + i, f32x4.add(v128.load(weights + i), weightLow));
      v128.store(weights + i + 16, f32x4.add(v128.load(weights + i + 16), weightHigh));
    }
  }
}

/**
 * Cuts what is under its limit in `count` blocks that stand two samples apart, from `left` on, and adds them to `sum` and their weights to
 * `weights`. `block` has room for 64 vectors. Up to 16 samples past the last block are read, and written unchanged.
 */
export function thresholdRun(
  plane: usize,
  width: i32,
  top: i32,
  left: i32,
  count: i32,
  limits: usize,
  sum: usize,
  weights: usize,
  block: usize,
): void {
  const pitch = <usize>(width * 4);
  const one = f32x4.splat(1);
  for (let done = 0; done < count; done += 4) {
    const corner = <usize>((top * width + left + 2 * done) * 4);
    loadBlocks(plane + corner, pitch, block);
    let kept = one;
    for (let i: usize = 16; i < 64 * 16; i += 16) {
      const value = v128.load(block + i);
      const keep = f32x4.ge(f32x4.abs(value), v128.load32_splat(limits + (i >> 2)));
      v128.store(block + i, v128.and(value, keep));
      kept = f32x4.add(kept, v128.and(one, keep));
    }
    addBlocks(block, f32x4.div(one, kept), count - done, sum, weights, corner, pitch);
  }
}

/** The same with every coefficient shrunk as `pilot` says its power stands to the noise's. `block` has room for 128. */
export function wienerRun(
  plane: usize,
  pilot: usize,
  width: i32,
  top: i32,
  left: i32,
  count: i32,
  variances: usize,
  sum: usize,
  weights: usize,
  block: usize,
): void {
  const pitch = <usize>(width * 4);
  const one = f32x4.splat(1);
  const guess = block + 64 * 16;
  for (let done = 0; done < count; done += 4) {
    const corner = <usize>((top * width + left + 2 * done) * 4);
    loadBlocks(plane + corner, pitch, block);
    loadBlocks(pilot + corner, pitch, guess);
    let kept = one;
    for (let i: usize = 16; i < 64 * 16; i += 16) {
      const expected = v128.load(guess + i);
      const power = f32x4.mul(expected, expected);
      const gain = f32x4.div(power, f32x4.add(power, v128.load32_splat(variances + (i >> 2))));
      v128.store(block + i, f32x4.mul(gain, v128.load(block + i)));
      kept = f32x4.add(kept, f32x4.mul(gain, gain));
    }
    addBlocks(block, f32x4.div(one, kept), count - done, sum, weights, corner, pitch);
  }
}
