// Two real planes at once, as half spectra: blocks of four frequencies across; in a block one 64-byte element a row,
// (A re, A im, B re, B im) of four lanes, so that a block of columns is contiguous and one sweep over it transforms,
// solves and transforms back. A and B are doubled. Rows of a block lie in the order `forwardLanes` leaves them in.
import { backwardLanes, forwardLanes, placesOf } from './lanes';
import { putTransposed4, transposed4 } from './transpose';

// @ts-ignore: decorator
@inline export const ELEMENT: usize = 64;
/** What `prepareSolving` keeps of a frequency: K re, K im and the step, four lanes each. */
// @ts-ignore: decorator
@inline const KEPT: usize = 48;

/** From block to block: four rows more than there are, so that blocks do not meet in the cache. */
// @ts-ignore: decorator
@inline function blockSize(height: i32): usize {
  return <usize>(height + 4) * ELEMENT;
}

// @ts-ignore: decorator
@inline function blocksAcross(width: i32): i32 {
  return width / 8 + 1;
}

/** Where in the row `work` frequency u lies. */
// @ts-ignore: decorator
@inline function placed(work: usize, places: usize, u: i32): usize {
  return work + (<usize>load<u32>(places + (<usize>u << 2)) << 5);
}

/** All rows of a + i·b become rows of A and B. `work` holds 8 × width + 64 floats. */
export function rowsToSpectra(a: usize, b: usize, width: i32, height: i32, plan: usize, work: usize, spectra: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 4, a += four, b += four) {
    fourRowsToSpectra(a, b, width, height, plan, work, spectra + <usize>row * ELEMENT);
  }
}

/** Four rows; `spectra` is where the first of them lies in the first block. */
export function fourRowsToSpectra(a: usize, b: usize, width: i32, height: i32, plan: usize, work: usize, spectra: usize): void {
  const pitch = <usize>width * 4;
  for (let k: usize = 0; k < pitch; k += 16) {
    transposed4(a + k, pitch, work + 8 * k, 32);
    transposed4(b + k, pitch, work + 8 * k + 16, 32);
  }
  forwardLanes(plan, work, 32);
  unpackRows(width, height, placesOf(plan), work, spectra);
}

function unpackRows(width: i32, height: i32, places: usize, work: usize, out: usize): void {
  const jump = blockSize(height);
  const spare = work + (<usize>width << 5);
  const half = width / 2;
  for (let first = 0; first <= half; first += 4, out += jump) {
    for (let i = 0; i < 4; i++) {
      const u = min(first + i, half);
      const p = placed(work, places, u);
      const q = placed(work, places, u == 0 ? 0 : width - u);
      const re = v128.load(p);
      const im = v128.load(p, 16);
      const mirrorRe = v128.load(q);
      const mirrorIm = v128.load(q, 16);
      const to = spare + (<usize>i << 4);
      v128.store(to, f32x4.add(re, mirrorRe));
      v128.store(to, f32x4.sub(im, mirrorIm), 64);
      v128.store(to, f32x4.add(im, mirrorIm), 128);
      v128.store(to, f32x4.sub(mirrorRe, re), 192);
    }
    for (let part: usize = 0; part < 4; part++) transposed4(spare + part * 64, 16, out + part * 16, ELEMENT);
  }
}

/** All rows of A and B become rows of a and b. */
export function spectraToRows(spectra: usize, width: i32, height: i32, plan: usize, work: usize, a: usize, b: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 4, a += four, b += four) {
    spectraToFourRows(spectra + <usize>row * ELEMENT, width, height, plan, work, a, b);
  }
}

export function spectraToFourRows(spectra: usize, width: i32, height: i32, plan: usize, work: usize, a: usize, b: usize): void {
  const pitch = <usize>width * 4;
  packRows(width, height, placesOf(plan), spectra, work);
  backwardLanes(plan, work, 32);
  for (let k: usize = 0; k < pitch; k += 16) {
    transposed4(work + 8 * k, 32, a + k, pitch);
    transposed4(work + 8 * k + 16, 32, b + k, pitch);
  }
}

function packRows(width: i32, height: i32, places: usize, spectra: usize, work: usize): void {
  const jump = blockSize(height);
  const spare = work + (<usize>width << 5);
  const half = width / 2;
  for (let first = 0; first <= half; first += 4, spectra += jump) {
    for (let part: usize = 0; part < 4; part++) transposed4(spectra + part * 16, ELEMENT, spare + part * 64, 16);
    const count = min(4, half + 1 - first);
    for (let i = 0; i < count; i++) {
      const u = first + i;
      const from = spare + (<usize>i << 4);
      const aRe = v128.load(from);
      const aIm = v128.load(from, 64);
      const bRe = v128.load(from, 128);
      const bIm = v128.load(from, 192);
      const p = placed(work, places, u);
      v128.store(p, f32x4.sub(aRe, bIm));
      v128.store(p, f32x4.add(aIm, bRe), 16);
      if (u == 0 || u == half) continue;
      const q = placed(work, places, width - u);
      v128.store(q, f32x4.add(aRe, bIm));
      v128.store(q, f32x4.sub(bRe, aIm), 16);
    }
  }
}

/**
 * From the rows of the point spread function's spectrum (in A): K, and 1 / (μ |K|² + γ |D|²) times `scale`, half of it
 * because A and B are doubled. `across` and `down` hold 2 − 2cos of each frequency, `across` four zeros more.
 */
