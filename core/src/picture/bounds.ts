import type { Plane } from './plane';
import type { Region } from './region';

/** The smallest rectangle that holds every sample over `least`; null where there is none. */
export function boundsOver({ width, height, data }: Plane, least = 0): Region | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] <= least) continue;
      left = Math.min(left, x);
      top = Math.min(top, y);
      right = Math.max(right, x);
      bottom = y;
    }
  }
  return right < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}
