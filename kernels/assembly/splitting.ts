// The steps of one iteration of core/src/recover/splitting.ts, its twin; the sums and their order are the same.
import { ELEMENT, fourRowsToSpectra, spectraToFourRows } from './halfSpectra';

/** What is under 1e-15 becomes 0: squares of smaller numbers would be denormal, and those are many times slower. */
// @ts-ignore: decorator
@inline function flushed(a: v128): v128 {
  const far = f32x4.splat(<f32>1e-8);
  return f32x4.sub(f32x4.add(a, far), far);
}

/** Over-relaxation, as RELAXATION of the twin. */
// @ts-ignore: decorator
@inline const RELAXATION: f32 = 1.8;

/** Words a channel takes in the table of `sweepRows`. */
// @ts-ignore: decorator
@inline const WORDS: i32 = 8;
// @ts-ignore: decorator
@inline const SPECTRA: i32 = 0;
// @ts-ignore: decorator
@inline const GRADIENT_X: i32 = 1;
// @ts-ignore: decorator
@inline const GRADIENT_Y: i32 = 2;
// @ts-ignore: decorator
@inline const Y: i32 = 3;
// @ts-ignore: decorator
@inline const SHARE: i32 = 4;
// @ts-ignore: decorator
@inline const DATA: i32 = 5;
/** All ones where y is a lower bound; its pitch is 0 where one empty row stands for all. */
// @ts-ignore: decorator
@inline const OPEN: i32 = 6;
// @ts-ignore: decorator
@inline const OPEN_PITCH: i32 = 7;

// @ts-ignore: decorator
@inline function word(table: usize, channel: i32, at: i32): usize {
  return load<u32>(table + (<usize>(channel * WORDS + at) << 2));
}

// Rows that each channel keeps. Two groups of four rows are at work at a time: x and k⊗x, then, in their place, what is
// transformed next.
// @ts-ignore: decorator
@inline const X: i32 = 0;
// @ts-ignore: decorator
@inline const KX: i32 = 8;
/** The first four rows wait for the last one, which is above the first. */
// @ts-ignore: decorator
@inline const FIRST_A: i32 = 16;
// @ts-ignore: decorator
@inline const FIRST_B: i32 = 20;
// @ts-ignore: decorator
@inline const FIRST_X: i32 = 24;
// @ts-ignore: decorator
@inline const FIRST_PULL_Y: i32 = 25;
/** Of this row and the row above in turn. */
// @ts-ignore: decorator
@inline const PULL_Y: i32 = 26;
// @ts-ignore: decorator
@inline const OWN_ROWS: i32 = 28;

// @ts-ignore: decorator
@inline function ownRow(rows: usize, pitch: usize, channel: i32, at: i32): usize {
  return rows + pitch * <usize>(1 + OWN_ROWS * channel + at);
}

/**
 * What an iteration does to the samples, in one sweep over the rows of all channels: from the rows of x's and k⊗x's
 * spectra to those of what is transformed next (addGradient, shareKept, pullOfGradients, explainData and divergence of
 * the twin). At the start x and k⊗x are the photograph. `kept` holds the share of the gradients that was kept, over all
 * channels; `rows` has room for 1 + 28 · channels rows, `work` for 8 × width floats.
 */
export function sweepRows(
  table: usize,
  channels: i32,
  width: i32,
  height: i32,
  plan: usize,
  work: usize,
  threshold: f32,
  rows: usize,
  kept: usize,
  isStart: bool,
): void {
  const pitch = <usize>width * 4;
  for (let group = 0; group < height / 4; group++) {
    for (let c = 0; c < channels; c++) {
      const x = ownRow(rows, pitch, c, X + 4 * (group & 1));
      const kx = ownRow(rows, pitch, c, KX + 4 * (group & 1));
      if (isStart) {
        memory.copy(x, word(table, c, Y) + <usize>group * 4 * pitch, 4 * pitch);
        memory.copy(kx, x, 4 * pitch);
      } else spectraToFourRows(groupOf(table, c, group), width, height, plan, work, x, kx);
      if (group == 0) memory.copy(ownRow(rows, pitch, c, FIRST_X), x, pitch);
    }
    // A row waits for the one below it.
    for (let row = max(0, 4 * group - 1); row < 4 * group + 3; row++) {
      stepRow(table, channels, pitch, row, height, threshold, rows, kept);
    }
    if (group > 0) finishGroup(table, channels, width, height, plan, work, rows, group - 1);
  }
  stepRow(table, channels, pitch, height - 1, height, threshold, rows, kept);
  finishGroup(table, channels, width, height, plan, work, rows, height / 4 - 1);
  for (let c = 0; c < channels; c++) {
    const a = ownRow(rows, pitch, c, FIRST_A);
    const b = ownRow(rows, pitch, c, FIRST_B);
    const last = ownRow(rows, pitch, c, PULL_Y + ((height - 1) & 1));
    down(last, ownRow(rows, pitch, c, FIRST_PULL_Y), pitch, b);
    fourRowsToSpectra(a, b, width, height, plan, work, groupOf(table, c, 0));
  }
}

