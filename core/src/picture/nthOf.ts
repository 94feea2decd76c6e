const HALF = 0x10000;

/**
 * The value that stands at place `n` when sorted, exactly, in two sweeps over the bits: many times as fast as sorting.
 *
 * @param values - None negative, none NaN; at least n + 1 of them. They stay as they are.
 */
export function nthOf(values: Float32Array, n: number): number {
  const bits = new Uint32Array(values.buffer, values.byteOffset, values.length);
  const counts = new Uint32Array(HALF);
  for (let i = 0; i < bits.length; i++) counts[bits[i] >>> 16]++;
  const upper = placeOf(counts, n);
  counts.fill(0);
  for (let i = 0; i < bits.length; i++) if (bits[i] >>> 16 === upper.value) counts[bits[i] & (HALF - 1)]++;
  const lower = placeOf(counts, upper.rest);
  return new Float32Array(Uint32Array.of(upper.value * HALF + lower.value).buffer)[0];
}

/** The value under which place n falls, and its place among those of that value. */
function placeOf(counts: Uint32Array, n: number): { value: number; rest: number } {
  let value = 0;
  let rest = n;
  while (rest >= counts[value]) rest -= counts[value++];
  return { value, rest };
}
