import { gaussianBlur } from '../picture/gaussianBlur';
import { mostAhead } from '../picture/neighbourhoodRange';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { piecesOf } from './pieces';

/** Dilation by a disc: each sample becomes the most within `radius` px of it. Soft edges stay as soft. */
export function grown(plane: Plane, radius: number): Plane {
  const { width, height, data } = plane;
  const reach = Math.floor(radius);
  if (reach < 1) return plane;
  const out = data.slice();
  const widened = new Map<number, Float32Array>();
  for (let dy = -reach; dy <= reach; dy++) {
    const half = Math.floor(Math.sqrt(radius * radius - dy * dy) + 0.5);
    const rows = widened.get(half) ?? mostAcross(plane, half);
    widened.set(half, rows);
    for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++) {
      const [to, from] = [y * width, (y + dy) * width];
      for (let x = 0; x < width; x++) if (rows[from + x] > out[to + x]) out[to + x] = rows[from + x];
    }
  }
  return { width, height, data: out };
}

/** Erosion by a disc: each sample becomes the least within `radius` px of it. */
export function shrunkBy(plane: Plane, radius: number): Plane {
  return inverted(grown(inverted(plane), radius));
}

export function inverted({ width, height, data }: Plane): Plane {
  return { width, height, data: data.map((value) => 1 - value) };
}

function mostAcross({ width, data }: Plane, half: number): Float32Array {
  const out = new Float32Array(data.length);
  const line = new Float32Array(width + 2 * half);
  for (let row = 0; row < data.length; row += width) {
    line.fill(0);
    line.set(data.subarray(row, row + width), half);
    mostAhead(line, 2 * half + 1, 1);
    out.set(line.subarray(0, width), row);
  }
  return out;
}

/** From 90 to 10 % a Gaussian edge takes this many standard deviations. */
const EDGE_SIGMAS = 2.563;
/** From here on three box means do for a Gaussian, at a cost that does not grow. */
const LARGE_SIGMA = 4;

/** A hard edge then falls from 90 to 10 % over `px`. */
export function feathered(plane: Plane, px: number): Plane {
  const sigma = px / EDGE_SIGMAS;
  if (sigma < 0.2) return plane;
  if (sigma < LARGE_SIGMA) return gaussianBlur(plane, sigma);
  const half = Math.round((Math.sqrt(4 * sigma * sigma + 1) - 1) / 2);
  return boxMean(boxMean(boxMean(plane, half), half), half);
}

/** How far `feathered` looks, px. */
export function reachOfFeather(px: number): number {
  return Math.ceil((3 * px) / EDGE_SIGMAS) + 3;
}

/** 1 in what the mask encloses on all sides without covering it: pieces of at most `most` samples. */
export function holesOf(mask: Plane, most: number): Plane {
  return smallPieces(mask, 0, most);
}

/** 1 in covered pieces of at most `most` samples. */
export function specksOf(mask: Plane, most: number): Plane {
  return smallPieces(mask, 1, most);
}

function smallPieces({ width, height, data }: Plane, label: 0 | 1, most: number): Plane {
  const out = createPlane(width, height);
  const labels = Uint8Array.from(data, (value) => (value >= 0.5 ? 1 : 0));
  for (const piece of piecesOf(labels, label, width, height)) {
    const touchesBorder = piece.some((i) => {
      const x = i % width;
      return x === 0 || x === width - 1 || i < width || i >= width * (height - 1);
    });
    // What reaches the frame's border is not enclosed.
    if (piece.length > most || (label === 0 && touchesBorder)) continue;
    for (const i of piece) out.data[i] = 1;
  }
  return out;
}