// @ts-ignore: decorator
@inline function groupOf(table: usize, channel: i32, group: i32): usize {
  return word(table, channel, SPECTRA) + <usize>group * 4 * ELEMENT;
}

function finishGroup(
  table: usize,
  channels: i32,
  width: i32,
  height: i32,
  plan: usize,
  work: usize,
  rows: usize,
  group: i32,
): void {
  const pitch = <usize>width * 4;
  for (let c = 0; c < channels; c++) {
    const a = ownRow(rows, pitch, c, X + 4 * (group & 1));
    const b = ownRow(rows, pitch, c, KX + 4 * (group & 1));
    if (group > 0) {
      fourRowsToSpectra(a, b, width, height, plan, work, groupOf(table, c, group));
      continue;
    }
    memory.copy(ownRow(rows, pitch, c, FIRST_A), a, 4 * pitch);
    memory.copy(ownRow(rows, pitch, c, FIRST_B), b, 4 * pitch);
  }
}

function stepRow(
  table: usize,
  channels: i32,
  pitch: usize,
  row: i32,
  height: i32,
  threshold: f32,
  rows: usize,
  kept: usize,
): void {
  const energy = rows;
  const here = <usize>row * pitch;
  memory.fill(energy, 0, pitch);
  for (let c = 0; c < channels; c++) {
    const x = ownRow(rows, pitch, c, X + (row & 7));
    const below = ownRow(rows, pitch, c, row + 1 < height ? X + ((row + 1) & 7) : FIRST_X);
    addGradient(x, below, pitch, kept + here, word(table, c, GRADIENT_X) + here, word(table, c, GRADIENT_Y) + here, energy);
  }
  shareKept(energy, pitch, threshold, kept + here);
  for (let c = 0; c < channels; c++) {
    const kx = ownRow(rows, pitch, c, KX + (row & 7));
    const pullY = ownRow(rows, pitch, c, PULL_Y + (row & 1));
    explainData(
      kx,
      pitch,
      word(table, c, Y) + here,
      word(table, c, SHARE) + here,
      word(table, c, OPEN) + <usize>row * word(table, c, OPEN_PITCH),
      word(table, c, DATA) + here,
      ownRow(rows, pitch, c, X + (row & 7)),
    );
    const above = row > 0 ? ownRow(rows, pitch, c, PULL_Y + ((row + 1) & 1)) : 0;
    pullBack(kept + here, pitch, word(table, c, GRADIENT_X) + here, word(table, c, GRADIENT_Y) + here, above, pullY, kx);
    if (row === 0) memory.copy(ownRow(rows, pitch, c, FIRST_PULL_Y), pullY, pitch);
  }
}

/** g ← g + ρ·(∇x − v) of one row, v = kept share of g; adds |g|² to energy. */
function addGradient(x: usize, below: usize, pitch: usize, kept: usize, gradientX: usize, gradientY: usize, energy: usize): void {
  const wrap = v128.load32_splat(x);
  const relaxation = f32x4.splat(RELAXATION);
  for (let b: usize = 0; b < pitch; b += 16) {
    const value = v128.load(x + b);
    const right = b + 16 < pitch ? v128.load(x + b + 4) : v128.shuffle<f32>(value, wrap, 1, 2, 3, 4);
    const keep = v128.load(kept + b);
    const oldX = v128.load(gradientX + b);
    const oldY = v128.load(gradientY + b);
    const stepX = f32x4.sub(f32x4.sub(right, value), f32x4.mul(keep, oldX));
    const stepY = f32x4.sub(f32x4.sub(v128.load(below + b), value), f32x4.mul(keep, oldY));
    const gx = flushed(f32x4.add(oldX, f32x4.mul(relaxation, stepX)));
    const gy = flushed(f32x4.add(oldY, f32x4.mul(relaxation, stepY)));
    v128.store(gradientX + b, gx);
    v128.store(gradientY + b, gy);
    const sum = f32x4.add(f32x4.mul(gx, gx), f32x4.mul(gy, gy));
    v128.store(energy + b, f32x4.add(v128.load(energy + b), sum));
  }
}

