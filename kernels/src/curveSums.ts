import {
  CONTROL_SHARES,
  curveTable,
  highestOf,
  pointsOf,
  UNKNOWNS,
  type PathCurve,
  type CurveSums,
  type SpectrumSamples,
} from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** As assembly/curveSums.ts has them: points rounded up to whole fours, unknowns and the residual to eights. */
const POINT_ROOM = 68;
const ROW = 40;
const GATHERED_ROWS = 16;

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
  const shares = memory.place(CONTROL_SHARES);
  const given = memory.place(parameters);
  const turns = memory.take(16 * POINT_ROOM);
  const waves = memory.take(16 * (highest + 1) * POINT_ROOM);
  const normal = memory.take(4 * ROW * ROW);
  const room = memory.take(4 * (2 * POINT_ROOM + GATHERED_ROWS * ROW));
  const { x, y } = pointsOf(curve);
  fillTurns(x, side, memory.floats(turns, 2 * POINT_ROOM));
  fillTurns(y, side, memory.floats(turns + 8 * POINT_ROOM, 2 * POINT_ROOM));
  memory.floats(normal, ROW * ROW).fill(0);
  const wants = wantsEquations ? 1 : 0;
  const cost = kernel.curveSums(table, count, turns, waves, highest, side, shares, given, wants, normal, room);
  const sums = memory.floats(normal, ROW * ROW);
  return {
    cost,
    normal: wantsEquations ? unpadded(sums) : null,
    right: Float64Array.from(sums.subarray(UNKNOWNS * ROW, UNKNOWNS * ROW + UNKNOWNS)),
  };
}

/** e^(−2πi·place/side), cosines and sines. */
function fillTurns(places: Float64Array, side: number, to: Float32Array): void {
  to.fill(0);
  for (let k = 0; k < places.length; k++) {
    const angle = (-2 * Math.PI * places[k]) / side;
    to[k] = Math.cos(angle);
    to[POINT_ROOM + k] = Math.sin(angle);
  }
}

function unpadded(rows: Float32Array): Float64Array {
  const out = new Float64Array(UNKNOWNS * UNKNOWNS);
  for (let j = 0; j < UNKNOWNS; j++) out.set(rows.subarray(j * ROW, j * ROW + UNKNOWNS), j * UNKNOWNS);
  return out;
}
