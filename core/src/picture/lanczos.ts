import { clampIndex } from './crop';
import { createPlane, type Plane } from './plane';

/** Half the width of the kernel, px. */
export const LANCZOS_REACH = 3;
const TAPS = 2 * LANCZOS_REACH;
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

/** The samples around a place and what each weighs. */
export function lanczosTaps(place: number): { readonly first: number; readonly weights: readonly number[] } {
  const left = Math.floor(place);
  const at = Math.round((place - left) * PHASES) * TAPS;
  return { first: left - (LANCZOS_REACH - 1), weights: Array.from(WEIGHTS.subarray(at, at + TAPS)) };
}

/** Places along one axis as first sample and row of weights. */
interface Places {
  readonly first: Int32Array;
  readonly phase: Int32Array;
}

function placesOf(count: number, placeOf: (index: number) => number): Places {
  const first = new Int32Array(count);
  const phase = new Int32Array(count);
  for (let i = 0; i < count; i++) {
    const place = placeOf(i);
    const left = Math.floor(place);
    first[i] = left - (LANCZOS_REACH - 1);
    phase[i] = Math.round((place - left) * PHASES) * TAPS;
  }
  return { first, phase };
}

/**
 * A plane between its samples, at places that are a column's and a row's.
 *
 * @param xOf, yOf - Of every column and row of the result, in px of the plane.
 * Source: Duchon, "Lanczos filtering in one and two dimensions", J. Appl. Meteor. 18 (1979); three lobes.
 */
export function lanczosGrid(
  plane: Plane,
  width: number,
  height: number,
  xOf: (column: number) => number,
  yOf: (row: number) => number,
): Plane {
  return across(down(plane, placesOf(height, yOf)), placesOf(width, xOf));
}

/** Row by row, so that memory is read in order. */
function down({ width, height, data }: Plane, { first, phase }: Places): Plane {
  const out = createPlane(width, first.length);
  for (let y = 0; y < first.length; y++) {
    const to = out.data.subarray(y * width, (y + 1) * width);
    const w = phase[y];
    const row = (k: number) => {
      const at = clampIndex(first[y] + k, height) * width;
      return data.subarray(at, at + width);
    };
    const [a, b, c, d, e, f] = [row(0), row(1), row(2), row(3), row(4), row(5)];
    const [wa, wb, wc] = [WEIGHTS[w], WEIGHTS[w + 1], WEIGHTS[w + 2]];
    const [wd, we, wf] = [WEIGHTS[w + 3], WEIGHTS[w + 4], WEIGHTS[w + 5]];
    for (let x = 0; x < width; x++) to[x] = wa * a[x] + wb * b[x] + wc * c[x] + wd * d[x] + we * e[x] + wf * f[x];
  }
  return out;
}

function across({ width, height, data }: Plane, { first, phase }: Places): Plane {
  const count = first.length;
  const out = createPlane(count, height);
  const padded = new Float32Array(width + 2 * PAD);
  const least = first[0];
  const isPadded = least >= -PAD && first[count - 1] + TAPS <= width + PAD;
  for (let y = 0; y < height; y++) {
    const row = data.subarray(y * width, (y + 1) * width);
    padded.set(row, PAD);
    padded.fill(row[0], 0, PAD);
    padded.fill(row[width - 1], width + PAD);
    const to = out.data.subarray(y * count, (y + 1) * count);
    for (let x = 0; x < count; x++) {
      const w = phase[x];
      if (isPadded) {
        const i = first[x] + PAD;
        to[x] =
          WEIGHTS[w] * padded[i] +
          WEIGHTS[w + 1] * padded[i + 1] +
          WEIGHTS[w + 2] * padded[i + 2] +
          WEIGHTS[w + 3] * padded[i + 3] +
          WEIGHTS[w + 4] * padded[i + 4] +
          WEIGHTS[w + 5] * padded[i + 5];
      } else {
        let sum = 0;
        for (let k = 0; k < TAPS; k++) sum += WEIGHTS[w + k] * row[clampIndex(first[x] + k, width)];
        to[x] = sum;
      }
    }
  }
  return out;
}

/** Beyond its border a row goes on for so many px. */
const PAD = 16;

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
