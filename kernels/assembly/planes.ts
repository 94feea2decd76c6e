// Arithmetic over whole planes, four samples at a time. The twins are in core/src/picture/arithmetic.ts, and the bits
// are the same. `bytes` is four times the samples; up to 12 bytes more are read and written.

/** p = p · light. */
export function lit(p: usize, light: usize, bytes: usize): void {
  for (let i: usize = 0; i < bytes; i += 16) v128.store(p + i, f32x4.mul(v128.load(p + i), v128.load(light + i)));
}

/** a·p + b·q + c·r, the weights at `row`. */
// @ts-ignore: decorator
@inline function mixed(p: v128, q: v128, r: v128, row: usize): v128 {
  const sum = f32x4.add(f32x4.mul(v128.load32_splat(row), p), f32x4.mul(v128.load32_splat(row, 4), q));
  return f32x4.add(sum, f32x4.mul(v128.load32_splat(row, 8), r));
}

/** Puts one mix of the three in place of p; or three, by three weights each, in place of all. */
export function mixes(p: usize, q: usize, r: usize, bytes: usize, weights: usize, count: i32): void {
  for (let i: usize = 0; i < bytes; i += 16) {
    const first = v128.load(p + i);
    const second = v128.load(q + i);
    const third = v128.load(r + i);
    v128.store(p + i, mixed(first, second, third, weights));
    if (count == 1) continue;
    v128.store(q + i, mixed(first, second, third, weights + 12));
    v128.store(r + i, mixed(first, second, third, weights + 24));
  }
}

/** shown += weight · (own + share · (answer − own) − shown). */
export function blendOver(shown: usize, own: usize, answer: usize, weight: usize, bytes: usize, share: f32): void {
  const part = f32x4.splat(share);
  for (let i: usize = 0; i < bytes; i += 16) {
    const below = v128.load(shown + i);
    const base = v128.load(own + i);
    const wanted = f32x4.add(base, f32x4.mul(part, f32x4.sub(v128.load(answer + i), base)));
    v128.store(shown + i, f32x4.add(below, f32x4.mul(v128.load(weight + i), f32x4.sub(wanted, below))));
  }
}

/** sum += linear · t + rooted · t√t, t the tone where it is above 0. */
export function addByTone(tones: usize, bytes: usize, linear: f32, rooted: f32, sum: usize): void {
  const zero = f32x4.splat(0);
  const plain = f32x4.splat(linear);
  const steep = f32x4.splat(rooted);
  for (let i: usize = 0; i < bytes; i += 16) {
    const tone = f32x4.pmax(zero, v128.load(tones + i));
    const factor = f32x4.add(plain, f32x4.mul(steep, f32x4.sqrt(tone)));
    v128.store(sum + i, f32x4.add(v128.load(sum + i), f32x4.mul(tone, factor)));
  }
}

/** values held between least and most · least. */
export function holdAbove(values: usize, least: usize, bytes: usize, most: f32): void {
  const factor = f32x4.splat(most);
  for (let i: usize = 0; i < bytes; i += 16) {
    const low = v128.load(least + i);
    const raised = f32x4.pmax(low, v128.load(values + i));
    v128.store(values + i, f32x4.pmin(f32x4.mul(factor, low), raised));
  }
}

/** p = (p − q)² / (v + share · w). */
export function squaredRatio(p: usize, q: usize, v: usize, w: usize, bytes: usize, share: f32): void {
  const part = f32x4.splat(share);
  for (let i: usize = 0; i < bytes; i += 16) {
    const difference = f32x4.sub(v128.load(p + i), v128.load(q + i));
    const variance = f32x4.add(v128.load(v + i), f32x4.mul(part, v128.load(w + i)));
    v128.store(p + i, f32x4.div(f32x4.mul(difference, difference), variance));
  }
}

/** w = w / (w + penalty). */
export function sharesOfWeights(weights: usize, bytes: usize, penalty: f32): void {
  const added = f32x4.splat(penalty);
  for (let i: usize = 0; i < bytes; i += 16) {
    const weight = v128.load(weights + i);
    v128.store(weights + i, f32x4.div(weight, f32x4.add(weight, added)));
  }
}

