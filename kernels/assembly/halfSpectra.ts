// Two real planes at once, as half spectra: blocks of four frequencies across; in a block one 64-byte element a row,
// (A re, A im, B re, B im) of four lanes, so that a block of columns is contiguous and one sweep over it transforms,
// solves and transforms back. A and B are doubled. Rows of a block lie in the order `forwardLanes` leaves them in.
// One plane alone has elements of 32 bytes; four of its rows go as A, the four below them as B.
import { backwardLanes, forwardLanes, placesOf } from './lanes';
import { putTransposed4, transposed4 } from './transpose';

// @ts-ignore: decorator
@inline export const ELEMENT: usize = 64;
// @ts-ignore: decorator
@inline const B_BESIDE_A: usize = 32;
// @ts-ignore: decorator
@inline export const ONE_ELEMENT: usize = 32;
// @ts-ignore: decorator
@inline const FOUR_ROWS_BELOW: usize = 4 * ONE_ELEMENT;
/** What `prepareSolving` keeps of a frequency: K re, K im and the step, four lanes each. */
// @ts-ignore: decorator
@inline const KEPT: usize = 48;

/** From block to block: four rows more than there are, so that blocks do not meet in the cache. */
// @ts-ignore: decorator
@inline function blockSize(height: i32): usize {
  return <usize>(height + 4) * ELEMENT;
}

/** The four rows more are also where B goes if it has no rows left. */
// @ts-ignore: decorator
@inline export function oneBlockSize(height: i32): usize {
  return <usize>(height + 4) * ONE_ELEMENT;
}

// @ts-ignore: decorator
@inline export function blocksAcross(width: i32): i32 {
  return width / 8 + 1;
}

/** Where in the row `work` frequency u lies. */
// @ts-ignore: decorator
@inline function placed(work: usize, places: usize, u: i32): usize {
  return work + (<usize>load<u32>(places + (<usize>u << 2)) << 5);
}

/** All rows of a + i·b become rows of A and B. `work` holds 8 × width floats. */
export function rowsToSpectra(a: usize, b: usize, width: i32, height: i32, plan: usize, work: usize, spectra: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 4, a += four, b += four) {
    fourRowsToSpectra(a, b, width, height, plan, work, spectra + <usize>row * ELEMENT);
  }
}

/** Four rows; `spectra` is where the first of them lies in the first block. */
export function fourRowsToSpectra(a: usize, b: usize, width: i32, height: i32, plan: usize, work: usize, spectra: usize): void {
  transformFourRows(a, b, width, plan, work);
  unpackRows(width, placesOf(plan), work, spectra, blockSize(height), ELEMENT, B_BESIDE_A);
}

// @ts-ignore: decorator
@inline function transformFourRows(a: usize, b: usize, width: i32, plan: usize, work: usize): void {
  const pitch = <usize>width * 4;
  for (let k: usize = 0; k < pitch; k += 16) {
    transposed4(a + k, pitch, work + 8 * k, 32);
    transposed4(b + k, pitch, work + 8 * k + 16, 32);
  }
  forwardLanes(plan, work, 32);
}

/** All rows of one plane. */
export function rowsToSpectrum(a: usize, width: i32, height: i32, plan: usize, work: usize, spectrum: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 8, a += 2 * four) {
    const b = row + 4 < height ? a + four : a;
    transformFourRows(a, b, width, plan, work);
    const out = spectrum + <usize>row * ONE_ELEMENT;
    unpackRows(width, placesOf(plan), work, out, oneBlockSize(height), ONE_ELEMENT, FOUR_ROWS_BELOW);
  }
}

/** From block to block it is `jump`, from row to row `element`, from A to B `toB`. */
function unpackRows(width: i32, places: usize, work: usize, out: usize, jump: usize, element: usize, toB: usize): void {
  const half = width / 2;
  for (let u = 0; u <= half; u += 4, out += jump) {
    const p0 = placed(work, places, u);
    const p1 = placed(work, places, min(u + 1, half));
    const p2 = placed(work, places, min(u + 2, half));
    const p3 = placed(work, places, min(u + 3, half));
    const q0 = placed(work, places, u == 0 ? 0 : width - u);
    const q1 = placed(work, places, width - min(u + 1, half));
    const q2 = placed(work, places, width - min(u + 2, half));
    const q3 = placed(work, places, width - min(u + 3, half));
    putTransposed4(sumRe(p0, q0), sumRe(p1, q1), sumRe(p2, q2), sumRe(p3, q3), out, element);
    putTransposed4(lessIm(p0, q0), lessIm(p1, q1), lessIm(p2, q2), lessIm(p3, q3), out + 16, element);
    putTransposed4(sumIm(p0, q0), sumIm(p1, q1), sumIm(p2, q2), sumIm(p3, q3), out + toB, element);
    putTransposed4(lessRe(q0, p0), lessRe(q1, p1), lessRe(q2, p2), lessRe(q3, p3), out + toB + 16, element);
  }
}

// @ts-ignore: decorator
@inline function sumRe(p: usize, q: usize): v128 {
  return f32x4.add(v128.load(p), v128.load(q));
}

