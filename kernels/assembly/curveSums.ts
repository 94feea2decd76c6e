// The sums of core/src/shake/curveSums.ts, its twin, in single precision, four points or four unknowns at once.

/** Controls and unknowns as there; what stands beside them is padding, 0. */
const COORDINATES: i32 = 28;
const CONTROLS: i32 = 14;
const ROW_BYTES: i32 = 144;
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
 * Adds the normal equations of a curve to `normal` (rows of ROW_BYTES, lower triangle and what fills its last four) and
 * `right`, and returns its cost. `waves`: cosines and sines across, then down, (highest + 1) · POINT_BYTES each. `room`: two rows
 * of points, one of controls and one of unknowns.
 */
export function curveSums(
  table: usize,
  count: i32,
  waves: usize,
  highest: i32,
  side: f32,
  shares: usize,
  parameters: usize,
  wantsEquations: i32,
  normal: usize,
  right: usize,
  room: usize,
): f64 {
  const size = <usize>((highest + 1) * POINT_BYTES);
  const reAt = room;
  const imAt = room + POINT_BYTES;
  const controls = imAt + POINT_BYTES;
  const row = controls + 64;
  const floor = Math.exp(<f64>load<f32>(parameters + LINEAR * 4));
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

    for (let j = 0; j < 64; j += 16) v128.store(controls + j, f32x4.splat(0));
    const ownRe = f32x4.splat(gainRe);
    const ownIm = f32x4.splat(gainIm);
    for (let k = 0; k < POINT_BYTES; k += 16) {
      const turn = f32x4.sub(f32x4.mul(ownIm, v128.load(reAt + k)), f32x4.mul(ownRe, v128.load(imAt + k)));
      v128.store(reAt + k, turn);
    }
    for (let span = 0; span < SPANS; span++) {
      const to = controls + 4 * span;
      let sum = v128.load(to);
      for (let k = 0; k < POINTS_PER_SPAN; k++) {
        const turn = v128.load32_splat(reAt + 4 * (span * POINTS_PER_SPAN + k));
        sum = f32x4.add(sum, f32x4.mul(turn, v128.load(shares + 16 * k)));
      }
      v128.store(to, sum);
    }
    const pace = <f32>((-4 * Math.PI * sharp) / (total * <f64>(POINTS * side)));
    for (let j = 0; j < CONTROLS; j++) {
      const slope = pace * load<f32>(controls + 4 * j);
      store<f32>(row + 8 * j, slope * u);
      store<f32>(row + 8 * j + 4, slope * v);
    }
    const share = <f32>(signal / total);
    store<f32>(row + 4 * COORDINATES, share);
    for (let j = 1; j < LINEAR; j++) store<f32>(row + 4 * (COORDINATES + j), share * load<f32>(at + 12 + 4 * j));
    store<f32>(row + 4 * (COORDINATES + LINEAR), <f32>(floor / total));
    store<f32>(row + 4 * (COORDINATES + LINEAR + 1), 0);

    const weight = <f32>(off <= HUBER ? 1 : HUBER / off);
    const pull = f32x4.splat(weight * <f32>residual);
    for (let j = 0; j < ROW_BYTES; j += 16) {
      v128.store(right + j, f32x4.add(v128.load(right + j), f32x4.mul(pull, v128.load(row + j))));
    }
    for (let j = 0; j < ROW_BYTES; j += 4) {
      const value = f32x4.splat(weight * load<f32>(row + j));
      const to = normal + (j >> 2) * ROW_BYTES;
      for (let k = 0; k <= j; k += 16) {
        v128.store(to + k, f32x4.add(v128.load(to + k), f32x4.mul(value, v128.load(row + k))));
      }
    }
  }
  return cost;
}
