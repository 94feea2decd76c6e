import { COLOUR_PAIRS, type Plane } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** The twin of core's plainGuidedFilter; eighteen planes lie in the module's memory at once. */
export function guidedFilter(
  kernel: KernelExports,
  memory: KernelMemory,
  wanted: Plane,
  guide: readonly Plane[],
  reach: number,
  stiffness: number,
): Plane {
  const { width, height, data } = wanted;
  const bytes = Math.ceil(data.length / 4) * 16;
  memory.reset();
  const sums = memory.take(width * 8);
  const [across, scratch, given, own] = [1, 1, 1, 3].map((planes) => memory.take(planes * bytes));
  const means = memory.take(13 * bytes);
  memory.floats(given, data.length).set(data);
  guide.forEach((plane, c) => memory.floats(own + c * bytes, data.length).set(plane.data));
  const mean = (from: number, to: number) => {
    kernel.meansAcross(from, across, width, height, reach);
    kernel.meansDown(across, to, width, height, reach, sums);
  };
  const meanOfProduct = (p: number, q: number, to: number) => {
    kernel.product(p, q, bytes, scratch);
    mean(scratch, to);
  };
  mean(given, means);
  for (let c = 0; c < 3; c++) {
    mean(own + c * bytes, means + (1 + c) * bytes);
    meanOfProduct(own + c * bytes, given, means + (4 + c) * bytes);
  }
  COLOUR_PAIRS.forEach(([p, q], k) => meanOfProduct(own + p * bytes, own + q * bytes, means + (7 + k) * bytes));
  kernel.guidedSlopes(means, bytes, stiffness);
  for (let k = 0; k < 4; k++) mean(means + k * bytes, means + (4 + k) * bytes);
  kernel.guidedSum(means + 4 * bytes, own, bytes, scratch);
  return { width, height, data: memory.floats(scratch, data.length).slice() };
}
