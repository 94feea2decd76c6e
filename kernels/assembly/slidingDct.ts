// Four neighbouring blocks at once, one a lane; the transform of core/src/clean/slidingDct.ts, its twin. Blocks that
// lie over each other share their rows: these are transformed once, forth and back, and only columns block by block.
//
// The transform is left without its scale, which saves most of its products: coefficient k comes out √8·a(k) times as
// large (a: 1, 1.387…), the limits are made as much larger (`SCALES` in kernels/src/slidingDct.ts), and forth and back
// in both directions make a block 64 times as large.
// Source: Arai, Agui, Nakajima, "A fast DCT-SQ scheme for images", Transactions of the IEICE E71 (1988).
import { putTransposed4, transposed4 } from './transpose';

const SQRT_HALF: f32 = 0.70710678118654752;
const SQRT_TWO: f32 = 1.4142135623730951;
const SCALE: f32 = 1.0 / 64.0;
/** Pilot's power over the noise's: `LEAST_POWER` of core/src/clean/slidingDct.ts. */
const LEAST_POWER: f32 = 0.05;

// @ts-ignore: decorator
@inline function times(a: v128, by: f32): v128 {
  return f32x4.mul(a, f32x4.splat(by));
}

/** DCT-II of eight values `apart` bytes apart, to eight that are 16 bytes apart. */
// @ts-ignore: decorator
@inline function forward(from: usize, apart: usize, p: usize): void {
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
  const b1 = times(f32x4.add(f32x4.sub(s1, s2), b0), SQRT_HALF);
  v128.store(p, f32x4.add(a0, a1));
  v128.store(p, f32x4.sub(a0, a1), 64);
  v128.store(p, f32x4.add(b0, b1), 32);
  v128.store(p, f32x4.sub(b0, b1), 96);
  const e0 = f32x4.add(d3, d2);
  const e1 = times(f32x4.add(d2, d1), SQRT_HALF);
  const e2 = f32x4.add(d1, d0);
  const turned = times(f32x4.sub(e0, e2), 0.38268343236508977);
  const low = f32x4.add(times(e0, 0.54119610014619698), turned);
  const high = f32x4.add(times(e2, 1.3065629648763766), turned);
  const plus = f32x4.add(d0, e1);
  const minus = f32x4.sub(d0, e1);
  v128.store(p, f32x4.add(plus, high), 16);
  v128.store(p, f32x4.sub(plus, high), 112);
  v128.store(p, f32x4.add(minus, low), 80);
  v128.store(p, f32x4.sub(minus, low), 48);
}

/** Undoes `forward`; to eight values `apart` bytes apart. */
// @ts-ignore: decorator
@inline function backward(p: usize, to: usize, apart: usize): void {
  const x0 = v128.load(p);
  const x1 = v128.load(p, 16);
  const x2 = v128.load(p, 32);
  const x3 = v128.load(p, 48);
  const x4 = v128.load(p, 64);
  const x5 = v128.load(p, 80);
  const x6 = v128.load(p, 96);
  const x7 = v128.load(p, 112);
  const a0 = f32x4.add(x0, x4);
  const a1 = f32x4.sub(x0, x4);
  const b0 = f32x4.add(x2, x6);
  const b1 = f32x4.sub(times(f32x4.sub(x2, x6), SQRT_TWO), b0);
  const s0 = f32x4.add(a0, b0);
  const s3 = f32x4.sub(a0, b0);
  const s1 = f32x4.add(a1, b1);
  const s2 = f32x4.sub(a1, b1);
  const c0 = f32x4.add(x5, x3);
  const c1 = f32x4.sub(x5, x3);
  const c2 = f32x4.add(x1, x7);
  const c3 = f32x4.sub(x1, x7);
  const turned = times(f32x4.add(c1, c3), 1.8477590650225735);
  const d0 = f32x4.add(c2, c0);
  const d1 = f32x4.sub(f32x4.sub(turned, times(c1, 2.6131259297527532)), d0);
  const d2 = f32x4.sub(times(f32x4.sub(c2, c0), SQRT_TWO), d1);
  const d3 = f32x4.sub(f32x4.sub(turned, times(c3, 1.0823922002923940)), d2);
  v128.store(to, f32x4.add(s0, d0));
  v128.store(to + 7 * apart, f32x4.sub(s0, d0));
  v128.store(to + apart, f32x4.add(s1, d1));
  v128.store(to + 6 * apart, f32x4.sub(s1, d1));
  v128.store(to + 2 * apart, f32x4.add(s2, d2));
  v128.store(to + 5 * apart, f32x4.sub(s2, d2));
  v128.store(to + 3 * apart, f32x4.add(s3, d3));
  v128.store(to + 4 * apart, f32x4.sub(s3, d3));
}

