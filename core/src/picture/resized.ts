import { gaussianBlur } from './gaussianBlur';
import { createPlane, type Plane } from './plane';

/** Resamples to another size: smoothed against aliasing where it shrinks, then bilinear. */
export function resized(plane: Plane, width: number, height: number): Plane {
  if (width === plane.width && height === plane.height) return plane;
  const shrink = plane.width / width;
  const source = shrink > 1.01 ? gaussianBlur(plane, 0.5 * Math.sqrt(shrink * shrink - 1)) : plane;
  const { data } = source;
  const out = createPlane(width, height);
  const across = Array.from({ length: width }, (_, x) => between(x, plane.width / width, plane.width));
  for (let y = 0; y < height; y++) {
    const down = between(y, plane.height / height, plane.height);
    const [top, bottom] = [down.first * plane.width, down.second * plane.width];
    for (let x = 0; x < width; x++) {
      const { first, second, share } = across[x];
      const upper = data[top + first] * (1 - share) + data[top + second] * share;
      const lower = data[bottom + first] * (1 - share) + data[bottom + second] * share;
      out.data[y * width + x] = upper * (1 - down.share) + lower * down.share;
    }
  }
  return out;
}

/** The two samples beside a place, and how far it lies from the first to the second. */
function between(index: number, step: number, length: number) {
  const place = Math.min(length - 1, Math.max(0, (index + 0.5) * step - 0.5));
  const first = Math.floor(place);
  return { first, second: Math.min(length - 1, first + 1), share: place - first };
}
