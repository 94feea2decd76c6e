import type { Filters } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** Rows of codes made shorter. */
export function sumsAcross(
  kernel: KernelExports,
  memory: KernelMemory,
  ...[codes, width, tables, { ratio, start, end, before, after }]: Parameters<Filters['sumsAcross']>
): Float32Array[] {
  memory.reset();
  const stride = tables.length;
  const count = start.length;
  const rows = codes.length / (width * stride);
  const own = new Map([...new Set(tables)].map((table) => [table, memory.place(table)]));
  const [starts, ends] = [start, end].map((values) => {
    const at = memory.take(4 * count);
    memory.words(at, count).set(values);
    return at;
  });
  const [firsts, lasts] = [before, after].map((values) => memory.place(values));
  const to = memory.take(4 * rows * count);
  const from = memory.take(2 * codes.length);
  memory.codes(from, codes.length).set(codes);
  return tables.map((table, c) => {
    const at = from + 2 * c;
    const light = own.get(table)!;
    kernel.sumsAcross(at, rows, 2 * width * stride, 2 * stride, light, starts, ends, firsts, lasts, ratio, count, to);
    return memory.floats(to, rows * count).slice();
  });
}
