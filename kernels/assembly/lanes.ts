// FFTs in place of signals that lie side by side: an element is one or several complex numbers of four lanes each, re
// and im in turn (32 bytes a number). Forward by decimation in frequency, back by decimation in time, so that no digits
// are reversed in between: element p of a transform holds frequency `order[p]`. Radices 4, 2, 3, 5.
// Source: Van Loan, Computational Frameworks for the Fast Fourier Transform (1992), 1.9 and 2.4. A plan in memory: i32
// length, i32 count of stages, u32 address of the i32 table `places` (where a frequency lies), then per stage i32
// radix, i32 groups, u32 address of its twiddles (cos and sin of −2π·p·j/n for p in groups, j in 1..radix−1).

// @ts-ignore: decorator
@inline const HEAD: i32 = 12;
// @ts-ignore: decorator
@inline const STAGE: i32 = 12;

/** Address of the table that tells at which element a frequency lies. */
// @ts-ignore: decorator
@inline export function placesOf(plan: usize): usize {
  return load<u32>(plan + 8);
}

/** Forward, e^−i, unscaled. `step` is the size of an element in bytes, a multiple of 32. */
export function forwardLanes(plan: usize, at: usize, step: usize): void {
  const length = load<i32>(plan);
  const stages = load<i32>(plan + 4);
  for (let s = 0; s < stages; s++) {
    const stage = plan + HEAD + s * STAGE;
    const radix = load<i32>(stage);
    const groups = load<i32>(stage + 4);
    const twiddles = <usize>load<u32>(stage + 8);
    const blocks = length / (radix * groups);
    if (radix == 4) forward4(at, step, groups, blocks, twiddles);
    else if (radix == 2) forward2(at, step, groups, blocks, twiddles);
    else if (radix == 3) forward3(at, step, groups, blocks, twiddles);
    else forward5(at, step, groups, blocks, twiddles);
  }
}

/** Back, e^+i, unscaled: takes what `forwardLanes` leaves. */
export function backwardLanes(plan: usize, at: usize, step: usize): void {
  const length = load<i32>(plan);
  for (let s = load<i32>(plan + 4) - 1; s >= 0; s--) {
    const stage = plan + HEAD + s * STAGE;
    const radix = load<i32>(stage);
    const groups = load<i32>(stage + 4);
    const twiddles = <usize>load<u32>(stage + 8);
    const blocks = length / (radix * groups);
    if (radix == 4) backward4(at, step, groups, blocks, twiddles);
    else if (radix == 2) backward2(at, step, groups, blocks, twiddles);
    else if (radix == 3) backward3(at, step, groups, blocks, twiddles);
    else backward5(at, step, groups, blocks, twiddles);
  }
}

// @ts-ignore: decorator
@inline function add(a: v128, b: v128): v128 {
  return f32x4.add(a, b);
}

// @ts-ignore: decorator
@inline function sub(a: v128, b: v128): v128 {
  return f32x4.sub(a, b);
}

// @ts-ignore: decorator
@inline function mul(a: v128, b: v128): v128 {
  return f32x4.mul(a, b);
}

// @ts-ignore: decorator
@inline function twiddle(at: usize, index: i32): v128 {
  return v128.load32_splat(at + (<usize>index << 2));
}

// @ts-ignore: decorator
@inline function put(at: usize, re: v128, im: v128): void {
  v128.store(at, re);
  v128.store(at, im, 16);
}

/** Leaves (re + i·im)·(c + i·s). */
// @ts-ignore: decorator
@inline function putTurned(at: usize, re: v128, im: v128, c: v128, s: v128): void {
  v128.store(at, sub(mul(re, c), mul(im, s)));
  v128.store(at, add(mul(re, s), mul(im, c)), 16);
}

/** Turned back: the parts of (re + i·im)·(c − i·s). */
// @ts-ignore: decorator
@inline function backRe(at: usize, c: v128, s: v128): v128 {
  return add(mul(v128.load(at), c), mul(v128.load(at, 16), s));
}

// @ts-ignore: decorator
@inline function backIm(at: usize, c: v128, s: v128): v128 {
  return sub(mul(v128.load(at, 16), c), mul(v128.load(at), s));
}

