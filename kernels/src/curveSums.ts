import {
  CONTROL_SHARES,
  curveTable,
  fillWaves,
  highestOf,
  pointsOf,
  UNKNOWNS,
  type PathCurve,
  type CurveSums,
  type SpectrumSamples,
} from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** As assembly/curveSums.ts has them: points and unknowns rounded up to whole fours. */
const POINT_ROOM = 68;
const ROW = 36;
const CONTROL_ROOM = 16;

export function curveSums(
  kernel: KernelExports,
  memory: KernelMemory,
  samples: SpectrumSamples,
  curve: PathCurve,
  parameters: Float64Array,
  wantsEquations: boolean,
): CurveSums {
  memory.reset();
  const { side, count } = samples;
  const highest = highestOf(samples);
  const table = memory.place(curveTable(samples));
  const shares = memory.place(Float32Array.from(CONTROL_SHARES));
  const given = memory.place(Float32Array.from(parameters));
  const length = (highest + 1) * POINT_ROOM;
  const waves = memory.take(16 * length);
  const [normal, right] = [memory.take(4 * ROW * ROW), memory.take(4 * ROW)];
  const room = memory.take(4 * (2 * POINT_ROOM + CONTROL_ROOM + ROW));
  const tables = memory.floats(waves, 4 * length).fill(0);
  const { x, y } = pointsOf(curve);
  [x, y].forEach((places, axis) => {
    const [cos, sin] = [2 * axis, 2 * axis + 1].map((part) => tables.subarray(part * length, (part + 1) * length));
    fillWaves(places, side, highest, POINT_ROOM, cos, sin);
  });
  memory.floats(normal, ROW * ROW).fill(0);
  memory.floats(right, ROW).fill(0);
  const wants = wantsEquations ? 1 : 0;
  const cost = kernel.curveSums(table, count, waves, highest, side, shares, given, wants, normal, right, room);
  const sums = memory.floats(normal, ROW * ROW);
  return {
    cost,
    normal: wantsEquations
      ? Float64Array.from(
          { length: UNKNOWNS * UNKNOWNS },
          (_, i) => sums[Math.floor(i / UNKNOWNS) * ROW + (i % UNKNOWNS)],
        )
      : null,
    right: Float64Array.from(memory.floats(right, UNKNOWNS)),
  };
}
