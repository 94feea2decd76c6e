// Rows of codes made shorter, in linear light. The twin is `plainSumsAcross` in core/src/picture/shrunk.ts, and the
// bits are the same.

// @ts-ignore: decorator
@inline function lightAt(code: usize, table: usize): f64 {
  return <f64>load<f32>(table + (<usize>load<u16>(code) << 2));
}

/** Of one channel, whose codes lie `stride` bytes apart. */
export function sumsAcross(
  codes: usize, rows: i32, rowBytes: usize, stride: usize, table: usize,
  starts: usize, ends: usize, before: usize, after: usize, ratio: f64, count: i32, to: usize,
): void {
  for (let row = 0; row < rows; row++, codes += rowBytes) {
    for (let o = 0; o < count; o++, to += 4) {
      const place = <usize>o << 2;
      const last = codes + <usize>load<i32>(ends + place) * stride;
      let at = codes + <usize>load<i32>(starts + place) * stride;
      const part = <f64>load<f32>(before + place);
      const rest = <f64>load<f32>(after + place);
      const first: f64 = part > 0 ? part * lightAt(at - stride, table) : 0;
      let sum: f64 = 0;
      for (; at < last; at += stride) sum += lightAt(at, table);
      sum *= ratio;
      if (part > 0) sum += first;
      if (rest > 0) sum += rest * lightAt(last, table);
      store<f32>(to, <f32>sum);
    }
  }
}
