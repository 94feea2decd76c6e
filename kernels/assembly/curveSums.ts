// The sums of core/src/shake/curveSums.ts, its twin, in single precision, four points or four unknowns at once.

/**
 * Controls and unknowns as there. In a row follow the residual, so that its products are the right side, and padding.
 */
const COORDINATES: i32 = 28;
const ROW_BYTES: i32 = 160;
const FOURS: i32 = 9;
/** So many rows are gathered before they are multiplied with each other. */
const ROWS: i32 = 16;
const POINTS: f32 = 66;
const POINT_BYTES: i32 = 272;
const SPANS: i32 = 11;
const POINTS_PER_SPAN: i32 = 6;
const TABLE_BYTES: i32 = 36;
const LINEAR: i32 = 6;
const GAIN_FLOOR: f64 = 3e-4;
const HUBER: f64 = 0.8;

function sumOf(v: v128): f32 {
  return (
    f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3))
  );
}

/**
 * Adds the normal equations of a curve to `normal` (rows of ROW_BYTES, lower triangle and what fills its last eight;
 * the last row is the right side), and returns its cost. `turns`: e^(−2πi·place/side) of every point, cosines and sines
 * across, then down, POINT_BYTES each, 0 behind the last. `waves` has room for (highest + 1) times as much, `room` for
 * two rows of points and ROWS rows of unknowns.
 */
export function curveSums(
  table: usize,
  count: i32,
  turns: usize,
  waves: usize,
  highest: i32,
  side: f32,
  shares: usize,
  parameters: usize,
  wantsEquations: i32,
  normal: usize,
  room: usize,
): f64 {
  const size = <usize>((highest + 1) * POINT_BYTES);
  fillWaves(turns, waves, highest, size);
  fillWaves(turns + 2 * POINT_BYTES, waves + 2 * size, highest, size);
  const reAt = room;
  const imAt = room + POINT_BYTES;
  const rows = imAt + POINT_BYTES;
  const floor = Math.exp(<f64>load<f32>(parameters + LINEAR * 4));
  let gathered = 0;
  let cost: f64 = 0;
  for (let i = 0; i < count; i++) {
    const at = table + i * TABLE_BYTES;
    const u = load<f32>(at);
    const v = load<f32>(at + 4);
    const cosX = waves + <i32>Mathf.abs(u) * POINT_BYTES;
    const cosY = waves + 2 * size + <i32>v * POINT_BYTES;
    const sign = f32x4.splat(u < 0 ? -1 : 1);
    let sumRe = f32x4.splat(0);
    let sumIm = f32x4.splat(0);
    for (let k = 0; k < POINT_BYTES; k += 16) {
      const aRe = v128.load(cosX + k);
      const aIm = f32x4.mul(sign, v128.load(cosX + size + k));
      const bRe = v128.load(cosY + k);
      const bIm = v128.load(cosY + size + k);
      const re = f32x4.sub(f32x4.mul(aRe, bRe), f32x4.mul(aIm, bIm));
      const im = f32x4.add(f32x4.mul(aRe, bIm), f32x4.mul(aIm, bRe));
      v128.store(reAt + k, re);
      v128.store(imAt + k, im);
      sumRe = f32x4.add(sumRe, re);
      sumIm = f32x4.add(sumIm, im);
    }
    const gainRe = sumOf(sumRe) / POINTS;
    const gainIm = sumOf(sumIm) / POINTS;
    let logSharp = load<f32>(at + 8) + load<f32>(parameters);
    for (let j = 1; j < LINEAR; j++) logSharp += load<f32>(parameters + 4 * j) * load<f32>(at + 12 + 4 * j);
    const sharp = Math.exp(<f64>logSharp);
    const signal = sharp * (<f64>(gainRe * gainRe + gainIm * gainIm) + GAIN_FLOOR);
    const total = signal + floor;
    const residual = <f64>load<f32>(at + 12) - Math.log(total);
    const off = Math.abs(residual);
    cost += off <= HUBER ? 0.5 * residual * residual : HUBER * (off - 0.5 * HUBER);
    if (!wantsEquations) continue;

    const row = rows + gathered * ROW_BYTES;
    const rootWeight = off <= HUBER ? 1 : Math.sqrt(HUBER / off);
    const pace = <f32>((-4 * Math.PI * sharp * rootWeight) / (total * <f64>(POINTS * side)));
    putCoordinates(row, reAt, imAt, shares, gainRe, gainIm, pace * u, pace * v);
    const share = <f32>((rootWeight * signal) / total);
    store<f32>(row + 4 * COORDINATES, share);
    for (let j = 1; j < LINEAR; j++) store<f32>(row + 4 * (COORDINATES + j), share * load<f32>(at + 12 + 4 * j));
    store<f32>(row + 4 * (COORDINATES + LINEAR), <f32>((rootWeight * floor) / total));
    store<f32>(row + 4 * (COORDINATES + LINEAR + 1), <f32>(rootWeight * residual));
    if (++gathered === ROWS) {
      addProducts(rows, ROWS, normal);
      gathered = 0;
    }
  }
  addProducts(rows, gathered, normal);
  return cost;
}

