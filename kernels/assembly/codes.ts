// Codes of linear light, four samples at a time. The twin is `CodeFinder` in core/src/picture/toneCurve.ts.
import { between, firstOfPairs, pairAt, secondOfPairs } from './planes';

const PLACES: i32 = 4096;

/** Of a channel, every `stride` bytes; up to three samples more are read and written. */
export function codesOf(from: usize, count: i32, borders: usize, guess: usize, to: usize, stride: usize): void {
  const zero = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  const places = f32x4.splat(<f32>PLACES);
  for (let i = 0; i < count; i += 4, from += 16, to += 4 * stride) {
    const light = v128.load(from);
    const at = f32x4.pmin(places, f32x4.mul(f32x4.sqrt(f32x4.pmax(zero, light)), places));
    let codes = i32x4.trunc_sat_f32x4_s(f32x4.add(between(at, guess, PLACES), half));
    while (true) {
      const a = pairAt(borders, i32x4.extract_lane(codes, 0));
      const b = pairAt(borders, i32x4.extract_lane(codes, 1));
      const c = pairAt(borders, i32x4.extract_lane(codes, 2));
      const d = pairAt(borders, i32x4.extract_lane(codes, 3));
      const below = f32x4.le(light, firstOfPairs(a, b, c, d));
      const above = f32x4.gt(light, secondOfPairs(a, b, c, d));
      if (!v128.any_true(v128.or(above, below))) break;
      codes = i32x4.add(i32x4.sub(codes, above), below);
    }
    store<u16>(to, i32x4.extract_lane(codes, 0));
    store<u16>(to + stride, i32x4.extract_lane(codes, 1));
    store<u16>(to + 2 * stride, i32x4.extract_lane(codes, 2));
    store<u16>(to + 3 * stride, i32x4.extract_lane(codes, 3));
  }
}
