import type { Psf } from '../psf/psf';

/** Samples under this share of the strongest do not belong to the line. */
const LEAST_SHARE = 0.1;

/**
 * Length of a drawn path, px: the lit samples are thinned to a line one sample wide and its steps are added, 1 along
 * an axis and √2 across.
 *
 * Source: Zhang & Suen, "A fast parallel algorithm for thinning digital patterns", Communications of the ACM 27 (1984).
 */
export function arcLength({ width, height, data }: Psf): number {
  const strongest = data.reduce((most, value) => Math.max(most, value), 0);
  const padded = width + 2;
  const lit = new Uint8Array(padded * (height + 2));
  data.forEach((value, i) => {
    if (value >= LEAST_SHARE * strongest) lit[(Math.floor(i / width) + 1) * padded + (i % width) + 1] = 1;
  });
  thin(lit, padded);
  let length = 0;
  for (let i = padded; i < lit.length - padded; i++) {
    if (lit[i] === 0) continue;
    const [right, below] = [lit[i + 1], lit[i + padded]];
    length += right + below;
    if (!right && !below && lit[i + padded + 1]) length += Math.SQRT2;
    if (!lit[i - 1] && !below && lit[i + padded - 1]) length += Math.SQRT2;
  }
  return length + 1;
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
