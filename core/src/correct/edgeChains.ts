import { gaussianBlur } from '../picture/gaussianBlur';
import type { Plane } from '../picture/plane';
import type { Point } from '../picture/region';

const SIGMA_PX = 1.4;
/** Of the root of light, per px. */
const LEAST_SLOPE = 0.012;
/** From one point of a chain to the next the edge may turn by so much. */
const MOST_TURN = Math.cos((25 * Math.PI) / 180);

/**
 * Points of edges, one after the other along each, found between samples where the slope is steepest across the edge.
 *
 * @param luma - Linear light.
 * @param least - Shorter chains are left out, points.
 * Source: Canny, IEEE PAMI 8 (1986), without hysteresis; the place between samples by a parabola (Devernay 1995).
 */
export function edgeChains(luma: Plane, least: number): Point[][] {
  const { width, height } = luma;
  const slopes = slopesOf(luma);
  const points = new Map<number, Point>();
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const point = steepestAt(slopes, x, y);
      if (point) points.set(y * width + x, point);
    }
  }
  const chains: Point[][] = [];
  for (const start of [...points.keys()]) {
    if (!points.has(start)) continue;
    const forth = followed(start, 1, points, slopes);
    const back = followed(start, -1, points, slopes);
    const chain = [...back.reverse(), points.get(start)!, ...forth];
    points.delete(start);
    if (chain.length >= least) chains.push(chain);
  }
  return chains;
}

interface Slopes {
  readonly width: number;
  readonly across: Float32Array;
  readonly down: Float32Array;
  readonly size: Float32Array;
}

function slopesOf(luma: Plane): Slopes {
  const root = { ...luma, data: luma.data.map((value) => Math.sqrt(Math.max(0, value))) };
  const { width, height, data } = gaussianBlur(root, SIGMA_PX);
  const [across, down, size] = [0, 1, 2].map(() => new Float32Array(data.length));
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      across[i] = (data[i + 1] - data[i - 1]) / 2;
      down[i] = (data[i + width] - data[i - width]) / 2;
      size[i] = Math.hypot(across[i], down[i]);
    }
  }
  return { width, across, down, size };
}

/** The place between samples where the slope is steepest along its own direction; null where that is not here. */
function steepestAt({ width, across, down, size }: Slopes, x: number, y: number): Point | null {
  const i = y * width + x;
  if (size[i] < LEAST_SLOPE) return null;
  const [u, v] = [across[i] / size[i], down[i] / size[i]];
  const at = (px: number, py: number) => {
    const [left, top] = [Math.floor(px), Math.floor(py)];
    const [a, b] = [px - left, py - top];
    const j = top * width + left;
    return (1 - b) * ((1 - a) * size[j] + a * size[j + 1]) + b * ((1 - a) * size[j + width] + a * size[j + width + 1]);
  };
  const [before, after] = [at(x - u, y - v), at(x + u, y + v)];
  if (size[i] < before || size[i] <= after) return null;
  const off = (0.5 * (before - after)) / (before + after - 2 * size[i] || 1);
  return { x: x + off * u, y: y + off * v };
}

/** The points that follow on a start along its edge, taken out of `points`; `way` is 1 or −1. */
function followed(start: number, way: number, points: Map<number, Point>, slopes: Slopes): Point[] {
  const { width, across, down, size } = slopes;
  const chain: Point[] = [];
  let here = start;
  for (;;) {
    const along = [(-way * down[here]) / size[here], (way * across[here]) / size[here]];
    let next = -1;
    let best = 0;
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        const there = here + dy * width + dx;
        if (there === here || there === start || !points.has(there)) continue;
        const ahead = (dx * along[0] + dy * along[1]) / Math.hypot(dx, dy);
        const alike = (across[here] * across[there] + down[here] * down[there]) / (size[here] * size[there]);
        if (alike > MOST_TURN && ahead > best) [next, best] = [there, ahead];
      }
    }
    if (next < 0) return chain;
    chain.push(points.get(next)!);
    points.delete(next);
    here = next;
  }
}