/** The powers of every point's turn, from 0 to `highest`: cosines, and sines `size` behind. */
// @ts-ignore: decorator
@inline function fillWaves(turns: usize, waves: usize, highest: i32, size: usize): void {
  const one = f32x4.splat(1);
  for (let k = 0; k < POINT_BYTES; k += 16) {
    const cos = v128.load(turns + k);
    const sin = v128.load(turns + POINT_BYTES + k);
    let re = k + 16 < POINT_BYTES ? one : v128.shuffle<f32>(one, f32x4.splat(0), 0, 1, 4, 5);
    let im = f32x4.splat(0);
    for (let n = 0, to = waves + k; n <= highest; n++, to += POINT_BYTES) {
      v128.store(to, re);
      v128.store(to + size, im);
      const turned = f32x4.sub(f32x4.mul(re, cos), f32x4.mul(im, sin));
      im = f32x4.add(f32x4.mul(re, sin), f32x4.mul(im, cos));
      re = turned;
    }
  }
}

/**
 * What each control's place changes: the points' turns, gathered by their shares of the controls, times paceX and
 * paceY.
 */
// @ts-ignore: decorator
@inline function putCoordinates(
  row: usize,
  reAt: usize,
  imAt: usize,
  shares: usize,
  gainRe: f32,
  gainIm: f32,
  paceX: f32,
  paceY: f32,
): void {
  const ownRe = f32x4.splat(gainRe);
  const ownIm = f32x4.splat(gainIm);
  for (let k = 0; k < POINT_BYTES; k += 16) {
    const turn = f32x4.sub(f32x4.mul(ownIm, v128.load(reAt + k)), f32x4.mul(ownRe, v128.load(imAt + k)));
    v128.store(reAt + k, turn);
  }
  const zero = f32x4.splat(0);
  const paces = f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(paceX), 1, paceY), 3, paceY);
  let sum = zero;
  for (let span = 0; span < SPANS; span++, row += 8, reAt += 4 * POINTS_PER_SPAN) {
    for (let k = 0; k < POINTS_PER_SPAN; k++) {
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(reAt + 4 * k), v128.load(shares + 16 * k)));
    }
    if (span === SPANS - 1) break;
    // The first control of the span is complete.
    v128.store64_lane(row, f32x4.mul(v128.shuffle<f32>(sum, sum, 0, 0, 0, 0), paces), 0);
    sum = v128.shuffle<f32>(sum, zero, 1, 2, 3, 4);
  }
  v128.store(row, f32x4.mul(v128.shuffle<f32>(sum, sum, 0, 0, 1, 1), paces));
  v128.store(row, f32x4.mul(v128.shuffle<f32>(sum, sum, 2, 2, 3, 3), paces), 16);
}

/** Adds rowsᵀ · rows to `normal`: four rows of eight at a time. */
function addProducts(rows: usize, count: i32, normal: usize): void {
  const end = rows + count * ROW_BYTES;
  for (let j = 0; j < FOURS; j++) {
    for (let k = 0; k <= j; k += 2) {
      const to = normal + 4 * j * ROW_BYTES + 16 * k;
      let a0 = v128.load(to);
      let a1 = v128.load(to, 16);
      let b0 = v128.load(to + ROW_BYTES);
      let b1 = v128.load(to + ROW_BYTES, 16);
      let c0 = v128.load(to + 2 * ROW_BYTES);
      let c1 = v128.load(to + 2 * ROW_BYTES, 16);
      let d0 = v128.load(to + 3 * ROW_BYTES);
      let d1 = v128.load(to + 3 * ROW_BYTES, 16);
      for (let row = rows; row < end; row += ROW_BYTES) {
        const own = row + 16 * j;
        const with0 = v128.load(row + 16 * k);
        const with1 = v128.load(row + 16 * k, 16);
        const a = v128.load32_splat(own);
        const b = v128.load32_splat(own, 4);
        const c = v128.load32_splat(own, 8);
        const d = v128.load32_splat(own, 12);
        a0 = f32x4.add(a0, f32x4.mul(a, with0));
        a1 = f32x4.add(a1, f32x4.mul(a, with1));
        b0 = f32x4.add(b0, f32x4.mul(b, with0));
        b1 = f32x4.add(b1, f32x4.mul(b, with1));
        c0 = f32x4.add(c0, f32x4.mul(c, with0));
        c1 = f32x4.add(c1, f32x4.mul(c, with1));
        d0 = f32x4.add(d0, f32x4.mul(d, with0));
        d1 = f32x4.add(d1, f32x4.mul(d, with1));
      }
      v128.store(to, a0);
      v128.store(to, a1, 16);
      v128.store(to + ROW_BYTES, b0);
      v128.store(to + ROW_BYTES, b1, 16);
      v128.store(to + 2 * ROW_BYTES, c0);
      v128.store(to + 2 * ROW_BYTES, c1, 16);
      v128.store(to + 3 * ROW_BYTES, d0);
      v128.store(to + 3 * ROW_BYTES, d1, 16);
    }
  }
}
