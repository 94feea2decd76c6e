// Complex FFTs of 4 to 16 signals at once: sample k of all lanes lies together, so every butterfly runs over
// contiguous memory, four floats at a time. Stockham form, radices 4, 2, 3, 5. The twin is core/src/fourier/lanes.ts.
// A plan in memory: i32 count of stages, then per stage i32 radix, i32 groups, i32 stride, u32 address of its twiddles.

// @ts-ignore: decorator
@inline const PLAN_STAGE: i32 = 16;

/** Transforms; returns 1 where the result lies in the spare buffers, 0 where it lies in re, im. */
export function transformLanes(plan: usize, lanes: i32, re: usize, im: usize, spareRe: usize, spareIm: usize): i32 {
  const stages = load<i32>(plan);
  let swapped = 0;
  for (let s = 0; s < stages; s++) {
    const at = plan + 4 + s * PLAN_STAGE;
    const radix = load<i32>(at);
    const groups = load<i32>(at + 4);
    const run = load<i32>(at + 8) * lanes * 4;
    const twiddles = <usize>load<u32>(at + 12);
    if (radix == 4) radix4(groups, run, twiddles, re, im, spareRe, spareIm);
    else if (radix == 2) radix2(groups, run, twiddles, re, im, spareRe, spareIm);
    else if (radix == 3) radix3(groups, run, twiddles, re, im, spareRe, spareIm);
    else radix5(groups, run, twiddles, re, im, spareRe, spareIm);
    const r = re;
    const i = im;
    re = spareRe;
    im = spareIm;
    spareRe = r;
    spareIm = i;
    swapped ^= 1;
  }
  return swapped;
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
@inline function splat(at: usize, index: i32): v128 {
  return f32x4.splat(load<f32>(at + index * 4));
}

// @ts-ignore: decorator
@inline function turned(outRe: usize, outIm: usize, re: v128, im: v128, c: v128, s: v128): void {
  v128.store(outRe, sub(mul(re, c), mul(im, s)));
  v128.store(outIm, add(mul(re, s), mul(im, c)));
}

function radix2(groups: i32, run: i32, w: usize, re: usize, im: usize, outRe: usize, outIm: usize): void {
  const apart = groups * run;
  for (let p = 0; p < groups; p++, w += 8) {
    const c1 = splat(w, 0);
    const s1 = splat(w, 1);
    for (let t = 0; t < run; t += 16) {
      const i = p * run + t;
      const o = 2 * p * run + t;
      const aRe = v128.load(re + i);
      const aIm = v128.load(im + i);
      const bRe = v128.load(re + i + apart);
      const bIm = v128.load(im + i + apart);
      v128.store(outRe + o, add(aRe, bRe));
      v128.store(outIm + o, add(aIm, bIm));
      turned(outRe + o + run, outIm + o + run, sub(aRe, bRe), sub(aIm, bIm), c1, s1);
    }
  }
}

function radix3(groups: i32, run: i32, w: usize, re: usize, im: usize, outRe: usize, outIm: usize): void {
  const apart = groups * run;
  const half = f32x4.splat(0.5);
  const sin60 = f32x4.splat(<f32>0.8660254037844386);
  for (let p = 0; p < groups; p++, w += 16) {
    const c1 = splat(w, 0);
    const s1 = splat(w, 1);
    const c2 = splat(w, 2);
    const s2 = splat(w, 3);
    for (let t = 0; t < run; t += 16) {
      const i = p * run + t;
      const o = 3 * p * run + t;
      const aRe = v128.load(re + i);
      const aIm = v128.load(im + i);
      const bRe = v128.load(re + i + apart);
      const bIm = v128.load(im + i + apart);
      const cRe = v128.load(re + i + 2 * apart);
      const cIm = v128.load(im + i + 2 * apart);
      const sumRe = add(bRe, cRe);
      const sumIm = add(bIm, cIm);
      const midRe = sub(aRe, mul(half, sumRe));
      const midIm = sub(aIm, mul(half, sumIm));
      const turnRe = mul(sin60, sub(bIm, cIm));
      const turnIm = mul(sin60, sub(cRe, bRe));
      v128.store(outRe + o, add(aRe, sumRe));
      v128.store(outIm + o, add(aIm, sumIm));
      turned(outRe + o + run, outIm + o + run, add(midRe, turnRe), add(midIm, turnIm), c1, s1);
      turned(outRe + o + 2 * run, outIm + o + 2 * run, sub(midRe, turnRe), sub(midIm, turnIm), c2, s2);
    }
  }
}

function radix4(groups: i32, run: i32, w: usize, re: usize, im: usize, outRe: usize, outIm: usize): void {
  const apart = groups * run;
  for (let p = 0; p < groups; p++, w += 24) {
    const c1 = splat(w, 0);
    const s1 = splat(w, 1);
    const c2 = splat(w, 2);
    const s2 = splat(w, 3);
    const c3 = splat(w, 4);
    const s3 = splat(w, 5);
    for (let t = 0; t < run; t += 16) {
      const i = p * run + t;
      const o = 4 * p * run + t;
      const aRe = v128.load(re + i);
      const aIm = v128.load(im + i);
      const bRe = v128.load(re + i + apart);
      const bIm = v128.load(im + i + apart);
      const cRe = v128.load(re + i + 2 * apart);
      const cIm = v128.load(im + i + 2 * apart);
      const dRe = v128.load(re + i + 3 * apart);
      const dIm = v128.load(im + i + 3 * apart);
      const acRe = add(aRe, cRe);
      const acIm = add(aIm, cIm);
      const bdRe = add(bRe, dRe);
      const bdIm = add(bIm, dIm);
      const amcRe = sub(aRe, cRe);
      const amcIm = sub(aIm, cIm);
      const turnRe = sub(bIm, dIm);
      const turnIm = sub(dRe, bRe);
      v128.store(outRe + o, add(acRe, bdRe));
      v128.store(outIm + o, add(acIm, bdIm));
      turned(outRe + o + run, outIm + o + run, add(amcRe, turnRe), add(amcIm, turnIm), c1, s1);
      turned(outRe + o + 2 * run, outIm + o + 2 * run, sub(acRe, bdRe), sub(acIm, bdIm), c2, s2);
      turned(outRe + o + 3 * run, outIm + o + 3 * run, sub(amcRe, turnRe), sub(amcIm, turnIm), c3, s3);
    }
  }
}

function radix5(groups: i32, run: i32, w: usize, re: usize, im: usize, outRe: usize, outIm: usize): void {
  const apart = groups * run;
  const c72 = f32x4.splat(<f32>0.30901699437494745);
  const c144 = f32x4.splat(<f32>-0.8090169943749475);
  const s72 = f32x4.splat(<f32>0.9510565162951535);
  const s144 = f32x4.splat(<f32>0.5877852522924731);
  for (let p = 0; p < groups; p++, w += 32) {
    for (let t = 0; t < run; t += 16) {
      const i = p * run + t;
      const o = 5 * p * run + t;
      const aRe = v128.load(re + i);
      const aIm = v128.load(im + i);
      const bRe = v128.load(re + i + apart);
      const bIm = v128.load(im + i + apart);
      const cRe = v128.load(re + i + 2 * apart);
      const cIm = v128.load(im + i + 2 * apart);
      const dRe = v128.load(re + i + 3 * apart);
      const dIm = v128.load(im + i + 3 * apart);
      const eRe = v128.load(re + i + 4 * apart);
      const eIm = v128.load(im + i + 4 * apart);
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
      v128.store(outRe + o, add(aRe, add(sum14Re, sum23Re)));
      v128.store(outIm + o, add(aIm, add(sum14Im, sum23Im)));
      turned(outRe + o + run, outIm + o + run, add(m1Re, t1Re), add(m1Im, t1Im), splat(w, 0), splat(w, 1));
      turned(outRe + o + 2 * run, outIm + o + 2 * run, add(m2Re, t2Re), add(m2Im, t2Im), splat(w, 2), splat(w, 3));
      turned(outRe + o + 3 * run, outIm + o + 3 * run, sub(m2Re, t2Re), sub(m2Im, t2Im), splat(w, 4), splat(w, 5));
      turned(outRe + o + 4 * run, outIm + o + 4 * run, sub(m1Re, t1Re), sub(m1Im, t1Im), splat(w, 6), splat(w, 7));
    }
  }
}
