import type { Filters } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

const UNKNOWNS = 7;
/** The upper triangle, row by row, and the right side. */
const SUMS = (UNKNOWNS * (UNKNOWNS + 1)) / 2 + UNKNOWNS;

/** The table and the gain are placed once, the parameters anew for every round of a fit. */
export function createSpectralSums(kernel: KernelExports, memory: KernelMemory): Filters['spectralSums'] {
  return ({ count, pitch, columns }, logGain) => {
    memory.reset();
    const given = memory.take(4 * UNKNOWNS);
    const sums = memory.take(4 * SUMS);
    const gain = memory.take(4 * pitch);
    const table = memory.place(columns);
    memory.floats(gain, pitch).fill(0).set(logGain);
    return (parameters) => {
      memory.floats(given, UNKNOWNS).set(parameters);
      const cost = kernel.spectralSums(table, 4 * pitch, count, gain, given, sums);
      const found = memory.floats(sums, SUMS);
      const normal = new Float64Array(UNKNOWNS * UNKNOWNS);
      for (let j = 0, from = 0; j < UNKNOWNS; from += UNKNOWNS - j, j++) {
        normal.set(found.subarray(from, from + UNKNOWNS - j), j * (UNKNOWNS + 1));
      }
      return { cost, normal, right: Float64Array.from(found.subarray(SUMS - UNKNOWNS)) };
    };
  };
}
