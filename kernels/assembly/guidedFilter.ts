// Products, slopes and sums of the guided filter, two samples at a time in double precision. The twin is
// core/src/mask/guidedFilter.ts, and the bits are the same. Planes stand `bytes` apart, a multiple of 16.

// @ts-ignore: decorator
@inline function wide(at: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(at));
}

// @ts-ignore: decorator
@inline function keep(at: usize, value: v128): void {
  v128.store64_lane(at, f32x4.demote_f64x2_zero(value), 0);
}

/** out = p · q. */
export function product(p: usize, q: usize, bytes: usize, out: usize): void {
  for (let i: usize = 0; i < bytes; i += 16) v128.store(out + i, f32x4.mul(v128.load(p + i), v128.load(q + i)));
}

/**
 * From 13 planes of means – what is wanted; the guide's three colours; each of them times what is wanted; rr, rg, rb,
 * gg, gb, bb – three planes of slopes and one of offsets, over the second to fourth and the first.
 */
export function guidedSlopes(means: usize, bytes: usize, stiffness: f64): void {
  const stiff = f64x2.splat(stiffness);
  for (let i: usize = 0; i < bytes; i += 8) {
    const at = means + i;
    const own = wide(at);
    const r = wide(at + bytes);
    const g = wide(at + 2 * bytes);
    const b = wide(at + 3 * bytes);
    const rr = f64x2.add(f64x2.sub(wide(at + 7 * bytes), f64x2.mul(r, r)), stiff);
    const rg = f64x2.sub(wide(at + 8 * bytes), f64x2.mul(r, g));
    const rb = f64x2.sub(wide(at + 9 * bytes), f64x2.mul(r, b));
    const gg = f64x2.add(f64x2.sub(wide(at + 10 * bytes), f64x2.mul(g, g)), stiff);
    const gb = f64x2.sub(wide(at + 11 * bytes), f64x2.mul(g, b));
    const bb = f64x2.add(f64x2.sub(wide(at + 12 * bytes), f64x2.mul(b, b)), stiff);
    const cr = f64x2.sub(wide(at + 4 * bytes), f64x2.mul(r, own));
    const cg = f64x2.sub(wide(at + 5 * bytes), f64x2.mul(g, own));
    const cb = f64x2.sub(wide(at + 6 * bytes), f64x2.mul(b, own));
    const a11 = f64x2.sub(f64x2.mul(gg, bb), f64x2.mul(gb, gb));
    const a12 = f64x2.sub(f64x2.mul(rb, gb), f64x2.mul(rg, bb));
    const a13 = f64x2.sub(f64x2.mul(rg, gb), f64x2.mul(rb, gg));
    const determinant = sum3(rr, a11, rg, a12, rb, a13);
    const a22 = f64x2.sub(f64x2.mul(rr, bb), f64x2.mul(rb, rb));
    const a23 = f64x2.sub(f64x2.mul(rb, rg), f64x2.mul(rr, gb));
    const a33 = f64x2.sub(f64x2.mul(rr, gg), f64x2.mul(rg, rg));
    const sr = f64x2.div(sum3(a11, cr, a12, cg, a13, cb), determinant);
    const sg = f64x2.div(sum3(a12, cr, a22, cg, a23, cb), determinant);
    const sb = f64x2.div(sum3(a13, cr, a23, cg, a33, cb), determinant);
    const rest = f64x2.sub(f64x2.sub(own, f64x2.mul(sr, r)), f64x2.mul(sg, g));
    keep(at, f64x2.sub(rest, f64x2.mul(sb, b)));
    keep(at + bytes, sr);
    keep(at + 2 * bytes, sg);
    keep(at + 3 * bytes, sb);
  }
}

// @ts-ignore: decorator
@inline function sum3(p: v128, q: v128, r: v128, s: v128, t: v128, u: v128): v128 {
  return f64x2.add(f64x2.add(f64x2.mul(p, q), f64x2.mul(r, s)), f64x2.mul(t, u));
}

/** out = offset + the three slopes, one plane after the other from `planes` on, times the three colours of `guide`. */
export function guidedSum(planes: usize, guide: usize, bytes: usize, out: usize): void {
  for (let i: usize = 0; i < bytes; i += 8) {
    let value = wide(planes + i);
    for (let c: usize = 0; c < 3; c++) {
      value = f64x2.add(value, f64x2.mul(wide(planes + (c + 1) * bytes + i), wide(guide + c * bytes + i)));
    }
    keep(out + i, value);
  }
}
