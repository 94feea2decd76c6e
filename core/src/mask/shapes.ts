import type { LinearOperation, RadialOperation } from './maskOperation';

const smooth = (t: number) => t * t * (3 - 2 * t);
const within = (t: number) => Math.min(1, Math.max(0, t));

/** Coverage of an ellipse at a place, px of the frame; `rimPx` is the least width over which its edge falls. */
export function radialAt(
  { x, y, rx, ry, featherPercent }: RadialOperation,
  u: number,
  v: number,
  rimPx: number,
): number {
  const along = Math.hypot((u - x) / rx, (v - y) / ry);
  const least = Math.min(1, rimPx / Math.min(rx, ry));
  const fall = Math.max(least, featherPercent / 100);
  // A hard edge lies in the middle of its rim.
  const end = featherPercent / 100 > least ? 1 : 1 + least / 2;
  return smooth(within((end - along) / fall));
}

/** Coverage of a linear fall at a place, px of the frame. */
export function linearAt({ x0, y0, x1, y1 }: LinearOperation, u: number, v: number, rimPx: number): number {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = Math.max(rimPx, Math.hypot(dx, dy));
  const along = ((u - x0) * dx + (v - y0) * dy) / (Math.hypot(dx, dy) || 1);
  return smooth(within(1 - along / length));
}