function forward2(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  for (let p = 0; p < groups; p++, at += step, w += 8) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    for (let b = 0, block = at; b < blocks; b++, block += 2 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = v128.load(q + span);
        const bIm = v128.load(q + span, 16);
        put(q, add(aRe, bRe), add(aIm, bIm));
        putTurned(q + span, sub(aRe, bRe), sub(aIm, bIm), c1, s1);
      }
    }
  }
}

function backward2(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  for (let p = 0; p < groups; p++, at += step, w += 8) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    for (let b = 0, block = at; b < blocks; b++, block += 2 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = backRe(q + span, c1, s1);
        const bIm = backIm(q + span, c1, s1);
        put(q, add(aRe, bRe), add(aIm, bIm));
        put(q + span, sub(aRe, bRe), sub(aIm, bIm));
      }
    }
  }
}

const SIN_60: f32 = 0.8660254037844386;

function forward3(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  const half = f32x4.splat(0.5);
  const sin60 = f32x4.splat(SIN_60);
  for (let p = 0; p < groups; p++, at += step, w += 16) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    const c2 = twiddle(w, 2);
    const s2 = twiddle(w, 3);
    for (let b = 0, block = at; b < blocks; b++, block += 3 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = v128.load(q + span);
        const bIm = v128.load(q + span, 16);
        const cRe = v128.load(q + 2 * span);
        const cIm = v128.load(q + 2 * span, 16);
        const sumRe = add(bRe, cRe);
        const sumIm = add(bIm, cIm);
        const midRe = sub(aRe, mul(half, sumRe));
        const midIm = sub(aIm, mul(half, sumIm));
        const turnRe = mul(sin60, sub(bIm, cIm));
        const turnIm = mul(sin60, sub(cRe, bRe));
        put(q, add(aRe, sumRe), add(aIm, sumIm));
        putTurned(q + span, add(midRe, turnRe), add(midIm, turnIm), c1, s1);
        putTurned(q + 2 * span, sub(midRe, turnRe), sub(midIm, turnIm), c2, s2);
      }
    }
  }
}

function backward3(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  const half = f32x4.splat(0.5);
  const sin60 = f32x4.splat(SIN_60);
  for (let p = 0; p < groups; p++, at += step, w += 16) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    const c2 = twiddle(w, 2);
    const s2 = twiddle(w, 3);
    for (let b = 0, block = at; b < blocks; b++, block += 3 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = backRe(q + span, c1, s1);
        const bIm = backIm(q + span, c1, s1);
        const cRe = backRe(q + 2 * span, c2, s2);
        const cIm = backIm(q + 2 * span, c2, s2);
        const sumRe = add(bRe, cRe);
        const sumIm = add(bIm, cIm);
        const midRe = sub(aRe, mul(half, sumRe));
        const midIm = sub(aIm, mul(half, sumIm));
        const turnRe = mul(sin60, sub(bIm, cIm));
        const turnIm = mul(sin60, sub(cRe, bRe));
        put(q, add(aRe, sumRe), add(aIm, sumIm));
        put(q + span, sub(midRe, turnRe), sub(midIm, turnIm));
        put(q + 2 * span, add(midRe, turnRe), add(midIm, turnIm));
      }
    }
  }
}

function forward4(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  for (let p = 0; p < groups; p++, at += step, w += 24) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    const c2 = twiddle(w, 2);
    const s2 = twiddle(w, 3);
    const c3 = twiddle(w, 4);
    const s3 = twiddle(w, 5);
    for (let b = 0, block = at; b < blocks; b++, block += 4 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = v128.load(q + span);
        const bIm = v128.load(q + span, 16);
        const cRe = v128.load(q + 2 * span);
        const cIm = v128.load(q + 2 * span, 16);
        const dRe = v128.load(q + 3 * span);
        const dIm = v128.load(q + 3 * span, 16);
        const acRe = add(aRe, cRe);
        const acIm = add(aIm, cIm);
        const bdRe = add(bRe, dRe);
        const bdIm = add(bIm, dIm);
        const amcRe = sub(aRe, cRe);
        const amcIm = sub(aIm, cIm);
        const turnRe = sub(bIm, dIm);
        const turnIm = sub(dRe, bRe);
        put(q, add(acRe, bdRe), add(acIm, bdIm));
        if (p == 0) {
          put(q + span, add(amcRe, turnRe), add(amcIm, turnIm));
          put(q + 2 * span, sub(acRe, bdRe), sub(acIm, bdIm));
          put(q + 3 * span, sub(amcRe, turnRe), sub(amcIm, turnIm));
          continue;
        }
        putTurned(q + span, add(amcRe, turnRe), add(amcIm, turnIm), c1, s1);
        putTurned(q + 2 * span, sub(acRe, bdRe), sub(acIm, bdIm), c2, s2);
        putTurned(q + 3 * span, sub(amcRe, turnRe), sub(amcIm, turnIm), c3, s3);
      }
    }
  }
}