export function prepareSolving(
  spectra: usize,
  width: i32,
  height: i32,
  plan: usize,
  across: usize,
  down: usize,
  dataPenalty: f32,
  gradientPenalty: f32,
  scale: f32,
  kept: usize,
): void {
  const places = placesOf(plan);
  const half = f32x4.splat(0.5);
  const mu = f32x4.splat(dataPenalty);
  const gamma = f32x4.splat(gradientPenalty);
  const tiny = f32x4.splat(<f32>1e-12);
  const most = f32x4.splat(<f32>0.5 * scale);
  for (let block = 0; block < blocksAcross(width); block++, spectra += blockSize(height)) {
    forwardLanes(plan, spectra, ELEMENT);
    const horizontal = v128.load(across + (<usize>block << 4));
    for (let v = 0; v < height; v++) {
      const place = <usize>load<u32>(places + (<usize>v << 2));
      const from = spectra + place * ELEMENT;
      const to = kept + (<usize>(block * height) + place) * KEPT;
      const re = f32x4.mul(half, v128.load(from));
      const im = f32x4.mul(half, v128.load(from, 16));
      const power = f32x4.mul(mu, f32x4.add(f32x4.mul(re, re), f32x4.mul(im, im)));
      const slope = f32x4.mul(gamma, f32x4.add(horizontal, v128.load32_splat(down + (<usize>v << 2))));
      v128.store(to, re);
      v128.store(to, im, 16);
      v128.store(to, f32x4.div(most, f32x4.add(f32x4.add(power, slope), tiny)), 32);
    }
  }
}

/**
 * Down the columns and back, for all channels: from the spectra of the data's pull (A) and the gradients' (B), both
 * doubled, to those of X = (μ K* A + γ B) · step in A and K·X in B, not doubled. `tables` holds the addresses of the
 * channels' spectra, `words` apart.
 */
export function solveColumns(
  tables: usize,
  words: i32,
  channels: i32,
  width: i32,
  height: i32,
  plan: usize,
  kept: usize,
  dataPenalty: f32,
  gradientPenalty: f32,
): void {
  const blocks = blocksAcross(width);
  const mu = f32x4.splat(dataPenalty);
  const gamma = f32x4.splat(gradientPenalty);
  for (let block = 0; block < blocks; block++, kept += <usize>height * KEPT) {
    for (let c = 0; c < channels; c++) {
      const first = <usize>load<u32>(tables + (<usize>(c * words) << 2)) + <usize>block * blockSize(height);
      forwardLanes(plan, first, ELEMENT);
      solveBlock(first, height, kept, mu, gamma);
      backwardLanes(plan, first, ELEMENT);
    }
  }
}

function solveBlock(first: usize, height: i32, kept: usize, mu: v128, gamma: v128): void {
  const end = first + <usize>height * ELEMENT;
  for (let at = first; at < end; at += ELEMENT, kept += KEPT) {
    const aRe = v128.load(at);
    const aIm = v128.load(at, 16);
    const kRe = v128.load(kept);
    const kIm = v128.load(kept, 16);
    const step = v128.load(kept, 32);
    const dataRe = f32x4.add(f32x4.mul(kRe, aRe), f32x4.mul(kIm, aIm));
    const dataIm = f32x4.sub(f32x4.mul(kRe, aIm), f32x4.mul(kIm, aRe));
    const xRe = f32x4.mul(step, f32x4.add(f32x4.mul(mu, dataRe), f32x4.mul(gamma, v128.load(at, 32))));
    const xIm = f32x4.mul(step, f32x4.add(f32x4.mul(mu, dataIm), f32x4.mul(gamma, v128.load(at, 48))));
    v128.store(at, xRe);
    v128.store(at, xIm, 16);
    v128.store(at, f32x4.sub(f32x4.mul(kRe, xRe), f32x4.mul(kIm, xIm)), 32);
    v128.store(at, f32x4.add(f32x4.mul(kRe, xIm), f32x4.mul(kIm, xRe)), 48);
  }
}

/** Down the columns, times K (the conjugate of K for `sign` −1) · scale / 2, and back. */
export function filterColumns(
  spectra: usize,
  width: i32,
  height: i32,
  plan: usize,
  kept: usize,
  sign: f32,
  scale: f32,
): void {
  const half = f32x4.splat(<f32>0.5 * scale);
  const turn = f32x4.splat(<f32>0.5 * scale * sign);
  for (let block = 0; block < blocksAcross(width); block++, spectra += blockSize(height)) {
    forwardLanes(plan, spectra, ELEMENT);
    const end = spectra + <usize>height * ELEMENT;
    for (let at = spectra; at < end; at += ELEMENT, kept += KEPT) {
      const kRe = f32x4.mul(half, v128.load(kept));
      const kIm = f32x4.mul(turn, v128.load(kept, 16));
      for (let q = at; q < at + ELEMENT; q += 32) {
        const re = v128.load(q);
        const im = v128.load(q, 16);
        v128.store(q, f32x4.sub(f32x4.mul(re, kRe), f32x4.mul(im, kIm)));
        v128.store(q, f32x4.add(f32x4.mul(re, kIm), f32x4.mul(im, kRe)), 16);
      }
    }
    backwardLanes(plan, spectra, ELEMENT);
  }
}
