// The steps of one iteration of core/src/recover/splitting.ts, its twin; the sums and their order are the same.

/** Squares of smaller numbers would be denormal, and those are many times slower. */
// @ts-ignore: decorator
@inline function flushed(a: v128): v128 {
  return v128.and(a, f32x4.gt(f32x4.abs(a), f32x4.splat(<f32>1e-15)));
}

/** Words a channel takes in the table of `stepInPlace`. */
// @ts-ignore: decorator
@inline const WORDS: i32 = 9;
// @ts-ignore: decorator
@inline const RE: i32 = 0;
// @ts-ignore: decorator
@inline const IM: i32 = 1;
// @ts-ignore: decorator
@inline const DUAL_X: i32 = 2;
// @ts-ignore: decorator
@inline const DUAL_Y: i32 = 3;
// @ts-ignore: decorator
@inline const Y: i32 = 4;
// @ts-ignore: decorator
@inline const WEIGHT: i32 = 5;
// @ts-ignore: decorator
@inline const DUAL_DATA: i32 = 6;
/** All ones where y is a lower bound; its pitch is 0 where one empty row stands for all. */
// @ts-ignore: decorator
@inline const OPEN: i32 = 7;
// @ts-ignore: decorator
@inline const OPEN_PITCH: i32 = 8;

// @ts-ignore: decorator
@inline function word(table: usize, channel: i32, at: i32): usize {
  return load<u32>(table + ((channel * WORDS + at) << 2));
}

/**
 * What an iteration does to the samples, row by row over all channels, so that a row is fetched once: addGradient,
 * shrinkGradients, explainData and divergence of the twin. From x and k⊗x in RE and IM to what is transformed next.
 * `rows` has room for 1 + 5 · channels rows.
 */
export function stepInPlace(
  table: usize,
  channels: i32,
  width: i32,
  height: i32,
  threshold: f32,
  dataPenalty: f32,
  rows: usize,
): void {
  const pitch = <usize>(width * 4);
  const energy = rows;
  for (let c = 0; c < channels; c++) memory.copy(ownRow(rows, pitch, c, FIRST_X), word(table, c, RE), pitch);
  for (let row = 0; row < height; row++) {
    const here = <usize>row * pitch;
    memory.fill(energy, 0, pitch);
    for (let c = 0; c < channels; c++) {
      const x = word(table, c, RE) + here;
      const below = row + 1 < height ? x + pitch : ownRow(rows, pitch, c, FIRST_X);
      addGradient(x, below, pitch, word(table, c, DUAL_X) + here, word(table, c, DUAL_Y) + here, energy);
    }
    shareKept(energy, pitch, threshold);
    for (let c = 0; c < channels; c++) {
      const im = word(table, c, IM) + here;
      const pullX = ownRow(rows, pitch, c, PULL_X);
      const pullY = ownRow(rows, pitch, c, PULL_Y + (row & 1));
      explainData(
        im,
        pitch,
        word(table, c, Y) + here,
        word(table, c, WEIGHT) + here,
        word(table, c, OPEN) + <usize>row * word(table, c, OPEN_PITCH),
        dataPenalty,
        word(table, c, DUAL_DATA) + here,
        word(table, c, RE) + here,
      );
      shrinkGradients(energy, pitch, word(table, c, DUAL_X) + here, word(table, c, DUAL_Y) + here, pullX, pullY);
      across(pullX, pitch, im);
      // The row above the first is the last: the first waits for it.
      if (row === 0) memory.copy(ownRow(rows, pitch, c, FIRST_PULL_Y), pullY, pitch);
      else down(ownRow(rows, pitch, c, PULL_Y + ((row + 1) & 1)), pullY, pitch, im);
    }
  }
  for (let c = 0; c < channels; c++) {
    const last = ownRow(rows, pitch, c, PULL_Y + ((height - 1) & 1));
    down(last, ownRow(rows, pitch, c, FIRST_PULL_Y), pitch, word(table, c, IM));
  }
}

// Rows that each channel keeps.
// @ts-ignore: decorator
@inline const FIRST_X: i32 = 0;
// @ts-ignore: decorator
@inline const FIRST_PULL_Y: i32 = 1;
// @ts-ignore: decorator
@inline const PULL_X: i32 = 2;
/** Of this row and the row above in turn. */
// @ts-ignore: decorator
@inline const PULL_Y: i32 = 3;

// @ts-ignore: decorator
@inline function ownRow(rows: usize, pitch: usize, channel: i32, at: i32): usize {
  return rows + pitch * <usize>(1 + 5 * channel + at);
}