function backward4(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  for (let p = 0; p < groups; p++, at += step, w += 24) {
    const c1 = twiddle(w, 0);
    const s1 = twiddle(w, 1);
    const c2 = twiddle(w, 2);
    const s2 = twiddle(w, 3);
    const c3 = twiddle(w, 4);
    const s3 = twiddle(w, 5);
    for (let b = 0, block = at; b < blocks; b++, block += 4 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = backRe(q + span, c1, s1);
        const bIm = backIm(q + span, c1, s1);
        const cRe = backRe(q + 2 * span, c2, s2);
        const cIm = backIm(q + 2 * span, c2, s2);
        const dRe = backRe(q + 3 * span, c3, s3);
        const dIm = backIm(q + 3 * span, c3, s3);
        const acRe = add(aRe, cRe);
        const acIm = add(aIm, cIm);
        const bdRe = add(bRe, dRe);
        const bdIm = add(bIm, dIm);
        const amcRe = sub(aRe, cRe);
        const amcIm = sub(aIm, cIm);
        const turnRe = sub(dIm, bIm);
        const turnIm = sub(bRe, dRe);
        put(q, add(acRe, bdRe), add(acIm, bdIm));
        put(q + span, add(amcRe, turnRe), add(amcIm, turnIm));
        put(q + 2 * span, sub(acRe, bdRe), sub(acIm, bdIm));
        put(q + 3 * span, sub(amcRe, turnRe), sub(amcIm, turnIm));
      }
    }
  }
}

const COS_72: f32 = 0.30901699437494745;
const COS_144: f32 = -0.8090169943749475;
const SIN_72: f32 = 0.9510565162951535;
const SIN_144: f32 = 0.5877852522924731;

function forward5(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  const c72 = f32x4.splat(COS_72);
  const c144 = f32x4.splat(COS_144);
  const s72 = f32x4.splat(SIN_72);
  const s144 = f32x4.splat(SIN_144);
  for (let p = 0; p < groups; p++, at += step, w += 32) {
    for (let b = 0, block = at; b < blocks; b++, block += 5 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = v128.load(q + span);
        const bIm = v128.load(q + span, 16);
        const cRe = v128.load(q + 2 * span);
        const cIm = v128.load(q + 2 * span, 16);
        const dRe = v128.load(q + 3 * span);
        const dIm = v128.load(q + 3 * span, 16);
        const eRe = v128.load(q + 4 * span);
        const eIm = v128.load(q + 4 * span, 16);
        const sum14Re = add(bRe, eRe);
        const sum14Im = add(bIm, eIm);
        const dif14Re = sub(bRe, eRe);
        const dif14Im = sub(bIm, eIm);
        const sum23Re = add(cRe, dRe);
        const sum23Im = add(cIm, dIm);
        const dif23Re = sub(cRe, dRe);
        const dif23Im = sub(cIm, dIm);
        const m1Re = add(aRe, add(mul(c72, sum14Re), mul(c144, sum23Re)));
        const m1Im = add(aIm, add(mul(c72, sum14Im), mul(c144, sum23Im)));
        const m2Re = add(aRe, add(mul(c144, sum14Re), mul(c72, sum23Re)));
        const m2Im = add(aIm, add(mul(c144, sum14Im), mul(c72, sum23Im)));
        const t1Re = add(mul(s72, dif14Im), mul(s144, dif23Im));
        const t1Im = f32x4.neg(add(mul(s72, dif14Re), mul(s144, dif23Re)));
        const t2Re = sub(mul(s144, dif14Im), mul(s72, dif23Im));
        const t2Im = sub(mul(s72, dif23Re), mul(s144, dif14Re));
        put(q, add(aRe, add(sum14Re, sum23Re)), add(aIm, add(sum14Im, sum23Im)));
        putTurned(q + span, add(m1Re, t1Re), add(m1Im, t1Im), twiddle(w, 0), twiddle(w, 1));
        putTurned(q + 2 * span, add(m2Re, t2Re), add(m2Im, t2Im), twiddle(w, 2), twiddle(w, 3));
        putTurned(q + 3 * span, sub(m2Re, t2Re), sub(m2Im, t2Im), twiddle(w, 4), twiddle(w, 5));
        putTurned(q + 4 * span, sub(m1Re, t1Re), sub(m1Im, t1Im), twiddle(w, 6), twiddle(w, 7));
      }
    }
  }
}

