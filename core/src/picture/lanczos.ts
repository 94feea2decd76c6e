import { clampIndex } from './crop';
import type { Plane } from './plane';

/** Half the width of the kernel, px. */
export const LANCZOS_REACH = 3;
export const LANCZOS_TAPS = 2 * LANCZOS_REACH;
const TAPS = LANCZOS_TAPS;
const PHASES = 4096;

function lanczos(x: number): number {
  if (x === 0) return 1;
  if (Math.abs(x) >= LANCZOS_REACH) return 0;
  const a = Math.PI * x;
  return (LANCZOS_REACH * Math.sin(a) * Math.sin(a / LANCZOS_REACH)) / (a * a);
}

/** Weights of the six samples around a place, by how far it lies from the third to the fourth; each six sum to 1. */
const WEIGHTS = (() => {
  const table = new Float32Array((PHASES + 1) * TAPS);
  for (let phase = 0; phase <= PHASES; phase++) {
    const own = Array.from({ length: TAPS }, (_, k) => lanczos(phase / PHASES - (k - (LANCZOS_REACH - 1))));
    const sum = own.reduce((total, value) => total + value, 0);
    own.forEach((value, k) => (table[phase * TAPS + k] = value / sum));
  }
  return table;
})();

/** The first of the samples around every place, and what the six weigh, one place after the other. */
export function lanczosPlaces(places: Float64Array): { readonly first: Int32Array; readonly weights: Float32Array } {
  const first = new Int32Array(places.length);
  const weights = new Float32Array(places.length * TAPS);
  places.forEach((place, i) => {
    const left = Math.floor(place);
    const at = Math.round((place - left) * PHASES) * TAPS;
    first[i] = left - (LANCZOS_REACH - 1);
    for (let k = 0; k < TAPS; k++) weights[i * TAPS + k] = WEIGHTS[at + k];
  });
  return { first, weights };
}

/** A plane at one place between its samples; outside, its border goes on. */
export function lanczosAt({ width, height, data }: Plane, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const across = Math.round((x - left) * PHASES) * TAPS;
  const down = Math.round((y - top) * PHASES) * TAPS;
  const [u, v] = [left - (LANCZOS_REACH - 1), top - (LANCZOS_REACH - 1)];
  let sum = 0;
  if (u >= 0 && v >= 0 && u + TAPS <= width && v + TAPS <= height) {
    for (let k = 0, i = v * width + u; k < TAPS; k++, i += width) {
      sum +=
        WEIGHTS[down + k] *
        (WEIGHTS[across] * data[i] +
          WEIGHTS[across + 1] * data[i + 1] +
          WEIGHTS[across + 2] * data[i + 2] +
          WEIGHTS[across + 3] * data[i + 3] +
          WEIGHTS[across + 4] * data[i + 4] +
          WEIGHTS[across + 5] * data[i + 5]);
    }
    return sum;
  }
  for (let k = 0; k < TAPS; k++) {
    const row = clampIndex(v + k, height) * width;
    let own = 0;
    for (let n = 0; n < TAPS; n++) own += WEIGHTS[across + n] * data[row + clampIndex(u + n, width)];
    sum += WEIGHTS[down + k] * own;
  }
  return sum;
}