const ROW: usize = 8 * 16;

/**
 * Transforms rows `first` to `end` at `count` places four samples apart, from `left` on, four to a group: `out` holds
 * for each row and group eight vectors, a frequency each. Up to 16 samples past the plane are read.
 */
function transformRows(plane: usize, width: i32, first: i32, end: i32, left: i32, count: i32, out: usize): void {
  const groups = (count + 3) >> 2;
  let to = out;
  for (let y = first; y < end; y++) {
    let from = plane + <usize>((y * width + left) * 4);
    for (let group = 0; group < groups; group++, to += ROW, from += 64) {
      const v1 = v128.load(from, 16);
      const v2 = v128.load(from, 32);
      const v3 = v128.load(from, 48);
      putTransposed4(v128.load(from), v1, v2, v3, to, 16);
      putTransposed4(v1, v2, v3, v128.load(from, 64), to + 64, 16);
      forward(to, 16, to);
    }
  }
}

/**
 * Adds four blocks, each by its weight, to `sums`, and the weights to `weights`: a vector a row. Of the block's eight
 * columns only those in `live`, a bit each; the others are nothing.
 */
// @ts-ignore: decorator
@inline function addBlocks(
  block: usize,
  live: i32,
  all: v128,
  present: i32,
  sums: usize,
  weights: usize,
  groups: usize,
): void {
  const lanes = memory.data<f32>([0, 1, 2, 3], 16);
  const weight = v128.and(all, f32x4.lt(v128.load(lanes), f32x4.splat(<f32>present)));
  const scaled = times(weight, SCALE);
  const pitch = groups * ROW;
  for (let column: usize = 0; live != 0; column += 16, live >>= 1) {
    if ((live & 1) == 0) continue;
    let to = sums + column;
    for (let from = block + column; from < block + 8 * ROW; from += ROW, to += pitch) {
      v128.store(to, f32x4.add(v128.load(to), f32x4.mul(scaled, v128.load(from))));
    }
  }
  for (let row: usize = 0; row < 8; row++) {
    const at = weights + row * groups * 16;
    v128.store(at, f32x4.add(v128.load(at), weight));
  }
}

// @ts-ignore: decorator
@inline function cutOne(at: usize, limit: usize, kept: v128): v128 {
  const value = v128.load(at);
  const keep = f32x4.ge(f32x4.mul(value, value), v128.load32_splat(limit));
  v128.store(at, v128.and(value, keep));
  return i32x4.sub(kept, keep);
}

/**
 * Cuts what is under its limit in the blocks of rows `top` to `top` + 7. The limits, squared, and the variances below
 * are the same along rows as down columns. `block` has room for 72 vectors.
 */
function cutBlocks(
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
  const line = block + 64 * 16;
  for (let group: usize = 0; group < groups; group++) {
    const place = <usize>top * groups + group;
    let kept = i32x4.splat(0);
    let live = 0;
    for (let column: usize = 0; column < ROW; column += 16) {
      const before = kept;
      forward(rows + place * ROW + column, groups * ROW, line);
      const limit = limits + 2 * column;
      kept = cutOne(line, limit, kept);
      kept = cutOne(line + 16, limit + 4, kept);
      kept = cutOne(line + 32, limit + 8, kept);
      kept = cutOne(line + 48, limit + 12, kept);
      kept = cutOne(line + 64, limit + 16, kept);
      kept = cutOne(line + 80, limit + 20, kept);
      kept = cutOne(line + 96, limit + 24, kept);
      kept = cutOne(line + 112, limit + 28, kept);
      if (!v128.any_true(v128.xor(kept, before))) continue;
      live |= 1 << (<i32>column >> 4);
      backward(line, block + column, ROW);
    }
    const present = count - 4 * <i32>group;
    addBlocks(block, live, f32x4.div(one, f32x4.convert_i32x4_s(kept)), present, sums + place * ROW, weights + place * 16, groups);
  }
}

