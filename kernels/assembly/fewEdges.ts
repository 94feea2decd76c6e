// The steps of one round of core/src/shake/fewEdges.ts, its twin; the sums and their order are the same.

/** p ← ∇x where |∇x|² reaches `least`, else 0; periodic ends. */
export function hardGradients(x: usize, width: i32, height: i32, least: f32, px: usize, py: usize): void {
  const pitch = width * 4;
  const limit = f32x4.splat(least);
  for (let row = 0; row < height; row++) {
    const here = <usize>(row * pitch);
    const below = row + 1 < height ? here + pitch : <usize>0;
    const wrap = v128.load32_splat(x + here);
    for (let b = 0; b < pitch; b += 16) {
      const i = here + b;
      const value = v128.load(x + i);
      const right = b + 16 < pitch ? v128.load(x + i + 4) : v128.shuffle<f32>(value, wrap, 1, 2, 3, 4);
      const gx = f32x4.sub(right, value);
      const gy = f32x4.sub(v128.load(x + below + b), value);
      const keep = f32x4.ge(f32x4.add(f32x4.mul(gx, gx), f32x4.mul(gy, gy)), limit);
      v128.store(px + i, v128.and(gx, keep));
      v128.store(py + i, v128.and(gy, keep));
    }
  }
}

/** (re, im) ← scale·(K*·Y + penalty·(re, im)) / (|K|² + penalty·|D|² + 1e-9); `across` and `down` hold |D|². */
export function solveEdges(
  re: usize,
  im: usize,
  yRe: usize,
  yIm: usize,
  kRe: usize,
  kIm: usize,
  width: i32,
  height: i32,
  across: usize,
  down: usize,
  penalty: f32,
  scale: f32,
): void {
  const weight = f32x4.splat(penalty);
  const top = f32x4.splat(scale);
  const tiny = f32x4.splat(<f32>1e-9);
  for (let row = 0; row < height; row++) {
    const vertical = v128.load32_splat(down + row * 4);
    for (let b = 0; b < width * 4; b += 16) {
      const i = <usize>(row * width * 4 + b);
      const hRe = v128.load(kRe + i);
      const hIm = v128.load(kIm + i);
      const gRe = v128.load(yRe + i);
      const gIm = v128.load(yIm + i);
      const slope = f32x4.mul(weight, f32x4.add(v128.load(across + b), vertical));
      const power = f32x4.add(f32x4.mul(hRe, hRe), f32x4.mul(hIm, hIm));
      const step = f32x4.div(top, f32x4.add(f32x4.add(power, slope), tiny));
      const dataRe = f32x4.add(f32x4.mul(hRe, gRe), f32x4.mul(hIm, gIm));
      const dataIm = f32x4.sub(f32x4.mul(hRe, gIm), f32x4.mul(hIm, gRe));
      v128.store(re + i, f32x4.mul(step, f32x4.add(dataRe, f32x4.mul(weight, v128.load(re + i)))));
      v128.store(im + i, f32x4.mul(step, f32x4.add(dataIm, f32x4.mul(weight, v128.load(im + i)))));
    }
  }
}
