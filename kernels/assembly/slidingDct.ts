// Four neighbouring blocks at once, one a lane; the transform of core/src/clean/slidingDct.ts, its twin. Blocks that lie
// over each other share their rows: these are transformed once, forth and back, and only columns block by block.

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

/** Orthonormal DCT-II of eight values `apart` bytes apart, to eight that are `stride` bytes apart. */
function forward(from: usize, apart: usize, p: usize, stride: usize): void {
  const x0 = v128.load(from);
  const x1 = v128.load(from + apart);
  const x2 = v128.load(from + 2 * apart);
  const x3 = v128.load(from + 3 * apart);
  const x4 = v128.load(from + 4 * apart);
  const x5 = v128.load(from + 5 * apart);
  const x6 = v128.load(from + 6 * apart);
  const x7 = v128.load(from + 7 * apart);
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

/**
 * Transforms every row at `count` places two samples apart, from `left` on, four to a group: `out` holds for each row and
 * group eight vectors, a frequency each. Up to 16 samples past the plane are read.
 */
export function transformRows(plane: usize, width: i32, height: i32, left: i32, count: i32, out: usize): void {
  const groups = (count + 3) >> 2;
  let to = out;
  for (let y = 0; y < height; y++) {
    for (let group = 0; group < groups; group++, to += ROW) {
      const from = plane + <usize>((y * width + left + 8 * group) * 4);
      for (let column: usize = 0; column < 8; column++) {
        const a = v128.load(from + column * 4);
        const b = v128.load(from + column * 4 + 16);
        v128.store(to + column * 16, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
      }
      forward(to, 16, to, 16);
    }
  }
}

/** The columns of the blocks of one group whose upper rows lie at `rows`, `pitch` bytes a row. */
// @ts-ignore: decorator
@inline function transformColumns(rows: usize, pitch: usize, block: usize): void {
  for (let column: usize = 0; column < ROW; column += 16) forward(rows + column, pitch, block + column, ROW);
}

/** Transforms columns back and adds the blocks, weighted, to `sums`, and their weights to `weights`: a vector a row. */
// @ts-ignore: decorator
@inline function addColumns(block: usize, all: v128, present: i32, sums: usize, weights: usize, groups: usize): void {
  const lanes = memory.data<f32>([0, 1, 2, 3], 16);
  const weight = v128.and(all, f32x4.lt(v128.load(lanes), f32x4.splat(<f32>present)));
  for (let column: usize = 0; column < ROW; column += 16) backward(block + column, ROW);
  for (let row: usize = 0; row < 8; row++) {
    const to = sums + row * groups * ROW;
    for (let column: usize = 0; column < ROW; column += 16) {
      const value = f32x4.mul(weight, v128.load(block + row * ROW + column));
      v128.store(to + column, f32x4.add(v128.load(to + column), value));
    }
    const at = weights + row * groups * 16;
    v128.store(at, f32x4.add(v128.load(at), weight));
  }
}

/** Cuts what is under its limit in the blocks of rows `top` to `top` + 7. `block` has room for 64 vectors. */
export function cutBlocks(
  rows: usize,
  count: i32,
  top: i32,
  limits: usize,
  sums: usize,
  weights: usize,
  block: usize,
): void {
  const groups = <usize>((count + 3) >> 2);
  const one = f32x4.splat(1);
  for (let group: usize = 0; group < groups; group++) {
    const place = <usize>top * groups + group;
    transformColumns(rows + place * ROW, groups * ROW, block);
    let kept = one;
    for (let i: usize = 16; i < 64 * 16; i += 16) {
      const value = v128.load(block + i);
      const keep = f32x4.ge(f32x4.abs(value), v128.load32_splat(limits + (i >> 2)));
      v128.store(block + i, v128.and(value, keep));
      kept = f32x4.add(kept, v128.and(one, keep));
    }
    const present = count - 4 * <i32>group;
    addColumns(block, f32x4.div(one, kept), present, sums + place * ROW, weights + place * 16, groups);
  }
}

/** The same with every coefficient shrunk as the pilot says its power stands to the noise's. `block` has room for 128. */
export function shrinkBlocks(
  rows: usize,
  pilotRows: usize,
  count: i32,
  top: i32,
  variances: usize,
  sums: usize,
  weights: usize,
  block: usize,
): void {
  const groups = <usize>((count + 3) >> 2);
  const one = f32x4.splat(1);
  const guess = block + 64 * 16;
  for (let group: usize = 0; group < groups; group++) {
    const place = <usize>top * groups + group;
    transformColumns(rows + place * ROW, groups * ROW, block);
    transformColumns(pilotRows + place * ROW, groups * ROW, guess);
    let kept = one;
    for (let i: usize = 16; i < 64 * 16; i += 16) {
      const expected = v128.load(guess + i);
      const power = f32x4.mul(expected, expected);
      const gain = f32x4.div(power, f32x4.add(power, v128.load32_splat(variances + (i >> 2))));
      v128.store(block + i, f32x4.mul(gain, v128.load(block + i)));
      kept = f32x4.add(kept, f32x4.mul(gain, gain));
    }
    const present = count - 4 * <i32>group;
    addColumns(block, f32x4.div(one, kept), present, sums + place * ROW, weights + place * 16, groups);
  }
}

/** Transforms summed rows back and adds them to their places, their weights likewise; up to 16 samples past the plane. */
export function spreadRows(
  sums: usize,
  weights: usize,
  width: i32,
  height: i32,
  left: i32,
  count: i32,
  plane: usize,
  shares: usize,
): void {
  const groups = (count + 3) >> 2;
  const zero = f32x4.splat(0);
  let from = sums;
  let weightAt = weights;
  for (let y = 0; y < height; y++) {
    for (let group = 0; group < groups; group++, from += ROW, weightAt += 16) {
      backward(from, 16);
      const at = <usize>((y * width + left + 8 * group) * 4);
      const weight = v128.load(weightAt);
      const weightLow = v128.shuffle<f32>(weight, zero, 0, 4, 1, 5);
      const weightHigh = v128.shuffle<f32>(weight, zero, 2, 4, 3, 5);
      for (let column: usize = 0; column < 8; column++) {
        const value = v128.load(from + column * 16);
        const low = plane + at + column * 4;
        v128.store(low, f32x4.add(v128.load(low), v128.shuffle<f32>(value, zero, 0, 4, 1, 5)));
        v128.store(low + 16, f32x4.add(v128.load(low + 16), v128.shuffle<f32>(value, zero, 2, 4, 3, 5)));
        const share = shares + at + column * 4;
        v128.store(share, f32x4.add(v128.load(share), weightLow));
        v128.store(share + 16, f32x4.add(v128.load(share + 16), weightHigh));
      }
    }
  }
}
