// Gaussian smoothing, box means, extremes of neighbourhoods and local noise. The twins are gaussianBlur.ts, boxMean.ts
// and neighbourhoodRange.ts of core/src/picture and core/src/read/localNoise.ts, and the bits are the same: every sum
// is taken in the same order and precision.

// @ts-ignore: decorator
@inline function weighed(sum: v128, weight: v128, a: usize, b: usize): v128 {
  return f32x4.add(sum, f32x4.mul(weight, f32x4.add(v128.load(a), v128.load(b))));
}

/**
 * Gaussian along the rows. `weights` holds reach + 1 floats from the middle on, `line` has room for width + 2 · reach +
 * 16 floats; at least 4 across.
 */
export function smoothAcross(from: usize, to: usize, width: i32, height: i32, weights: usize, reach: i32, line: usize): void {
  const pitch = <usize>width * 4;
  const pad = <usize>reach * 4;
  const middle = line + pad;
  for (let y = 0; y < height; y++, from += pitch, to += pitch) {
    const first = load<f32>(from);
    const last = load<f32>(from + pitch - 4);
    for (let b: usize = 0; b < pad; b += 4) {
      store<f32>(line + b, first);
      store<f32>(middle + pitch + b, last);
    }
    memory.copy(middle, from, pitch);
    let b: usize = 0;
    for (; b + 32 <= pitch; b += 32) {
      const own = v128.load32_splat(weights);
      let near = f32x4.mul(own, v128.load(middle + b));
      let next = f32x4.mul(own, v128.load(middle + b, 16));
      for (let k: usize = 4; k <= pad; k += 4) {
        const weight = v128.load32_splat(weights + k);
        near = weighed(near, weight, middle + b - k, middle + b + k);
        next = weighed(next, weight, middle + b - k + 16, middle + b + k + 16);
      }
      v128.store(to + b, near);
      v128.store(to + b, next, 16);
    }
    for (; b < pitch; b += 16) {
      // The last four may overlap the ones before: what is written twice is the same.
      const x = min(b, pitch - 16);
      let sum = f32x4.mul(v128.load32_splat(weights), v128.load(middle + x));
      for (let k: usize = 4; k <= pad; k += 4) {
        sum = weighed(sum, v128.load32_splat(weights + k), middle + x - k, middle + x + k);
      }
      v128.store(to + x, sum);
    }
  }
}

/** Gaussian down the columns; at least 4 across. */
export function smoothDown(from: usize, to: usize, width: i32, height: i32, weights: usize, reach: i32): void {
  const pitch = <usize>width * 4;
  for (let y = 0; y < height; y++) {
    const row = from + <usize>y * pitch;
    const out = to + <usize>y * pitch;
    let b: usize = 0;
    for (; b + 32 <= pitch; b += 32) {
      const own = v128.load32_splat(weights);
      let near = f32x4.mul(own, v128.load(row + b));
      let next = f32x4.mul(own, v128.load(row + b, 16));
      for (let k = 1; k <= reach; k++) {
        const weight = v128.load32_splat(weights + <usize>k * 4);
        const above = from + <usize>max(0, y - k) * pitch + b;
        const below = from + <usize>min(height - 1, y + k) * pitch + b;
        near = weighed(near, weight, above, below);
        next = weighed(next, weight, above + 16, below + 16);
      }
      v128.store(out + b, near);
      v128.store(out + b, next, 16);
    }
    for (; b < pitch; b += 16) {
      const x = min(b, pitch - 16);
      let sum = f32x4.mul(v128.load32_splat(weights), v128.load(row + x));
      for (let k = 1; k <= reach; k++) {
        const above = from + <usize>max(0, y - k) * pitch + x;
        const below = from + <usize>min(height - 1, y + k) * pitch + x;
        sum = weighed(sum, v128.load32_splat(weights + <usize>k * 4), above, below);
      }
      v128.store(out + x, sum);
    }
  }
}

/** Means over 2 · reach + 1 samples along the rows, four rows at a time, so that one sum need not wait for another. */
export function meansAcross(from: usize, to: usize, width: i32, height: i32, reach: i32): void {
  const pitch = <usize>width * 4;
  for (let y = 0; y < height; y += 4) {
    // Rows past the last one repeat it.
    const r0 = <usize>y * pitch;
    const r1 = <usize>min(y + 1, height - 1) * pitch;
    const r2 = <usize>min(y + 2, height - 1) * pitch;
    const r3 = <usize>min(y + 3, height - 1) * pitch;
    let s0: f64 = 0;
    let s1: f64 = 0;
    let s2: f64 = 0;
    let s3: f64 = 0;
    let count = min(reach, width);
    for (let x: usize = 0; x < <usize>count * 4; x += 4) {
      s0 += load<f32>(from + r0 + x);
      s1 += load<f32>(from + r1 + x);
      s2 += load<f32>(from + r2 + x);
      s3 += load<f32>(from + r3 + x);
    }
    let share: f64 = 0;
    for (let x = 0; x < width; x++) {
      const at = from + <usize>x * 4;
      const ahead = at + <usize>reach * 4;
      const behind = at - <usize>(reach + 1) * 4;
      if (x + reach < width && x - reach - 1 >= 0) {
        s0 += <f64>load<f32>(ahead + r0) - <f64>load<f32>(behind + r0);
        s1 += <f64>load<f32>(ahead + r1) - <f64>load<f32>(behind + r1);
        s2 += <f64>load<f32>(ahead + r2) - <f64>load<f32>(behind + r2);
        s3 += <f64>load<f32>(ahead + r3) - <f64>load<f32>(behind + r3);
      } else if (x + reach < width) {
        s0 += load<f32>(ahead + r0);
        s1 += load<f32>(ahead + r1);
        s2 += load<f32>(ahead + r2);
        s3 += load<f32>(ahead + r3);
        count++;
      } else if (x - reach - 1 >= 0) {
        s0 -= load<f32>(behind + r0);
        s1 -= load<f32>(behind + r1);
        s2 -= load<f32>(behind + r2);
        s3 -= load<f32>(behind + r3);
        count--;
      }
      share = 1 / <f64>count;
      const out = to + <usize>x * 4;
      store<f32>(out + r3, <f32>(s3 * share));
      store<f32>(out + r2, <f32>(s2 * share));
      store<f32>(out + r1, <f32>(s1 * share));
      store<f32>(out + r0, <f32>(s0 * share));
    }
  }
}

