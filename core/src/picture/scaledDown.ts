import { drawnOver } from './drawnOver';
import { gaussianBlur } from './gaussianBlur';
import type { Plane } from './plane';

/** A smaller copy, smoothed first so that nothing finer than its samples stays; `scale` at most 1. */
export function scaledDown(plane: Plane, scale: number): Plane {
  if (scale === 1) return plane;
  const smooth = gaussianBlur(plane, 0.25 / scale);
  const size = { width: Math.round(plane.width * scale), height: Math.round(plane.height * scale) };
  return drawnOver(smooth, { ...size, x: 0, y: 0, stepX: 1 / scale, stepY: 1 / scale });
}
