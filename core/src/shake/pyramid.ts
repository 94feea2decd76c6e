import { fastLength } from '../fourier/lanes';
import { createPlane, type Plane } from '../picture/plane';

/** Extends to the right and below, by at least `margin`, with a blend between the edges that meet there. */
export function extended(plane: Plane, margin: number): Plane {
  const width = fastLength(plane.width + margin);
  const height = fastLength(plane.height + margin);
  const out = createPlane(width, height);
  for (let y = 0; y < plane.height; y++) {
    const from = y * plane.width;
    out.data.set(plane.data.subarray(from, from + plane.width), y * width);
    for (let x = plane.width; x < width; x++) {
      const share = (x - plane.width + 1) / (width - plane.width + 1);
      out.data[y * width + x] = plane.data[from + plane.width - 1] * (1 - share) + plane.data[from] * share;
    }
  }
  for (let y = plane.height; y < height; y++) {
    const share = (y - plane.height + 1) / (height - plane.height + 1);
    for (let x = 0; x < width; x++) {
      out.data[y * width + x] = out.data[(plane.height - 1) * width + x] * (1 - share) + out.data[x] * share;
    }
  }
  return out;
}
