// The sums of core/src/spectrum/spectralSums.ts, its twin, in single precision, four frequencies at once; the cost in
// double. e^x and ln x: the polynomials of Moshier's Cephes library (single precision; from memory), right to a few
// parts in ten million.

const HUBER: f32 = 0.8;
/** Columns of the table behind the five of the basis. */
const BASE: i32 = 5;
const POWER: i32 = 6;
const SUMS: i32 = 35;

// @ts-ignore: decorator
@inline function all(value: f32): v128 {
  return f32x4.splat(value);
}

// @ts-ignore: decorator
@inline function timesPlus(a: v128, b: v128, c: v128): v128 {
  return f32x4.add(f32x4.mul(a, b), c);
}

/** e^x; x from −87 to 88, beyond as there. */
// @ts-ignore: decorator
@inline function exp4(given: v128): v128 {
  const x = f32x4.pmin(all(88), f32x4.pmax(all(-87), given));
  const n = f32x4.nearest(f32x4.mul(x, all(1.44269504)));
  const r = timesPlus(n, all(2.1219444e-4), timesPlus(n, all(-0.693359375), x));
  let y = timesPlus(r, all(1.98756915e-4), all(1.39819995e-3));
  y = timesPlus(y, r, all(8.33345191e-3));
  y = timesPlus(y, r, all(4.16657959e-2));
  y = timesPlus(y, r, all(1.66666655e-1));
  y = timesPlus(y, r, all(0.50000001));
  y = timesPlus(y, f32x4.mul(r, r), f32x4.add(r, all(1)));
  return f32x4.mul(y, i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(n), i32x4.splat(127)), 23));
}

/** ln x of normal numbers above 0. */
// @ts-ignore: decorator
@inline function log4(x: v128): v128 {
  const mantissa = v128.or(v128.and(x, i32x4.splat(0x7fffff)), i32x4.splat(0x3f000000));
  const isSmall = f32x4.lt(mantissa, all(0.70710678));
  const whole = i32x4.add(i32x4.sub(i32x4.shr_u(x, 23), i32x4.splat(126)), isSmall);
  const e = f32x4.convert_i32x4_s(whole);
  const m = f32x4.sub(f32x4.add(mantissa, v128.and(mantissa, isSmall)), all(1));
  const z = f32x4.mul(m, m);
  let y = timesPlus(m, all(7.03768363e-2), all(-1.15146103e-1));
  y = timesPlus(y, m, all(1.16769987e-1));
  y = timesPlus(y, m, all(-1.24201409e-1));
  y = timesPlus(y, m, all(1.42493228e-1));
  y = timesPlus(y, m, all(-1.66680577e-1));
  y = timesPlus(y, m, all(2.00007148e-1));
  y = timesPlus(y, m, all(-2.49999940e-1));
  y = timesPlus(y, m, all(3.33333312e-1));
  y = f32x4.mul(f32x4.mul(y, m), z);
  y = timesPlus(e, all(-2.1219444e-4), y);
  y = timesPlus(z, all(-0.5), y);
  return timesPlus(e, all(0.693359375), f32x4.add(m, y));
}

// @ts-ignore: decorator
@inline function put(to: usize, k: i32, v: v128): void {
  store<f32>(
    to + 4 * k,
    f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3)),
  );
}

/**
 * `table`: the basis without its first column, what the sharpest camera leaves and ln of the power, `stride` bytes
 * each, a multiple of 16; `parameters`: seven, the last ln of the floor. Writes SUMS sums: the upper triangle of the
 * basis row by row, the basis with the floor, the floor with itself, then the right side. Returns the sum of the
 * losses.
 */
