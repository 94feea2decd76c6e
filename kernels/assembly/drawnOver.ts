// A plane drawn with more or fewer samples. The twin is core/src/picture/drawnOver.ts, and the bits are the same.

/**
 * `across` and `down` hold, one after the other, the first and the second sample beside every place and the share of
 * the second; `row` has room for a row of the plane and 12 bytes. Rows are read up to 12 bytes beyond the plane.
 */
export function drawnOver(from: usize, width: i32, across: usize, columns: i32, down: usize, rows: i32, row: usize, out: usize): void {
  const pitch = <usize>width * 4;
  const line = <usize>columns * 4;
  const lines = <usize>rows * 4;
  for (let y: usize = 0; y < lines; y += 4) {
    const above = from + <usize>load<i32>(down + y) * pitch;
    const below = from + <usize>load<i32>(down + lines + y) * pitch;
    const v = v128.load32_splat(down + 2 * lines + y);
    for (let b: usize = 0; b < pitch; b += 16) {
      const upper = v128.load(above + b);
      v128.store(row + b, f32x4.add(upper, f32x4.mul(v, f32x4.sub(v128.load(below + b), upper))));
    }
    for (let x: usize = 0; x < line; x += 4, out += 4) {
      const left = load<f32>(row + <usize>load<i32>(across + x) * 4);
      const right = load<f32>(row + <usize>load<i32>(across + line + x) * 4);
      store<f32>(out, left + load<f32>(across + 2 * line + x) * (right - left));
    }
  }
}