/** Where so much of a coefficient is the pilot's that it is not cut. */
// @ts-ignore: decorator
@inline function isWorth(pilot: usize, variance: usize): v128 {
  const expected = v128.load(pilot);
  return f32x4.ge(f32x4.mul(expected, expected), f32x4.mul(f32x4.splat(LEAST_POWER), v128.load32_splat(variance)));
}

// @ts-ignore: decorator
@inline function shrinkOne(at: usize, pilot: usize, variance: usize, kept: v128): v128 {
  const expected = v128.load(pilot);
  const power = f32x4.add(f32x4.mul(expected, expected), f32x4.splat(1e-20));
  const noise = v128.load32_splat(variance);
  const keep = f32x4.ge(power, f32x4.mul(f32x4.splat(LEAST_POWER), noise));
  const gain = v128.and(keep, f32x4.div(power, f32x4.add(power, noise)));
  v128.store(at, f32x4.mul(gain, v128.load(at)));
  return f32x4.add(kept, f32x4.mul(gain, gain));
}

/**
 * The same with every coefficient shrunk as the pilot says its power stands to the noise's, and cut where little would
 * be left. `block` has room for 80.
 */
function shrinkBlocks(
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
  const line = block + 64 * 16;
  const gains = block + 72 * 16;
  for (let group: usize = 0; group < groups; group++) {
    const place = <usize>top * groups + group;
    let kept = f32x4.splat(0);
    let live = 0;
    for (let column: usize = 0; column < ROW; column += 16) {
      forward(pilotRows + place * ROW + column, groups * ROW, gains);
      const variance = variances + 2 * column;
      let any = isWorth(gains, variance);
      any = v128.or(any, isWorth(gains + 16, variance + 4));
      any = v128.or(any, isWorth(gains + 32, variance + 8));
      any = v128.or(any, isWorth(gains + 48, variance + 12));
      any = v128.or(any, isWorth(gains + 64, variance + 16));
      any = v128.or(any, isWorth(gains + 80, variance + 20));
      any = v128.or(any, isWorth(gains + 96, variance + 24));
      any = v128.or(any, isWorth(gains + 112, variance + 28));
      if (!v128.any_true(any)) continue;
      live |= 1 << (<i32>column >> 4);
      forward(rows + place * ROW + column, groups * ROW, line);
      kept = shrinkOne(line, gains, variance, kept);
      kept = shrinkOne(line + 16, gains + 16, variance + 4, kept);
      kept = shrinkOne(line + 32, gains + 32, variance + 8, kept);
      kept = shrinkOne(line + 48, gains + 48, variance + 12, kept);
      kept = shrinkOne(line + 64, gains + 64, variance + 16, kept);
      kept = shrinkOne(line + 80, gains + 80, variance + 20, kept);
      kept = shrinkOne(line + 96, gains + 96, variance + 24, kept);
      kept = shrinkOne(line + 112, gains + 112, variance + 28, kept);
      backward(line, block + column, ROW);
    }
    const present = count - 4 * <i32>group;
    addBlocks(block, live, f32x4.div(one, kept), present, sums + place * ROW, weights + place * 16, groups);
  }
}

// @ts-ignore: decorator
@inline function addTo(at: usize, value: v128): void {
  v128.store(at, f32x4.add(v128.load(at), value));
}

/**
 * Transforms summed rows back and adds them to rows `first` to `end`, their weights likewise; up to 16 samples past the
 * plane.
 */
