import { createPlane, type Plane } from './plane';

/** Means of squares of 2 px, of which the first begins at (left, top). */
export function halved(plane: Plane, left = 0, top = 0): Plane {
  const { data, width, height } = plane;
  const out = createPlane(Math.max(1, (width - left) >> 1), Math.max(1, (height - top) >> 1));
  for (let y = 0; y < out.height; y++) {
    const [upper, lower] = [top + 2 * y, Math.min(height - 1, top + 2 * y + 1)].map((row) => row * width);
    for (let x = 0; x < out.width; x++) {
      const [at, next] = [left + 2 * x, Math.min(width - 1, left + 2 * x + 1)];
      out.data[y * out.width + x] = (data[upper + at] + data[upper + next] + data[lower + at] + data[lower + next]) / 4;
    }
  }
  return out;
}