// @ts-ignore: decorator
@inline function lessRe(p: usize, q: usize): v128 {
  return f32x4.sub(v128.load(p), v128.load(q));
}

// @ts-ignore: decorator
@inline function sumIm(p: usize, q: usize): v128 {
  return f32x4.add(v128.load(p, 16), v128.load(q, 16));
}

// @ts-ignore: decorator
@inline function lessIm(p: usize, q: usize): v128 {
  return f32x4.sub(v128.load(p, 16), v128.load(q, 16));
}

/** All rows of A and B become rows of a and b. */
export function spectraToRows(spectra: usize, width: i32, height: i32, plan: usize, work: usize, a: usize, b: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 4, a += four, b += four) {
    spectraToFourRows(spectra + <usize>row * ELEMENT, width, height, plan, work, a, b);
  }
}

export function spectraToFourRows(spectra: usize, width: i32, height: i32, plan: usize, work: usize, a: usize, b: usize): void {
  packRows(width, placesOf(plan), spectra, blockSize(height), ELEMENT, B_BESIDE_A, work);
  transformFourRowsBack(width, plan, work, a, b);
}

// @ts-ignore: decorator
@inline function transformFourRowsBack(width: i32, plan: usize, work: usize, a: usize, b: usize): void {
  const pitch = <usize>width * 4;
  backwardLanes(plan, work, 32);
  for (let k: usize = 0; k < pitch; k += 16) {
    transposed4(work + 8 * k, 32, a + k, pitch);
    transposed4(work + 8 * k + 16, 32, b + k, pitch);
  }
}

/** All rows of one plane; `spare` holds four rows. */
export function spectrumToRows(spectrum: usize, width: i32, height: i32, plan: usize, work: usize, a: usize, spare: usize): void {
  const four = <usize>width * 16;
  for (let row = 0; row < height; row += 8, a += 2 * four) {
    const from = spectrum + <usize>row * ONE_ELEMENT;
    packRows(width, placesOf(plan), from, oneBlockSize(height), ONE_ELEMENT, FOUR_ROWS_BELOW, work);
    transformFourRowsBack(width, plan, work, a, row + 4 < height ? a + four : spare);
  }
}

function packRows(width: i32, places: usize, from: usize, jump: usize, element: usize, toB: usize, work: usize): void {
  for (let u = 0; u <= width / 2; u += 4, from += jump) {
    packParts(from, from + toB + 16, element, true, width, places, u, work);
    packParts(from + toB, from + 16, element, false, width, places, u, work + 16);
  }
}

/** Of four frequencies from u on: m − n at u and m + n at −u, or the other way round. */
// @ts-ignore: decorator
@inline function packParts(m: usize, n: usize, element: usize, isLess: bool, width: i32, places: usize, u: i32, work: usize): void {
  const m01 = v128.shuffle<f32>(v128.load(m), v128.load(m + element), 0, 4, 1, 5);
  const m23 = v128.shuffle<f32>(v128.load(m), v128.load(m + element), 2, 6, 3, 7);
  const m45 = v128.shuffle<f32>(v128.load(m + 2 * element), v128.load(m + 3 * element), 0, 4, 1, 5);
  const m67 = v128.shuffle<f32>(v128.load(m + 2 * element), v128.load(m + 3 * element), 2, 6, 3, 7);
  const n01 = v128.shuffle<f32>(v128.load(n), v128.load(n + element), 0, 4, 1, 5);
  const n23 = v128.shuffle<f32>(v128.load(n), v128.load(n + element), 2, 6, 3, 7);
  const n45 = v128.shuffle<f32>(v128.load(n + 2 * element), v128.load(n + 3 * element), 0, 4, 1, 5);
  const n67 = v128.shuffle<f32>(v128.load(n + 2 * element), v128.load(n + 3 * element), 2, 6, 3, 7);
  putBoth(
    v128.shuffle<f32>(m01, m45, 0, 1, 4, 5),
    v128.shuffle<f32>(n01, n45, 0, 1, 4, 5),
    isLess, width, places, u, work,
  );
  putBoth(
    v128.shuffle<f32>(m01, m45, 2, 3, 6, 7),
    v128.shuffle<f32>(n01, n45, 2, 3, 6, 7),
    isLess, width, places, u + 1, work,
  );
  putBoth(
    v128.shuffle<f32>(m23, m67, 0, 1, 4, 5),
    v128.shuffle<f32>(n23, n67, 0, 1, 4, 5),
    isLess, width, places, u + 2, work,
  );
  putBoth(
    v128.shuffle<f32>(m23, m67, 2, 3, 6, 7),
    v128.shuffle<f32>(n23, n67, 2, 3, 6, 7),
    isLess, width, places, u + 3, work,
  );
}

// @ts-ignore: decorator
@inline function putBoth(m: v128, n: v128, isLess: bool, width: i32, places: usize, u: i32, work: usize): void {
  const half = width / 2;
  if (u > half) return;
  v128.store(placed(work, places, u), isLess ? f32x4.sub(m, n) : f32x4.add(m, n));
  if (u == 0 || u == half) return;
  v128.store(placed(work, places, width - u), isLess ? f32x4.add(m, n) : f32x4.sub(m, n));
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