function spreadRows(
  sums: usize,
  weights: usize,
  width: i32,
  first: i32,
  end: i32,
  left: i32,
  count: i32,
  plane: usize,
  shares: usize,
): void {
  const groups = (count + 3) >> 2;
  let from = sums;
  let weightAt = weights;
  for (let y = first; y < end; y++) {
    let at = <usize>((y * width + left) * 4);
    for (let group = 0; group < groups; group++, from += ROW, weightAt += 16, at += 64) {
      backward(from, from, 16);
      transposed4(from, 16, from, 16);
      const right = from + 64;
      transposed4(right, 16, right, 16);
      const weight = v128.load(weightAt);
      const w0 = v128.shuffle<f32>(weight, weight, 0, 0, 0, 0);
      const w1 = v128.shuffle<f32>(weight, weight, 1, 1, 1, 1);
      const w2 = v128.shuffle<f32>(weight, weight, 2, 2, 2, 2);
      const w3 = v128.shuffle<f32>(weight, weight, 3, 3, 3, 3);
      // The left half of each block lies over the right half of the one before it.
      const to = plane + at;
      addTo(to, v128.load(from));
      addTo(to + 16, f32x4.add(v128.load(from, 16), v128.load(right)));
      addTo(to + 32, f32x4.add(v128.load(from, 32), v128.load(right, 16)));
      addTo(to + 48, f32x4.add(v128.load(from, 48), v128.load(right, 32)));
      addTo(to + 64, v128.load(right, 48));
      const share = shares + at;
      addTo(share, w0);
      addTo(share + 16, f32x4.add(w0, w1));
      addTo(share + 32, f32x4.add(w1, w2));
      addTo(share + 48, f32x4.add(w2, w3));
      addTo(share + 64, w3);
    }
  }
}

/** Rows of a run that are held at once. */
const BAND: usize = 32;

/**
 * Cleans the blocks of one run of places, `tops` their upper rows, band by band, and adds them to `plane` and their
 * weights to `shares`. Without pilot rows (0) small coefficients are cut, `table` the limits squared; with them shrunk,
 * `table` the variances.
 *
 * @param work - Room for 64 rows of the run, 128 bytes a group: transformed, the pilot's, summed; and 16 a group of
 * weights.
 * @param block - Room for 80 vectors.
 */
export function cleanRun(
  from: usize,
  pilot: usize,
  width: i32,
  left: i32,
  count: i32,
  tops: usize,
  topCount: i32,
  table: usize,
  work: usize,
  block: usize,
  plane: usize,
  shares: usize,
): void {
  const groups = <usize>((count + 3) >> 2);
  const pitch = groups * ROW;
  const rows = work;
  const pilotRows = rows + BAND * pitch;
  const sums = pilotRows + BAND * pitch;
  const weights = sums + BAND * pitch;
  let base = 0;
  let end = 0;
  for (let k = 0; k < topCount; ) {
    const first = load<i32>(tops + (k << 2));
    // Rows that the band before has begun move to the front.
    const carried = <usize>max(0, end - first);
    const skipped = <usize>(first - base);
    memory.copy(rows, rows + skipped * pitch, carried * pitch);
    memory.copy(sums, sums + skipped * pitch, carried * pitch);
    memory.copy(weights, weights + skipped * groups * 16, carried * groups * 16);
    if (pilot != 0) memory.copy(pilotRows, pilotRows + skipped * pitch, carried * pitch);
    const begun = first + <i32>carried;
    let next = k;
    while (next < topCount && load<i32>(tops + (next << 2)) + 8 - first <= <i32>BAND) next++;
    end = load<i32>(tops + ((next - 1) << 2)) + 8;
    const fresh = <usize>(end - begun);
    memory.fill(sums + carried * pitch, 0, fresh * pitch);
    memory.fill(weights + carried * groups * 16, 0, fresh * groups * 16);
    transformRows(from, width, begun, end, left, count, rows + carried * pitch);
    if (pilot != 0) transformRows(pilot, width, begun, end, left, count, pilotRows + carried * pitch);
    for (; k < next; k++) {
      const top = load<i32>(tops + (k << 2)) - first;
      if (pilot != 0) shrinkBlocks(rows, pilotRows, count, top, table, sums, weights, block);
      else cutBlocks(rows, count, top, table, sums, weights, block);
    }
    const finished = k < topCount ? load<i32>(tops + (k << 2)) : end;
    spreadRows(sums, weights, width, first, finished, left, count, plane, shares);
    base = first;
  }
}

/** sums / shares where a block lay, else as it was; up to 12 bytes more are written. */
export function overShares(sums: usize, shares: usize, original: usize, bytes: usize): void {
  const zero = f32x4.splat(0);
  for (let i: usize = 0; i < bytes; i += 16) {
    const share = v128.load(shares + i);
    const mean = f32x4.div(v128.load(sums + i), share);
    v128.store(sums + i, v128.bitselect(mean, v128.load(original + i), f32x4.gt(share, zero)));
  }
}
