import { installedFilters, type Cover } from './filters';
import { createPlane, type Plane } from './plane';

/** The plane drawn with more or fewer samples, each bilinear at its own middle; beyond the plane its borders repeat. */
export function drawnOver(plane: Plane, cover: Cover): Plane {
  const filters = installedFilters(plane) && installedFilters(cover);
  return (filters?.drawnOver ?? plainDrawnOver)(plane, cover);
}

/** Single precision, first down and then across, as the twin in kernels/assembly/drawnOver.ts. */
export function plainDrawnOver({ width, height, data }: Plane, cover: Cover): Plane {
  const { fround } = Math;
  const across = samplesBeside(cover.x, cover.stepX, cover.width, width);
  const down = samplesBeside(cover.y, cover.stepY, cover.height, height);
  const out = createPlane(cover.width, cover.height);
  const row = new Float32Array(width);
  for (let y = 0, i = 0; y < out.height; y++) {
    const [above, below, v] = [down.first[y] * width, down.second[y] * width, down.share[y]];
    for (let x = 0; x < width; x++) {
      row[x] = fround(data[above + x] + fround(v * fround(data[below + x] - data[above + x])));
    }
    for (let x = 0; x < out.width; x++, i++) {
      const left = row[across.first[x]];
      out.data[i] = fround(left + fround(across.share[x] * fround(row[across.second[x]] - left)));
    }
  }
  return out;
}

/** The two samples beside every place of a line of `length`, and how far each place is from the first to the second. */
export function samplesBeside(corner: number, step: number, count: number, length: number) {
  const first = new Int32Array(count);
  const second = new Int32Array(count);
  const share = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const at = Math.min(length - 1, Math.max(0, corner + (i + 0.5) * step - 0.5));
    first[i] = Math.floor(at);
    second[i] = Math.min(length - 1, first[i] + 1);
    share[i] = at - first[i];
  }
  return { first, second, share };
}
