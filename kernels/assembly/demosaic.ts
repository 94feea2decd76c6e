// A mosaic's colours filled in. The twin is core/src/raw/demosaic.ts, and the bits are the same. Sample by sample: what
// is done at one hangs on its colour.

const LEAST: f32 = 1e-12;
const THIRD: f32 = 1.0 / 3.0;

// @ts-ignore: decorator
@inline function at(plane: usize, i: i32): f32 {
  return load<f32>(plane + (<usize>i << 2));
}

// @ts-ignore: decorator
@inline function put(plane: usize, i: i32, value: f32): void {
  store<f32>(plane + (<usize>i << 2), value);
}

/** 0 red, 1 green, 2 blue; two bits for each of the pattern's four places. */
// @ts-ignore: decorator
@inline function colour(pattern: i32, x: i32, y: i32): i32 {
  return (pattern >> (((y & 1) * 2 + (x & 1)) * 2)) & 3;
}

// @ts-ignore: decorator
@inline function along(cfa: usize, i: i32, step: i32): f32 {
  const near: f32 = <f32>0.5 * (at(cfa, i - step) + at(cfa, i + step));
  const far: f32 = <f32>0.25 * (at(cfa, i - 2 * step) + at(cfa, i + 2 * step));
  return near + <f32>0.5 * at(cfa, i) - far;
}

// @ts-ignore: decorator
@inline function roughness(rough: usize, step: usize, other: usize): v128 {
  const near = f32x4.add(v128.load(rough), v128.load(rough - 2 * step));
  const beside = f32x4.add(v128.load(rough - 2 * other), v128.load(rough + 2 * other));
  const before = f32x4.add(v128.load(rough - 2 * step - 2 * other), v128.load(rough - 2 * step + 2 * other));
  const corner = f32x4.add(v128.load(rough - step - other), v128.load(rough - step + other));
  const near3 = f32x4.mul(f32x4.splat(3), near);
  const sum = f32x4.add(f32x4.add(near3, f32x4.add(beside, before)), corner);
  return f32x4.add(f32x4.mul(sum, sum), f32x4.splat(LEAST));
}

// @ts-ignore: decorator
@inline function mean(plane: usize, i: i32, step: i32): f32 {
  return <f32>0.5 * (at(plane, i - step) + at(plane, i + step));
}

/** The sum of p − q at both ends. */
// @ts-ignore: decorator
@inline function ends(p: usize, q: usize, i: i32, step: i32): f32 {
  return (at(p, i - step) - at(q, i - step)) + (at(p, i + step) - at(q, i + step));
}

/** The mean of p − q over three samples, along rows and along columns, mixed by the share of the row. */
// @ts-ignore: decorator
@inline function smooth(p: usize, q: usize, share: usize, i: i32, width: i32): f32 {
  const v = ends(p, q, i, width);
  return THIRD * ((v + at(share, i) * (ends(p, q, i, 1) - v)) + (at(p, i) - at(q, i)));
}

// @ts-ignore: decorator
@inline function between(p: usize, green: usize, i: i32, step: i32): f32 {
  return at(green, i) + <f32>0.5 * ends(p, green, i, step);
}

const REACH = 10;

// @ts-ignore: decorator
@inline function codeOf(value: f32, becomes: usize): u16 {
  const light = min<f32>(1, max<f32>(0, value));
  return load<u16>(becomes + (<usize><u32>floor<f64>(<f64>light * 65535 + 0.5) << 1));
}

/**
 * Interleaved codes of what lies inside a border of ten samples. `work` has room for seven planes, the differences of
 * colour (its third and fourth) 0 before, `out` for three. `becomes` says what each code is in the end.
 */
