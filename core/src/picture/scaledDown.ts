import { bilinear } from './bilinear';
import { gaussianBlur } from './gaussianBlur';
import { createPlane, type Plane } from './plane';

/** A smaller copy, smoothed first so that nothing finer than its samples stays; `scale` at most 1. */
export function scaledDown(plane: Plane, scale: number): Plane {
  if (scale === 1) return plane;
  const smooth = gaussianBlur(plane, 0.25 / scale);
  const out = createPlane(Math.round(plane.width * scale), Math.round(plane.height * scale));
  for (let y = 0, i = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, i++) {
      out.data[i] = bilinear(smooth, (x + 0.5) / scale - 0.5, (y + 0.5) / scale - 0.5);
    }
  }
  return out;
}