/** Means down the columns; `sums` has room for width doubles. */
export function meansDown(from: usize, to: usize, width: i32, height: i32, reach: i32, sums: usize): void {
  const pitch = <usize>width * 4;
  memory.fill(sums, 0, <usize>width * 8);
  let count = min(reach, height);
  for (let y = 0; y < count; y++) addRow(from + <usize>y * pitch, 0, sums, 0, pitch, 0);
  for (let y = 0; y < height; y++) {
    const ahead = y + reach < height ? from + <usize>(y + reach) * pitch : 0;
    const behind = y - reach - 1 >= 0 ? from + <usize>(y - reach - 1) * pitch : 0;
    if (ahead != 0) count++;
    if (behind != 0) count--;
    addRow(ahead, behind, sums, to + <usize>y * pitch, pitch, 1 / <f64>count);
  }
}

/** Adds one row to the sums and takes another away, either of them where there is one; writes sums · share to `out`. */
function addRow(ahead: usize, behind: usize, sums: usize, out: usize, pitch: usize, share: f64): void {
  const shares = f64x2.splat(share);
  let b: usize = 0;
  for (; b + 8 <= pitch; b += 8) {
    const sum = v128.load(sums + 2 * b);
    const more = ahead != 0 ? f64x2.promote_low_f32x4(v128.load64_zero(ahead + b)) : f64x2.splat(0);
    const less = behind != 0 ? f64x2.promote_low_f32x4(v128.load64_zero(behind + b)) : f64x2.splat(0);
    const now = f64x2.add(sum, f64x2.sub(more, less));
    v128.store(sums + 2 * b, now);
    if (out != 0) v128.store64_lane(out + b, f32x4.demote_f64x2_zero(f64x2.mul(now, shares)), 0);
  }
  for (; b < pitch; b += 4) {
    const more: f64 = ahead != 0 ? <f64>load<f32>(ahead + b) : 0;
    const less: f64 = behind != 0 ? <f64>load<f32>(behind + b) : 0;
    const now = load<f64>(sums + 2 * b) + (more - less);
    store<f64>(sums + 2 * b, now);
    if (out != 0) store<f32>(out + b, <f32>(now * share));
  }
}

/** In place: each of `count` samples becomes the least of itself and the one `ahead` samples on. */
export function leastOfTwo(data: usize, count: i32, ahead: i32): void {
  const end = data + <usize>(count - ahead) * 4;
  const far = <usize>ahead * 4;
  let at = data;
  for (; at + 16 <= end; at += 16) v128.store(at, f32x4.pmin(v128.load(at), v128.load(at + far)));
  for (; at < end; at += 4) if (load<f32>(at + far) < load<f32>(at)) store<f32>(at, load<f32>(at + far));
}

/** As leastOfTwo, the most. */
export function mostOfTwo(data: usize, count: i32, ahead: i32): void {
  const end = data + <usize>(count - ahead) * 4;
  const far = <usize>ahead * 4;
  let at = data;
  for (; at + 16 <= end; at += 16) v128.store(at, f32x4.pmax(v128.load(at), v128.load(at + far)));
  for (; at < end; at += 4) if (load<f32>(at + far) > load<f32>(at)) store<f32>(at, load<f32>(at + far));
}

/** Squares of Immerkær's mask; at least 3 × 3. `across` has room for the plane and 4 floats. */
export function squaredImmerkaer(from: usize, to: usize, width: i32, height: i32, across: usize): void {
  const pitch = <usize>width * 4;
  const two = f32x4.splat(2);
  const sixth = f32x4.splat(<f32>(1.0 / 6.0));
  // From the second sample on, past the ends of rows: what is wrong there is not used.
  for (let at: usize = 4; at < <usize>height * pitch - 4; at += 16) {
    const outer = f32x4.add(v128.load(from + at - 4), v128.load(from + at + 4));
    v128.store(across + at, f32x4.sub(outer, f32x4.mul(two, v128.load(from + at))));
  }
  for (let y = 0; y < height; y++) {
    const here = across + <usize>min(max(y, 1), height - 2) * pitch;
    const out = to + <usize>y * pitch;
    for (let b: usize = 0; b < pitch; b += 16) {
      const outer = f32x4.add(v128.load(here - pitch + b), v128.load(here + pitch + b));
      const answer = f32x4.mul(f32x4.sub(outer, f32x4.mul(two, v128.load(here + b))), sixth);
      v128.store(out + b, f32x4.mul(answer, answer));
    }
    store<f32>(out, load<f32>(out + 4));
    store<f32>(out + pitch - 4, load<f32>(out + pitch - 8));
  }
}
