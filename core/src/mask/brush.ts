/** Coverage by distance from the stroke's line: 1 inside the hard core, a smooth fall to 0 at the rim. */
export function brushProfile(distancePx: number, radiusPx: number, featherPercent: number, rimPx: number): number {
  const core = radiusPx * (1 - featherPercent / 100);
  const from = Math.min(core, radiusPx - rimPx / 2);
  const to = Math.max(radiusPx, from + rimPx);
  if (distancePx <= from) return 1;
  if (distancePx >= to) return 0;
  const t = (to - distancePx) / (to - from);
  return t * t * (3 - 2 * t);
}

/** From (x, y) to the straight line between two points. */
export function distanceToSegment(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const t = shareAlong(x, y, x0, y0, x1, y1);
  return Math.hypot(x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0));
}

/** Where the nearest point of the line lies between its ends, 0..1. */
function shareAlong(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const length = dx * dx + dy * dy;
  return length > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length)) : 0;
}

/** A straight piece of a stroke, in drawn px; the radius runs evenly from one end to the other. */
export interface Segment {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  readonly radius0: number;
  readonly radius1: number;
}

/** Covers with one piece of a stroke: the most stays where pieces overlap. Returns what may have changed. */
export function coverSegment(
  values: Float32Array,
  width: number,
  height: number,
  segment: Segment,
  featherPercent: number,
): { x: number; y: number; width: number; height: number } | null {
  const { x0, y0, x1, y1, radius0, radius1 } = segment;
  const most = Math.max(radius0, radius1);
  const left = Math.max(0, Math.floor(Math.min(x0, x1) - most - 1));
  const top = Math.max(0, Math.floor(Math.min(y0, y1) - most - 1));
  const right = Math.min(width, Math.ceil(Math.max(x0, x1) + most + 2));
  const bottom = Math.min(height, Math.ceil(Math.max(y0, y1) + most + 2));
  if (right <= left || bottom <= top) return null;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const t = shareAlong(x, y, x0, y0, x1, y1);
      const [u, v] = [x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0)];
      const radius = radius0 + t * (radius1 - radius0);
      const squared = u * u + v * v;
      if (squared > (radius + 1) * (radius + 1)) continue;
      const c = brushProfile(Math.sqrt(squared), radius, featherPercent, 1);
      const at = y * width + x;
      if (c > values[at]) values[at] = c;
    }
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}
