// Codes of linear light, four samples at a time. The twin is `CodeFinder` in core/src/picture/toneCurve.ts.
import { between, firstOfPairs, pairAt, secondOfPairs } from './planes';

const PLACES: i32 = 4096;

/** Of a channel, every `stride` bytes; up to three samples more are read and written. */
export function codesOf(from: usize, count: i32, lights: usize, guess: usize, to: usize, stride: usize): void {
  const zero = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  const places = f32x4.splat(<f32>PLACES);
  for (let i = 0; i < count; i += 4, from += 16, to += 4 * stride) {
    const light = v128.load(from);
    const at = f32x4.pmin(places, f32x4.mul(f32x4.sqrt(f32x4.pmax(zero, light)), places));
    let codes = i32x4.trunc_sat_f32x4_s(f32x4.add(between(at, guess, PLACES), half));
    while (true) {
      const p = pairAt(lights, i32x4.extract_lane(codes, 0));
      const q = pairAt(lights, i32x4.extract_lane(codes, 1));
      const r = pairAt(lights, i32x4.extract_lane(codes, 2));
      const s = pairAt(lights, i32x4.extract_lane(codes, 3));
      const before = firstOfPairs(p, q, r, s);
      const own = secondOfPairs(p, q, r, s);
      const after = secondOfPairs(
        pairAt(lights + 4, i32x4.extract_lane(codes, 0)),
        pairAt(lights + 4, i32x4.extract_lane(codes, 1)),
        pairAt(lights + 4, i32x4.extract_lane(codes, 2)),
        pairAt(lights + 4, i32x4.extract_lane(codes, 3)),
      );
      const nearer = f32x4.lt(f32x4.sub(after, light), f32x4.sub(light, own));
      const above = v128.or(f32x4.le(after, light), nearer);
      const below = v128.and(f32x4.gt(own, light), f32x4.ge(f32x4.sub(own, light), f32x4.sub(light, before)));
      if (!v128.any_true(v128.or(above, below))) break;
      codes = i32x4.add(i32x4.sub(codes, above), below);
    }
    store<u16>(to, i32x4.extract_lane(codes, 0));
    store<u16>(to + stride, i32x4.extract_lane(codes, 1));
    store<u16>(to + 2 * stride, i32x4.extract_lane(codes, 2));
    store<u16>(to + 3 * stride, i32x4.extract_lane(codes, 3));
  }
}
