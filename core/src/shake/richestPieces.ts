import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { resized } from '../picture/resized';

/** Longest side of a piece that a path is estimated on. */
const PIECE_PX = 450;
/** Too small for a path to be told from the picture. */
const LEAST_PIECE_PX = 128;
const LEAST_COVER = 0.15;
/** Edges are looked for in the picture this many times smaller, where grain and fine texture do not count. */
const SHRINK = 4;
const STEP = 12;

interface Candidate {
  readonly x: number;
  readonly y: number;
  readonly edges: number;
}

/**
 * The square pieces of the used area with most edges, no two nearer than half a piece.
 *
 * @param side - Of a piece, px.
 * @returns Best first; empty where the area is too small.
 */
export function richestPieces(luma: Plane, use: Plane, most: number, side = PIECE_PX): Region[] {
  const width = Math.min(side, luma.width);
  const height = Math.min(side, luma.height);
  if (Math.min(width, height) < LEAST_PIECE_PX) return [];
  const small = { width: Math.ceil(luma.width / SHRINK), height: Math.ceil(luma.height / SHRINK) };
  const sums = edgeSums(resized(luma, small.width, small.height), resized(use, small.width, small.height));
  const piece = { width: Math.min(small.width, Math.floor(width / SHRINK)), height: Math.floor(height / SHRINK) };
  const candidates: Candidate[] = [];
  for (let y = 0; y + piece.height <= small.height; y += STEP) {
    for (let x = 0; x + piece.width <= small.width; x += STEP) {
      const { edges, cover } = sums(x, y, piece.width, piece.height);
      if (cover >= LEAST_COVER) candidates.push({ x, y, edges });
    }
  }
  candidates.sort((a, b) => b.edges - a.edges);
  const chosen: Candidate[] = [];
  for (const { x, y, edges } of candidates) {
    if (chosen.length === most) break;
    const isNear = (other: Candidate) =>
      Math.abs(other.x - x) < piece.width / 2 && Math.abs(other.y - y) < piece.height / 2;
    if (!chosen.some(isNear)) chosen.push({ x, y, edges });
  }
  return chosen.map(({ x, y }) => ({
    x: Math.min(luma.width - width, x * SHRINK),
    y: Math.min(luma.height - height, y * SHRINK),
    width,
    height,
  }));
}

/** Sum of gradients and share of used samples over any rectangle, by summed-area tables. */
function edgeSums({ width, height, data }: Plane, use: Plane) {
  const pitch = width + 1;
  const edges = new Float64Array(pitch * (height + 1));
  const used = new Float64Array(pitch * (height + 1));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const right = x + 1 < width ? data[i + 1] : data[i];
      const below = y + 1 < height ? data[i + width] : data[i];
      const edge = use.data[i] * Math.hypot(right - data[i], below - data[i]);
      const at = (y + 1) * pitch + x + 1;
      for (const [table, value] of [
        [edges, edge],
        [used, use.data[i]],
      ] as const) {
        table[at] = value + table[at - 1] + table[at - pitch] - table[at - pitch - 1];
      }
    }
  }
  return (x: number, y: number, w: number, h: number) => {
    const over = (table: Float64Array) =>
      table[(y + h) * pitch + x + w] - table[y * pitch + x + w] - table[(y + h) * pitch + x] + table[y * pitch + x];
    return { edges: over(edges), cover: over(used) / (w * h) };
  };
}
