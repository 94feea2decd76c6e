import { bilinear } from '../picture/bilinear';
import type { Plane } from '../picture/plane';

/** A patch whose movement is less certain tells nothing. */
const MOST_DOUBT_PX = 0.25;

/**
 * How far a square patch of `still` has moved in `moving`, px, by Lucas and Kanade's steps (1981) on patches made equal
 * in mean and contrast. Null without texture, beyond `most`, or where the two do not look alike.
 *
 * @param smoothingPx - σ with which both planes were smoothed: over so many px their noise is alike.
 */
export function patchMovement(
  still: Plane,
  moving: Plane,
  cx: number,
  cy: number,
  reach: number,
  most: number,
  smoothingPx: number,
): { x: number; y: number } | null {
  const side = 2 * reach + 1;
  const patch = (plane: Plane, dx: number, dy: number) => {
    const values = new Float64Array(side * side);
    for (let y = -reach, i = 0; y <= reach; y++) {
      for (let x = -reach; x <= reach; x++, i++) values[i] = bilinear(plane, cx + x + dx, cy + y + dy);
    }
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const spread = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
    return { values: values.map((value) => (value - mean) / Math.max(spread, 1e-9)), spread };
  };
  const target = patch(still, 0, 0);
  if (target.spread < 0.008) return null;
  let [xx, xy, yy] = [0, 0, 0];
  const gx = new Float64Array(side * side);
  const gy = new Float64Array(side * side);
  for (let y = 1; y < side - 1; y++) {
    for (let x = 1; x < side - 1; x++) {
      const i = y * side + x;
      gx[i] = (target.values[i + 1] - target.values[i - 1]) / 2;
      gy[i] = (target.values[i + side] - target.values[i - side]) / 2;
      xx += gx[i] * gx[i];
      xy += gx[i] * gy[i];
      yy += gy[i] * gy[i];
    }
  }
  // Both directions must show: a lone straight edge does not tell how far it slid along itself.
  const weaker = (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy);
  if (weaker < 0.002 * side * side) return null;
  const determinant = xx * yy - xy * xy;
  let [dx, dy] = [0, 0];
  for (let step = 0; step < 25; step++) {
    const { values } = patch(moving, dx, dy);
    let [bx, by] = [0, 0];
    for (let i = 0; i < values.length; i++) {
      const difference = target.values[i] - values[i];
      bx += gx[i] * difference;
      by += gy[i] * difference;
    }
    const sx = (yy * bx - xy * by) / determinant;
    const sy = (xx * by - xy * bx) / determinant;
    dx += sx;
    dy += sy;
    if (Math.hypot(dx, dy) > most) return null;
    if (Math.hypot(sx, sy) < 0.005) {
      // What does not look alike even now tells nothing, or tells that it was changed.
      const { values: end } = patch(moving, dx, dy);
      let [alike, unlike] = [0, 0];
      for (let i = 0; i < end.length; i++) {
        alike += (end[i] * target.values[i]) / end.length;
        unlike += (end[i] - target.values[i]) ** 2 / end.length;
      }
      const doubt = Math.sqrt((unlike * 4 * Math.PI * smoothingPx ** 2) / weaker);
      return alike > 0.5 && doubt < MOST_DOUBT_PX ? { x: dx, y: dy } : null;
    }
  }
  return null;
}