export function spectralSums(
  table: usize,
  stride: i32,
  count: i32,
  logGain: usize,
  parameters: usize,
  sums: usize,
): f64 {
  const p0 = v128.load32_splat(parameters);
  const pA = v128.load32_splat(parameters, 4);
  const pB = v128.load32_splat(parameters, 8);
  const pC = v128.load32_splat(parameters, 12);
  const pD = v128.load32_splat(parameters, 16);
  const pE = v128.load32_splat(parameters, 20);
  const floor = exp4(v128.load32_splat(parameters, 24));
  const one = all(1);
  const huber = all(HUBER);
  let cost = f64x2.splat(0);
  let n00 = all(0), n0A = all(0), n0B = all(0), n0C = all(0), n0D = all(0), n0E = all(0);
  let nAA = all(0), nAB = all(0), nAC = all(0), nAD = all(0), nAE = all(0);
  let nBB = all(0), nBC = all(0), nBD = all(0), nBE = all(0);
  let nCC = all(0), nCD = all(0), nCE = all(0), nDD = all(0), nDE = all(0), nEE = all(0);
  let f0 = all(0), fA = all(0), fB = all(0), fC = all(0), fD = all(0), fE = all(0), ff = all(0);
  let r0 = all(0), rA = all(0), rB = all(0), rC = all(0), rD = all(0), rE = all(0), rf = all(0);
  for (let i = 0; i < count; i += 4) {
    const at = table + 4 * i;
    const a = v128.load(at);
    const b = v128.load(at + stride);
    const c = v128.load(at + 2 * stride);
    const d = v128.load(at + 3 * stride);
    const e = v128.load(at + 4 * stride);
    let exponent = f32x4.add(v128.load(at + BASE * stride), v128.load(logGain + 4 * i));
    exponent = f32x4.add(exponent, timesPlus(pA, a, p0));
    exponent = f32x4.add(exponent, timesPlus(pC, c, f32x4.mul(pB, b)));
    exponent = f32x4.add(exponent, timesPlus(pE, e, f32x4.mul(pD, d)));
    const signal = exp4(exponent);
    const total = f32x4.add(signal, floor);
    const residual = f32x4.sub(v128.load(at + POWER * stride), log4(total));
    const size = f32x4.abs(residual);
    const isNear = f32x4.le(size, huber);
    // Those behind the last count for nothing.
    const counts = i32x4.lt_s(i32x4.add(i32x4.splat(i), i32x4(0, 1, 2, 3)), i32x4.splat(count));
    const near = f32x4.mul(f32x4.mul(all(0.5), residual), residual);
    const far = f32x4.mul(huber, f32x4.sub(size, all(0.5 * HUBER)));
    const loss = v128.and(counts, v128.bitselect(near, far, isNear));
    cost = f64x2.add(cost, f64x2.promote_low_f32x4(loss));
    cost = f64x2.add(cost, f64x2.promote_low_f32x4(v128.shuffle<f32>(loss, loss, 2, 3, 2, 3)));
    const weight = v128.and(counts, v128.bitselect(one, f32x4.div(huber, size), isNear));
    const share = f32x4.div(signal, total);
    const rest = f32x4.div(floor, total);
    const weighed = f32x4.mul(weight, share);
    const own = f32x4.mul(weighed, share);
    const mixed = f32x4.mul(weighed, rest);
    const pull = f32x4.mul(weighed, residual);
    const weighedRest = f32x4.mul(weight, rest);
    const ownA = f32x4.mul(own, a);
    const ownB = f32x4.mul(own, b);
    const ownC = f32x4.mul(own, c);
    const ownD = f32x4.mul(own, d);
    const ownE = f32x4.mul(own, e);
    n00 = f32x4.add(n00, own);
    n0A = f32x4.add(n0A, ownA);
    n0B = f32x4.add(n0B, ownB);
    n0C = f32x4.add(n0C, ownC);
    n0D = f32x4.add(n0D, ownD);
    n0E = f32x4.add(n0E, ownE);
    nAA = timesPlus(ownA, a, nAA);
    nAB = timesPlus(ownA, b, nAB);
    nAC = timesPlus(ownA, c, nAC);
    nAD = timesPlus(ownA, d, nAD);
    nAE = timesPlus(ownA, e, nAE);
    nBB = timesPlus(ownB, b, nBB);
    nBC = timesPlus(ownB, c, nBC);
    nBD = timesPlus(ownB, d, nBD);
    nBE = timesPlus(ownB, e, nBE);
    nCC = timesPlus(ownC, c, nCC);
    nCD = timesPlus(ownC, d, nCD);
    nCE = timesPlus(ownC, e, nCE);
    nDD = timesPlus(ownD, d, nDD);
    nDE = timesPlus(ownD, e, nDE);
    nEE = timesPlus(ownE, e, nEE);
    f0 = f32x4.add(f0, mixed);
    fA = timesPlus(mixed, a, fA);
    fB = timesPlus(mixed, b, fB);
    fC = timesPlus(mixed, c, fC);
    fD = timesPlus(mixed, d, fD);
    fE = timesPlus(mixed, e, fE);
    ff = timesPlus(weighedRest, rest, ff);
    r0 = f32x4.add(r0, pull);
    rA = timesPlus(pull, a, rA);
    rB = timesPlus(pull, b, rB);
    rC = timesPlus(pull, c, rC);
    rD = timesPlus(pull, d, rD);
    rE = timesPlus(pull, e, rE);
    rf = timesPlus(weighedRest, residual, rf);
  }
  put(sums, 0, n00); put(sums, 1, n0A); put(sums, 2, n0B); put(sums, 3, n0C); put(sums, 4, n0D); put(sums, 5, n0E);
  put(sums, 6, f0);
  put(sums, 7, nAA); put(sums, 8, nAB); put(sums, 9, nAC); put(sums, 10, nAD); put(sums, 11, nAE); put(sums, 12, fA);
  put(sums, 13, nBB); put(sums, 14, nBC); put(sums, 15, nBD); put(sums, 16, nBE); put(sums, 17, fB);
  put(sums, 18, nCC); put(sums, 19, nCD); put(sums, 20, nCE); put(sums, 21, fC);
  put(sums, 22, nDD); put(sums, 23, nDE); put(sums, 24, fD);
  put(sums, 25, nEE); put(sums, 26, fE);
  put(sums, 27, ff);
  put(sums, 28, r0); put(sums, 29, rA); put(sums, 30, rB); put(sums, 31, rC); put(sums, 32, rD); put(sums, 33, rE);
  put(sums, SUMS - 1, rf);
  return f64x2.extract_lane(cost, 0) + f64x2.extract_lane(cost, 1);
}