/** d ← ∇x + d of one row; adds |∇x + d|² to energy. */
function addGradient(x: usize, below: usize, pitch: usize, dualX: usize, dualY: usize, energy: usize): void {
  const wrap = v128.load32_splat(x);
  for (let b: usize = 0; b < pitch; b += 16) {
    const value = v128.load(x + b);
    const right = b + 16 < pitch ? v128.load(x + b + 4) : v128.shuffle<f32>(value, wrap, 1, 2, 3, 4);
    const gx = flushed(f32x4.add(f32x4.sub(right, value), v128.load(dualX + b)));
    const gy = flushed(f32x4.add(f32x4.sub(v128.load(below + b), value), v128.load(dualY + b)));
    v128.store(dualX + b, gx);
    v128.store(dualY + b, gy);
    const sum = f32x4.add(f32x4.mul(gx, gx), f32x4.mul(gy, gy));
    v128.store(energy + b, f32x4.add(v128.load(energy + b), sum));
  }
}

/** Soft threshold on √energy: in its place the share of the gradients that is kept. */
function shareKept(energy: usize, pitch: usize, threshold: f32): void {
  const limit = f32x4.splat(threshold);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const tiny = f32x4.splat(<f32>1e-30);
  for (let b: usize = 0; b < pitch; b += 16) {
    const size = f32x4.sqrt(v128.load(energy + b));
    v128.store(energy + b, f32x4.pmax(zero, f32x4.sub(one, f32x4.div(limit, f32x4.pmax(size, tiny)))));
  }
}

/** Takes g = ∇x + d in the duals: v = kept share of g, d ← g − v; leaves v − d in pull. */
function shrinkGradients(kept: usize, pitch: usize, dualX: usize, dualY: usize, pullX: usize, pullY: usize): void {
  for (let b: usize = 0; b < pitch; b += 16) {
    const keep = v128.load(kept + b);
    const gx = v128.load(dualX + b);
    const gy = v128.load(dualY + b);
    const vx = f32x4.mul(gx, keep);
    const vy = f32x4.mul(gy, keep);
    const dx = f32x4.sub(gx, vx);
    const dy = f32x4.sub(gy, vy);
    v128.store(dualX + b, dx);
    v128.store(dualY + b, dy);
    v128.store(pullX + b, f32x4.sub(vx, dx));
    v128.store(pullY + b, f32x4.sub(vy, dy));
  }
}

