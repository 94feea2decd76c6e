import type { Psf } from './psf';

/** Samples under this share of the strongest do not belong to the line. */
const LEAST_SHARE = 0.1;

/**
 * Length of a drawn path, px: the lit samples are thinned to a line one sample wide, and the shortest tree that joins
 * what is left is measured, so that the quick stretch between two places where the camera stood counts although it is
 * too faint to be lit.
 *
 * Sources: Zhang & Suen, "A fast parallel algorithm for thinning digital patterns", Communications of the ACM 27
 * (1984); Prim, "Shortest connection networks and some generalizations", Bell System Technical Journal 36 (1957).
 */
export function arcLength({ width, height, data }: Psf): number {
  const strongest = data.reduce((most, value) => Math.max(most, value), 0);
  const padded = width + 2;
  const lit = new Uint8Array(padded * (height + 2));
  data.forEach((value, i) => {
    if (value >= LEAST_SHARE * strongest) lit[(Math.floor(i / width) + 1) * padded + (i % width) + 1] = 1;
  });
  thin(lit, padded);
  const line: { x: number; y: number }[] = [];
  lit.forEach((value, i) => {
    if (value === 1) line.push({ x: i % padded, y: Math.floor(i / padded) });
  });
  return shortestTree(line) + 1;
}

function shortestTree(points: readonly { readonly x: number; readonly y: number }[]): number {
  const away = points.map(() => Infinity);
  const left = new Set(points.keys());
  let length = 0;
  for (let at = 0; left.delete(at) && left.size > 0;) {
    let nearest = -1;
    for (const other of left) {
      away[other] = Math.min(away[other], Math.hypot(points[other].x - points[at].x, points[other].y - points[at].y));
      if (nearest < 0 || away[other] < away[nearest]) nearest = other;
    }
    length += away[nearest];
    at = nearest;
  }
  return length;
}

function thin(lit: Uint8Array, width: number): void {
  const around = [-width, -width + 1, 1, width + 1, width, width - 1, -1, -width - 1];
  for (let changed = true; changed;) {
    changed = false;
    for (const pass of [0, 1]) {
      const drop: number[] = [];
      for (let i = width; i < lit.length - width; i++) {
        if (lit[i] === 0) continue;
        const p = around.map((offset) => lit[i + offset]);
        const neighbours = p.reduce((sum, value) => sum + value, 0);
        const risings = p.filter((value, k) => value === 0 && p[(k + 1) % 8] === 1).length;
        const [north, , east, , south, , west] = p;
        const first = pass === 0 ? north * east * south : north * east * west;
        const second = pass === 0 ? east * south * west : north * south * west;
        if (neighbours >= 2 && neighbours <= 6 && risings === 1 && first === 0 && second === 0) drop.push(i);
      }
      for (const i of drop) lit[i] = 0;
      changed ||= drop.length > 0;
    }
  }
}
