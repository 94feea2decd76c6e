import { BLOCKS_APART, blockGrids, sigmasOf, THRESHOLD, type Plane, type SlidingDctOptions } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** How many times as large as orthonormal the kernel's coefficients are along one direction. */
const SCALES = Array.from(
  { length: 8 },
  (_, k) => Math.sqrt(8) * (k === 0 ? 1 : Math.SQRT2 * Math.cos((k * Math.PI) / 16)),
);
/** Past the last block of a run the kernel reads and writes this many samples more; what lies there counts 0 times. */
const RUN_SLACK = 32;
/** Blocks of a run, and rows of it that are held at once: shorter and longer runs are slower. */
const MOST_BLOCKS = 252;
const BAND_ROWS = 32;
/** Bytes that a row of four blocks takes: of the plane, the pilot and the sums 128 each, of the weights 16. */
const GROUP_BYTES = 3 * 128 + 16;

export function slidingDct(
  kernel: KernelExports,
  memory: KernelMemory,
  plane: Plane,
  options: SlidingDctOptions,
): Plane {
  const { width, height, data } = plane;
  const grids = blockGrids(plane, options);
  const { pilot } = options;
  memory.reset();
  const room = (data.length + RUN_SLACK) * 4;
  const [from, guess, sum, shares] = Array.from({ length: 4 }, () => memory.take(room));
  const block = memory.take(80 * 16);
  const sigmas = sigmasOf(options).map((sigma, i) => sigma * SCALES[i % 8] * SCALES[Math.floor(i / 8)]);
  const table = memory.place(sigmas.map((sigma) => (pilot ? sigma : THRESHOLD * sigma) ** 2));
  // The mean of a block stays.
  memory.floats(table, 1)[0] = 0;
  const topsAt = memory.take(height * 4);
  const work = memory.take(BAND_ROWS * (MOST_BLOCKS / 4) * GROUP_BYTES);
  for (const [at, values] of [
    [from, data],
    [guess, pilot?.data],
    [sum, null],
    [shares, null],
  ] as const) {
    const all = memory.floats(at, data.length + RUN_SLACK);
    if (values) all.set(values);
    all.fill(0, values ? data.length : 0);
  }
  for (const { tops, lefts } of grids) {
    memory.words(topsAt, tops.length).set(tops);
    for (const { left, count } of runsOf(lefts)) {
      kernel.cleanRun(
        from,
        pilot ? guess : 0,
        width,
        left,
        count,
        topsAt,
        tops.length,
        table,
        work,
        block,
        sum,
        shares,
      );
    }
  }
  kernel.overShares(sum, shares, from, data.length * 4);
  return { width, height, data: memory.floats(sum, data.length).slice() };
}

/** Places evenly apart belong to one run. */
function runsOf(lefts: readonly number[]): { left: number; count: number }[] {
  const runs: { left: number; count: number }[] = [];
  for (const left of lefts) {
    const last = runs[runs.length - 1];
    if (last && last.count < MOST_BLOCKS && left === last.left + BLOCKS_APART * last.count) last.count++;
    else runs.push({ left, count: 1 });
  }
  return runs;
}