export function demosaicTile(
  cfa: usize, width: i32, height: i32, pattern: i32, work: usize, out: usize, codes: usize, becomes: usize,
): void {
  const bytes = (<usize>width * <usize>height) << 2;
  const across = work;
  const down = work + bytes;
  const overRows = work + 2 * bytes;
  const overColumns = work + 3 * bytes;
  const roughRows = work + 4 * bytes;
  const roughColumns = work + 5 * bytes;
  const share = work + 6 * bytes;
  const green = out + bytes;
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2, i = y * width + 2; x < width - 2; x++, i++) {
      const own = at(cfa, i);
      if (colour(pattern, x, y) == 1) {
        put(across, i, own);
        put(down, i, own);
        continue;
      }
      const h = along(cfa, i, 1);
      const v = along(cfa, i, width);
      put(across, i, h);
      put(down, i, v);
      put(overRows, i, own - h);
      put(overColumns, i, own - v);
    }
  }
  const second = <usize>width << 3;
  for (let y = 4; y < height - 4; y++) {
    let i = (<usize>(y * width) + 4) << 2;
    for (const end = (<usize>(y * width + width) - 4) << 2; i < end; i += 16) {
      const rows = overRows + i;
      const columns = overColumns + i;
      v128.store(roughRows + i, f32x4.abs(f32x4.sub(v128.load(rows), v128.load(rows, 8))));
      v128.store(roughColumns + i, f32x4.abs(f32x4.sub(v128.load(columns), v128.load(columns + second))));
    }
  }
  const blue = out + 2 * bytes;
  const pitch = <usize>width << 2;
  for (let y = 6; y < height - 6; y++) {
    let i = (<usize>(y * width) + 6) << 2;
    for (const end = (<usize>(y * width + width) - 6) << 2; i < end; i += 16) {
      const rows = roughness(roughRows + i, 4, pitch);
      const columns = roughness(roughColumns + i, pitch, 4);
      const part = f32x4.div(columns, f32x4.add(rows, columns));
      v128.store(share + i, part);
      const v = v128.load(down + i);
      v128.store(green + i, f32x4.add(v, f32x4.mul(part, f32x4.sub(v128.load(across + i), v))));
      // Right where the sample has that colour; elsewhere it is written over below.
      const own = v128.load(cfa + i);
      v128.store(out + i, own);
      v128.store(blue + i, own);
    }
  }
  for (let y = 7; y < height - 7; y++) {
    for (let x = 7, i = y * width + 7; x < width - 7; x++, i++) {
      if (colour(pattern, x, y) != 1) continue;
      const beside = colour(pattern, x + 1, y);
      const h = out + <usize>beside * bytes;
      const v = out + <usize>(2 - beside) * bytes;
      put(h, i, at(green, i) + mean(h, i, 1) - mean(green, i, 1));
      put(v, i, at(green, i) + mean(v, i, width) - mean(green, i, width));
    }
  }
  for (let y = 8; y < height - 8; y++) {
    for (let x = 8, i = y * width + 8; x < width - 8; x++, i++) {
      const own = colour(pattern, x, y);
      if (own == 1) continue;
      const mine = out + <usize>own * bytes;
      const other = out + <usize>(2 - own) * bytes;
      const h: f32 = mean(other, i, 1) - mean(mine, i, 1);
      const v: f32 = mean(other, i, width) - mean(mine, i, width);
      put(other, i, at(mine, i) + (v + at(share, i) * (h - v)));
    }
  }
  for (let y = 8; y < height - 8; y++) {
    for (let x = 8, i = y * width + 8; x < width - 8; x++, i++) {
      const own = colour(pattern, x, y);
      if (own == 1) continue;
      const mine = out + <usize>own * bytes;
      put(green, i, at(mine, i) - smooth(mine, green, share, i, width));
    }
  }
  for (let y = 9; y < height - 9; y++) {
    for (let x = 9, i = y * width + 9; x < width - 9; x++, i++) {
      if (colour(pattern, x, y) != 1) continue;
      const beside = colour(pattern, x + 1, y);
      const h = out + <usize>beside * bytes;
      const v = out + <usize>(2 - beside) * bytes;
      put(h, i, between(h, green, i, 1));
      put(v, i, between(v, green, i, width));
    }
  }
  for (let y = 10; y < height - 10; y++) {
    for (let x = 10, i = y * width + 10; x < width - 10; x++, i++) {
      const own = colour(pattern, x, y);
      if (own == 1) continue;
      const mine = out + <usize>own * bytes;
      const other = out + <usize>(2 - own) * bytes;
      put(other, i, at(mine, i) + smooth(other, mine, share, i, width));
    }
  }
  let to = codes;
  for (let y = REACH; y < height - REACH; y++) {
    for (let x = REACH, i = y * width + REACH; x < width - REACH; x++, i++, to += 6) {
      store<u16>(to, codeOf(at(out, i), becomes));
      store<u16>(to, codeOf(at(green, i), becomes), 2);
      store<u16>(to, codeOf(at(blue, i), becomes), 4);
    }
  }
}
