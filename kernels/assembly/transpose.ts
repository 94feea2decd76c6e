/** Four rows of four floats become four columns. */
// @ts-ignore: decorator
@inline export function transposed4(from: usize, fromStride: usize, to: usize, toStride: usize): void {
  putTransposed4(
    v128.load(from),
    v128.load(from + fromStride),
    v128.load(from + 2 * fromStride),
    v128.load(from + 3 * fromStride),
    to,
    toStride,
  );
}

/** The same from four vectors at hand. */
// @ts-ignore: decorator
@inline export function putTransposed4(a: v128, b: v128, c: v128, d: v128, to: usize, toStride: usize): void {
  const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab0, cd0, 0, 1, 4, 5));
  v128.store(to + toStride, v128.shuffle<f32>(ab0, cd0, 2, 3, 6, 7));
  v128.store(to + 2 * toStride, v128.shuffle<f32>(ab1, cd1, 0, 1, 4, 5));
  v128.store(to + 3 * toStride, v128.shuffle<f32>(ab1, cd1, 2, 3, 6, 7));
}