/** u = argmin ½w(u−y)² + ½μ(u − k⊗x − d)², d ← k⊗x + d − u; leaves u − d in out. */
function explainData(
  kx: usize,
  pitch: usize,
  y: usize,
  w: usize,
  open: usize,
  dataPenalty: f32,
  dual: usize,
  out: usize,
): void {
  const mu = f32x4.splat(dataPenalty);
  for (let b: usize = 0; b < pitch; b += 16) {
    const data = v128.load(y + b);
    const trust = v128.load(w + b);
    const reached = f32x4.add(v128.load(kx + b), v128.load(dual + b));
    const mixed = f32x4.div(f32x4.add(f32x4.mul(trust, data), f32x4.mul(mu, reached)), f32x4.add(trust, mu));
    const free = v128.and(v128.load(open + b), f32x4.ge(reached, data));
    const u = v128.bitselect(reached, mixed, free);
    const left = f32x4.sub(reached, u);
    v128.store(dual + b, flushed(left));
    v128.store(out + b, f32x4.sub(u, left));
  }
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

/** 1 / (μ_d |K|² + μ_g |D|²); `across` and `down` hold 2 − 2cos of each frequency. */
export function normalInverse(
  kRe: usize,
  kIm: usize,
  width: i32,
  height: i32,
  across: usize,
  down: usize,
  dataPenalty: f32,
  gradientPenalty: f32,
  out: usize,
): void {
  const one = f32x4.splat(1);
  const mu = f32x4.splat(dataPenalty);
  const gamma = f32x4.splat(gradientPenalty);
  const tiny = f32x4.splat(<f32>1e-12);
  for (let row = 0; row < height; row++) {
    const vertical = v128.load32_splat(down + row * 4);
    for (let b = 0; b < width * 4; b += 16) {
      const i = <usize>(row * width * 4 + b);
      const re = v128.load(kRe + i);
      const im = v128.load(kIm + i);
      const power = f32x4.mul(mu, f32x4.add(f32x4.mul(re, re), f32x4.mul(im, im)));
      const slope = f32x4.mul(gamma, f32x4.add(v128.load(across + b), vertical));
      v128.store(out + i, f32x4.div(one, f32x4.add(f32x4.add(power, slope), tiny)));
    }
  }
}

/** See solveInFrequency of the twin. Leaves (X + i·K·X) · scale. */
export function solveInFrequency(
  re: usize,
  im: usize,
  kRe: usize,
  kIm: usize,
  step: usize,
  width: i32,
  height: i32,
  dataPenalty: f32,
  gradientPenalty: f32,
  scale: f32,
): void {
  const pitch = width * 4;
  for (let v = 0; v <= height - v; v++) {
    const here = <usize>(v * pitch);
    const mirror = v == 0 ? <usize>0 : <usize>((height - v) * pitch);
    if (here == mirror) {
      for (let u = 0; u <= width - u; u++) {
        pair(re, im, kRe, kIm, step, here, mirror, u, width, dataPenalty, gradientPenalty, scale);
      }
      continue;
    }
    pair(re, im, kRe, kIm, step, here, mirror, 0, width, dataPenalty, gradientPenalty, scale);
    let u = 1;
    for (; u + 4 <= width; u += 4) four(re, im, kRe, kIm, step, here, mirror, u, width, dataPenalty, gradientPenalty, scale);
    for (; u < width; u++) pair(re, im, kRe, kIm, step, here, mirror, u, width, dataPenalty, gradientPenalty, scale);
  }
}

// @ts-ignore: decorator
@inline function pair(
  re: usize,
  im: usize,
  kRe: usize,
  kIm: usize,
  step: usize,
  here: usize,
  mirror: usize,
  u: i32,
  width: i32,
  dataPenalty: f32,
  gradientPenalty: f32,
  scale: f32,
): void {
  const i = here + u * 4;
  const j = mirror + (u == 0 ? 0 : width - u) * 4;
  const half: f32 = 0.5;
  const aRe = half * (load<f32>(re + i) + load<f32>(re + j));
  const aIm = half * (load<f32>(im + i) - load<f32>(im + j));
  const bRe = half * (load<f32>(im + i) + load<f32>(im + j));
  const bIm = half * (load<f32>(re + j) - load<f32>(re + i));
  const hRe = load<f32>(kRe + i);
  const hIm = load<f32>(kIm + i);
  const s = load<f32>(step + i) * scale;
  const xRe = s * (dataPenalty * (hRe * aRe + hIm * aIm) + gradientPenalty * bRe);
  const xIm = s * (dataPenalty * (hRe * aIm - hIm * aRe) + gradientPenalty * bIm);
  const yRe = hRe * xRe - hIm * xIm;
  const yIm = hRe * xIm + hIm * xRe;
  store<f32>(re + i, xRe - yIm);
  store<f32>(im + i, xIm + yRe);
  store<f32>(re + j, xRe + yIm);
  store<f32>(im + j, yRe - xIm);
}

// @ts-ignore: decorator
@inline function reversed(a: v128): v128 {
  return v128.shuffle<f32>(a, a, 3, 2, 1, 0);
}

// @ts-ignore: decorator
@inline function four(
  re: usize,
  im: usize,
  kRe: usize,
  kIm: usize,
  step: usize,
  here: usize,
  mirror: usize,
  u: i32,
  width: i32,
  dataPenalty: f32,
  gradientPenalty: f32,
  scale: f32,
): void {
  const i = here + u * 4;
  const j = mirror + (width - u - 3) * 4;
  const half = f32x4.splat(0.5);
  const mu = f32x4.splat(dataPenalty);
  const gamma = f32x4.splat(gradientPenalty);
  const iRe = v128.load(re + i);
  const iIm = v128.load(im + i);
  const jRe = reversed(v128.load(re + j));
  const jIm = reversed(v128.load(im + j));
  const aRe = f32x4.mul(half, f32x4.add(iRe, jRe));
  const aIm = f32x4.mul(half, f32x4.sub(iIm, jIm));
  const bRe = f32x4.mul(half, f32x4.add(iIm, jIm));
  const bIm = f32x4.mul(half, f32x4.sub(jRe, iRe));
  const hRe = v128.load(kRe + i);
  const hIm = v128.load(kIm + i);
  const s = f32x4.mul(v128.load(step + i), f32x4.splat(scale));
  const dataRe = f32x4.add(f32x4.mul(hRe, aRe), f32x4.mul(hIm, aIm));
  const dataIm = f32x4.sub(f32x4.mul(hRe, aIm), f32x4.mul(hIm, aRe));
  const xRe = f32x4.mul(s, f32x4.add(f32x4.mul(mu, dataRe), f32x4.mul(gamma, bRe)));
  const xIm = f32x4.mul(s, f32x4.add(f32x4.mul(mu, dataIm), f32x4.mul(gamma, bIm)));
  const yRe = f32x4.sub(f32x4.mul(hRe, xRe), f32x4.mul(hIm, xIm));
  const yIm = f32x4.add(f32x4.mul(hRe, xIm), f32x4.mul(hIm, xRe));
  v128.store(re + i, f32x4.sub(xRe, yIm));
  v128.store(im + i, f32x4.add(xIm, yRe));
  v128.store(re + j, reversed(f32x4.add(xRe, yIm)));
  v128.store(im + j, reversed(f32x4.sub(yRe, xIm)));
}
