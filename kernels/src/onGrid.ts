import type { GridAxis, Plane } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** Bytes of a row of so many floats as the kernels take it. */
const pitchOf = (length: number): number => Math.ceil(length / 4) * 16;
const rowsTo4 = (rows: number): number => Math.ceil(rows / 4) * 4;

/** See assembly/onGrid.ts. */
export function onGrid(
  kernel: KernelExports,
  memory: KernelMemory,
  plane: Plane,
  across: GridAxis,
  down: GridAxis,
): Plane {
  const { width, height, data } = plane;
  const [columns, rows] = [across.first.length, down.first.length];
  memory.reset();
  const [upright, turned] = [pitchOf(width), pitchOf(rows)];
  const from = memory.take(rowsTo4(height) * upright);
  const axes = [down, across].map(({ first, weights, solving }) => {
    const at = memory.take(4 * first.length);
    memory.words(at, first.length).set(first);
    return { first: at, weights: memory.place(weights), solving: solving && memory.place(solving) };
  });
  const stretched = memory.take(rowsTo4(rows) * upright);
  const over = memory.take(rowsTo4(width) * turned);
  const wide = memory.take(rowsTo4(columns) * turned);
  const out = memory.take(rowsTo4(rows) * pitchOf(columns));
  const own = memory.floats(from, (height * upright) / 4);
  for (let y = 0; y < height; y++) own.set(data.subarray(y * width, (y + 1) * width), (y * upright) / 4);

  const [vertical, horizontal] = axes;
  if (vertical.solving !== null) kernel.solveDown(from, upright, height, vertical.solving);
  kernel.stretchDown(from, upright, height, vertical.first, vertical.weights, rows, stretched);
  kernel.turnOver(stretched, upright, rows, over, turned);
  if (horizontal.solving !== null) kernel.solveDown(over, turned, width, horizontal.solving);
  kernel.stretchDown(over, turned, width, horizontal.first, horizontal.weights, columns, wide);
  kernel.turnOver(wide, turned, columns, out, pitchOf(columns));

  const found = memory.floats(out, (rows * pitchOf(columns)) / 4);
  const answer = new Float32Array(columns * rows);
  for (let y = 0; y < rows; y++) {
    const at = (y * pitchOf(columns)) / 4;
    answer.set(found.subarray(at, at + columns), y * columns);
  }
  return { width: columns, height: rows, data: answer };
}