/** p = scale · √(slope · p + base), 0 where nothing is left under the root. */
export function rooted(p: usize, bytes: usize, slope: f32, base: f32, scale: f32): void {
  const zero = f32x4.splat(0);
  const a = f32x4.splat(slope);
  const b = f32x4.splat(base);
  const factor = f32x4.splat(scale);
  for (let i: usize = 0; i < bytes; i += 16) {
    const under = f32x4.pmax(zero, f32x4.add(f32x4.mul(a, v128.load(p + i)), b));
    v128.store(p + i, f32x4.mul(factor, f32x4.sqrt(under)));
  }
}

/** Two neighbouring values of a table. */
// @ts-ignore: decorator
@inline export function pairAt(values: usize, place: i32): v128 {
  return v128.load64_zero(values + (<usize>place << 2));
}

// @ts-ignore: decorator
@inline export function firstOfPairs(a: v128, b: v128, c: v128, d: v128): v128 {
  return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 0, 1, 4, 5), v128.shuffle<f32>(c, d, 0, 1, 4, 5), 0, 2, 4, 6);
}

// @ts-ignore: decorator
@inline export function secondOfPairs(a: v128, b: v128, c: v128, d: v128): v128 {
  return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 0, 1, 4, 5), v128.shuffle<f32>(c, d, 0, 1, 4, 5), 1, 3, 5, 7);
}

/** A table's values at four places of 0 to `last`, straight lines between. */
// @ts-ignore: decorator
@inline export function between(at: v128, values: usize, last: i32): v128 {
  const k = i32x4.min_s(i32x4.splat(last - 1), i32x4.trunc_sat_f32x4_s(at));
  const share = f32x4.sub(at, f32x4.convert_i32x4_s(k));
  const a = pairAt(values, i32x4.extract_lane(k, 0));
  const b = pairAt(values, i32x4.extract_lane(k, 1));
  const c = pairAt(values, i32x4.extract_lane(k, 2));
  const d = pairAt(values, i32x4.extract_lane(k, 3));
  const before = f32x4.mul(firstOfPairs(a, b, c, d), f32x4.sub(f32x4.splat(1), share));
  return f32x4.add(before, f32x4.mul(secondOfPairs(a, b, c, d), share));
}

/** p = the curve's value there: `last` steps of the table, straight lines between. */
export function lookedUp(p: usize, bytes: usize, low: f32, perUnit: f32, values: usize, last: i32): void {
  const zero = f32x4.splat(0);
  const first = f32x4.splat(low);
  const factor = f32x4.splat(perUnit);
  const end = f32x4.splat(<f32>last);
  for (let i: usize = 0; i < bytes; i += 16) {
    const at = f32x4.pmin(end, f32x4.pmax(zero, f32x4.mul(f32x4.sub(v128.load(p + i), first), factor)));
    v128.store(p + i, between(at, values, last));
  }
}

const LEAST_LIGHT: f32 = 0.00006103515625;

/** log₂ of p, of 2⁻¹⁴ at least. */
export function logLight(p: usize, bytes: usize): void {
  const least = f32x4.splat(LEAST_LIGHT);
  const one = f32x4.splat(1);
  const mantissa = i32x4.splat(0x7fffff);
  const unit = i32x4.splat(0x3f800000);
  // What lies above √2 counts as the lower half of the next doubling.
  const above = f32x4.splat(<f32>1.4142135);
  for (let i: usize = 0; i < bytes; i += 16) {
    const bits = f32x4.pmax(least, v128.load(p + i));
    let exponent = i32x4.sub(i32x4.shr_u(bits, 23), i32x4.splat(127));
    let m = v128.or(v128.and(bits, mantissa), unit);
    const high = f32x4.gt(m, above);
    exponent = i32x4.sub(exponent, high);
    m = v128.bitselect(f32x4.mul(m, f32x4.splat(0.5)), m, high);
    const s = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
    const q = f32x4.mul(s, s);
    let sum = f32x4.add(f32x4.mul(f32x4.splat(<f32>0.4121985831111324), q), f32x4.splat(<f32>0.5770780163555853));
    sum = f32x4.add(f32x4.mul(sum, q), f32x4.splat(<f32>0.9617966939259756));
    sum = f32x4.add(f32x4.mul(sum, q), f32x4.splat(<f32>2.8853900817779268));
    v128.store(p + i, f32x4.add(f32x4.convert_i32x4_s(exponent), f32x4.mul(sum, s)));
  }
}
