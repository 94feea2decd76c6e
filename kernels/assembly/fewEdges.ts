// The steps of one round of core/src/shake/fewEdges.ts, its twin.
import { blocksAcross, ONE_ELEMENT, oneBlockSize } from './halfSpectra';
import { backwardLanes, forwardLanes, placesOf } from './lanes';

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

/** What `prepareEdges` keeps of a frequency: K*·Y re and im, |K|² and |D|², four lanes each. */
// @ts-ignore: decorator
@inline const KEPT: usize = 64;

/** From the rows of the path's and the photograph's spectra. `across` and `down` hold |D|². */
export function prepareEdges(
  path: usize,
  photograph: usize,
  width: i32,
  height: i32,
  plan: usize,
  across: usize,
  down: usize,
  kept: usize,
): void {
  const places = placesOf(plan);
  // Spectra come doubled.
  const quarter = f32x4.splat(0.25);
  for (let block = 0; block < blocksAcross(width); block++) {
    forwardLanes(plan, path, ONE_ELEMENT);
    forwardLanes(plan, photograph, ONE_ELEMENT);
    const horizontal = v128.load(across + (<usize>block << 4));
    for (let v = 0; v < height; v++) {
      const place = <usize>load<u32>(places + (<usize>v << 2));
      const k = path + place * ONE_ELEMENT;
      const y = photograph + place * ONE_ELEMENT;
      const to = kept + (<usize>(block * height) + place) * KEPT;
      const kRe = v128.load(k);
      const kIm = v128.load(k, 16);
      const yRe = v128.load(y);
      const yIm = v128.load(y, 16);
      v128.store(to, f32x4.mul(quarter, f32x4.add(f32x4.mul(kRe, yRe), f32x4.mul(kIm, yIm))));
      v128.store(to, f32x4.mul(quarter, f32x4.sub(f32x4.mul(kRe, yIm), f32x4.mul(kIm, yRe))), 16);
      v128.store(to, f32x4.mul(quarter, f32x4.add(f32x4.mul(kRe, kRe), f32x4.mul(kIm, kIm))), 32);
      v128.store(to, f32x4.add(horizontal, v128.load32_splat(down + (<usize>v << 2))), 48);
    }
    path += oneBlockSize(height);
    photograph += oneBlockSize(height);
  }
}

/** Down the columns and back: X ← scale·(K*·Y + penalty·X) / (|K|² + penalty·|D|² + 1e-9). */
export function solveEdges(
  spectrum: usize,
  width: i32,
  height: i32,
  plan: usize,
  kept: usize,
  penalty: f32,
  scale: f32,
): void {
  const weight = f32x4.splat(penalty);
  const half = f32x4.splat(<f32>0.5 * penalty);
  const top = f32x4.splat(scale);
  const tiny = f32x4.splat(<f32>1e-9);
  for (let block = 0; block < blocksAcross(width); block++, spectrum += oneBlockSize(height)) {
    forwardLanes(plan, spectrum, ONE_ELEMENT);
    const end = spectrum + <usize>height * ONE_ELEMENT;
    for (let at = spectrum; at < end; at += ONE_ELEMENT, kept += KEPT) {
      const slope = f32x4.mul(weight, v128.load(kept, 48));
      const step = f32x4.div(top, f32x4.add(f32x4.add(v128.load(kept, 32), slope), tiny));
      const re = f32x4.add(v128.load(kept), f32x4.mul(half, v128.load(at)));
      const im = f32x4.add(v128.load(kept, 16), f32x4.mul(half, v128.load(at, 16)));
      v128.store(at, f32x4.mul(step, re));
      v128.store(at, f32x4.mul(step, im), 16);
    }
    backwardLanes(plan, spectrum, ONE_ELEMENT);
  }
}