function backward5(at: usize, step: usize, groups: i32, blocks: i32, w: usize): void {
  const span = <usize>groups * step;
  const c72 = f32x4.splat(COS_72);
  const c144 = f32x4.splat(COS_144);
  const s72 = f32x4.splat(SIN_72);
  const s144 = f32x4.splat(SIN_144);
  for (let p = 0; p < groups; p++, at += step, w += 32) {
    for (let b = 0, block = at; b < blocks; b++, block += 5 * span) {
      for (let q = block; q < block + step; q += 32) {
        const aRe = v128.load(q);
        const aIm = v128.load(q, 16);
        const bRe = backRe(q + span, twiddle(w, 0), twiddle(w, 1));
        const bIm = backIm(q + span, twiddle(w, 0), twiddle(w, 1));
        const cRe = backRe(q + 2 * span, twiddle(w, 2), twiddle(w, 3));
        const cIm = backIm(q + 2 * span, twiddle(w, 2), twiddle(w, 3));
        const dRe = backRe(q + 3 * span, twiddle(w, 4), twiddle(w, 5));
        const dIm = backIm(q + 3 * span, twiddle(w, 4), twiddle(w, 5));
        const eRe = backRe(q + 4 * span, twiddle(w, 6), twiddle(w, 7));
        const eIm = backIm(q + 4 * span, twiddle(w, 6), twiddle(w, 7));
        const sum14Re = add(bRe, eRe);
        const sum14Im = add(bIm, eIm);
        const dif14Re = sub(bRe, eRe);
        const dif14Im = sub(bIm, eIm);
        const sum23Re = add(cRe, dRe);
        const sum23Im = add(cIm, dIm);
        const dif23Re = sub(cRe, dRe);
        const dif23Im = sub(cIm, dIm);
        const m1Re = add(aRe, add(mul(c72, sum14Re), mul(c144, sum23Re)));
        const m1Im = add(aIm, add(mul(c72, sum14Im), mul(c144, sum23Im)));
        const m2Re = add(aRe, add(mul(c144, sum14Re), mul(c72, sum23Re)));
        const m2Im = add(aIm, add(mul(c144, sum14Im), mul(c72, sum23Im)));
        const t1Re = add(mul(s72, dif14Im), mul(s144, dif23Im));
        const t1Im = f32x4.neg(add(mul(s72, dif14Re), mul(s144, dif23Re)));
        const t2Re = sub(mul(s144, dif14Im), mul(s72, dif23Im));
        const t2Im = sub(mul(s72, dif23Re), mul(s144, dif14Re));
        put(q, add(aRe, add(sum14Re, sum23Re)), add(aIm, add(sum14Im, sum23Im)));
        put(q + span, sub(m1Re, t1Re), sub(m1Im, t1Im));
        put(q + 2 * span, sub(m2Re, t2Re), sub(m2Im, t2Im));
        put(q + 3 * span, add(m2Re, t2Re), add(m2Im, t2Im));
        put(q + 4 * span, add(m1Re, t1Re), add(m1Im, t1Im));
      }
    }
  }
}