/** Soft threshold on √energy: the share of the gradients that is kept. */
function shareKept(energy: usize, pitch: usize, threshold: f32, kept: usize): void {
  const limit = f32x4.splat(threshold);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const tiny = f32x4.splat(<f32>1e-30);
  for (let b: usize = 0; b < pitch; b += 16) {
    const size = f32x4.sqrt(v128.load(energy + b));
    v128.store(kept + b, f32x4.pmax(zero, f32x4.sub(one, f32x4.div(limit, f32x4.pmax(size, tiny)))));
  }
}

/**
 * ∇ᵀ of v − d of one row, v − d itself of the gradients down in pullY. `above` is that of the row above; 0 where it is
 * not known yet, and its part is left to `down`.
 */
function pullBack(
  kept: usize,
  pitch: usize,
  gradientX: usize,
  gradientY: usize,
  above: usize,
  pullY: usize,
  out: usize,
): void {
  let before = f32x4.mul(pull(kept + pitch - 16), v128.load(gradientX + pitch - 16));
  for (let b: usize = 0; b < pitch; b += 16) {
    const share = pull(kept + b);
    const x = f32x4.mul(share, v128.load(gradientX + b));
    const y = f32x4.mul(share, v128.load(gradientY + b));
    const slope = f32x4.sub(v128.shuffle<f32>(before, x, 3, 4, 5, 6), x);
    before = x;
    v128.store(pullY + b, y);
    v128.store(out + b, above == 0 ? slope : f32x4.sub(f32x4.add(slope, v128.load(above + b)), y));
  }
}

/** Of four gradients as much as v − d is of them, from the share that is kept. */
// @ts-ignore: decorator
@inline function pull(kept: usize): v128 {
  const keep = v128.load(kept);
  return f32x4.sub(f32x4.add(keep, keep), f32x4.splat(1));
}

/** r ← r + ρ·(k⊗x − u), u = argmin ½w(u−y)² + ½μ(u − r)²; leaves u − d in out. `shares` holds w / (w + μ). */
function explainData(
  kx: usize,
  pitch: usize,
  y: usize,
  shares: usize,
  open: usize,
  kept: usize,
  out: usize,
): void {
  const relaxation = f32x4.splat(RELAXATION);
  for (let b: usize = 0; b < pitch; b += 16) {
    const data = v128.load(y + b);
    const free = v128.load(open + b);
    const share = v128.load(shares + b);
    const before = v128.load(kept + b);
    const u = f32x4.sub(before, pulled(before, data, share, free));
    const r = flushed(f32x4.add(before, f32x4.mul(relaxation, f32x4.sub(v128.load(kx + b), u))));
    const d = pulled(r, data, share, free);
    v128.store(kept + b, r);
    v128.store(out + b, f32x4.sub(r, f32x4.add(d, d)));
  }
}

/** d = r − u: nothing where r lies beyond an open bound. */
// @ts-ignore: decorator
@inline function pulled(r: v128, data: v128, share: v128, open: v128): v128 {
  return v128.andnot(f32x4.mul(share, f32x4.sub(r, data)), v128.and(open, f32x4.ge(r, data)));
}

/** ∇ᵀ of (px, py): the transpose of the forward differences, with periodic ends. */
export function divergence(px: usize, py: usize, width: i32, height: i32, out: usize): void {
  const pitch = <usize>(width * 4);
  for (let row = 0; row < height; row++) {
    const here = <usize>row * pitch;
    const above = row > 0 ? here - pitch : <usize>(height - 1) * pitch;
    across(px + here, pitch, out + here);
    down(py + above, py + here, pitch, out + here);
  }
}

/** The part of ∇ᵀ along a row. */
// @ts-ignore: decorator
@inline function across(px: usize, pitch: usize, out: usize): void {
  const wrap = v128.load32_splat(px + pitch - 4);
  for (let b: usize = 0; b < pitch; b += 16) {
    const current = v128.load(px + b);
    const left = b > 0 ? v128.load(px + b - 4) : v128.shuffle<f32>(wrap, current, 0, 4, 5, 6);
    v128.store(out + b, f32x4.sub(left, current));
  }
}

/** Adds the part between a row and the one above. */
// @ts-ignore: decorator
@inline function down(above: usize, here: usize, pitch: usize, out: usize): void {
  for (let b: usize = 0; b < pitch; b += 16) {
    const sum = f32x4.add(v128.load(out + b), v128.load(above + b));
    v128.store(out + b, f32x4.sub(sum, v128.load(here + b)));
  }
}
