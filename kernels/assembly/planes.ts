// Arithmetic over whole planes, four samples at a time. The twins are in core/src/picture/arithmetic.ts, and the bits are
// the same. `bytes` is four times the samples; up to 12 bytes more are read and written.

/** out = a·p + b·q + c·r. */
export function mix(p: usize, q: usize, r: usize, bytes: usize, a: f32, b: f32, c: f32, out: usize): void {
  const first = f32x4.splat(a);
  const second = f32x4.splat(b);
  const third = f32x4.splat(c);
  for (let i: usize = 0; i < bytes; i += 16) {
    const sum = f32x4.add(f32x4.mul(first, v128.load(p + i)), f32x4.mul(second, v128.load(q + i)));
    v128.store(out + i, f32x4.add(sum, f32x4.mul(third, v128.load(r + i))));
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
