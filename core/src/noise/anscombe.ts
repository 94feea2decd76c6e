import { rooted } from '../picture/arithmetic';
import type { EvenTable } from '../picture/filters';
import { keptWith } from '../picture/kept';
import type { Plane } from '../picture/plane';
import type { NoiseLine } from './noise';

/**
 * Generalised Anscombe transform: (2/a)·√(a·y + ⅜a² + b), after which noise of variance a·y + b has variance near 1.
 * With a = 0 it is y/√b.
 * Source: Starck, Murtagh, Bijaoui (1998); Mäkitalo & Foi, IEEE TIP 22 (2013).
 */
export function stabilise(y: number, { a, b }: NoiseLine): number {
  if (a < LEAST_SLOPE) return y / Math.sqrt(Math.max(b, 1e-12));
  return (2 / a) * Math.sqrt(Math.max(0, a * y + 0.375 * a * a + b));
}

/** The transform of every sample of a plane. */
export function stabilised(plane: Plane, { a, b }: NoiseLine): Plane {
  if (a >= LEAST_SLOPE) return rooted(plane, a, 0.375 * a * a + b, 2 / a);
  const scale = 1 / Math.sqrt(Math.max(b, 1e-12));
  return { ...plane, data: plane.data.map((y) => y * scale) };
}

/** The transform turned round: what a single sample was. */
export function unstabilise(d: number, { a, b }: NoiseLine): number {
  if (a < LEAST_SLOPE) return d * Math.sqrt(Math.max(b, 1e-12));
  const root = Math.max(0, (a * d) / 2);
  return (root * root - 0.375 * a * a - b) / a;
}

const LEAST_SLOPE = 1e-9;
const STEPS = 1024;
/** Normal law, in steps of a quarter of σ up to 5 σ. */
const DRAWS = Array.from({ length: 41 }, (_, i) => {
  const at = (i - 20) / 4;
  return { at, share: Math.exp((-at * at) / 2) / (4 * Math.sqrt(2 * Math.PI)) };
});

/**
 * The exact unbiased inverse: from the mean of transformed samples to the light that they are samples of. A mean of
 * roots is not the root of the mean, and a file has cut noise off at black and at white: both are undone. So the mean
 * of noise round black comes back as black, not as grey.
 *
 * @returns From a mean of stabilised values to linear light 0..1, good to 1e-4.
 * Source: Mäkitalo & Foi, IEEE TIP 22 (2013); for what is cut off Foi, "Clipped noisy images: heteroskedastic modeling
 * and practical denoising", Signal Processing 89 (2009). The Poisson law is taken as normal.
 */
export function unbiasedInverse(line: NoiseLine): EvenTable {
  return keptWith(DRAWS, `${line.a} ${line.b}`, () => tabulated(line));
}

function tabulated(line: NoiseLine): EvenTable {
  const expected = Float64Array.from({ length: STEPS + 1 }, (_, i) => expectedOf((i / STEPS) ** 2, line));
  const [low, high] = [expected[0], expected[STEPS]];
  const values = new Float32Array(STEPS + 1);
  for (let i = 0, k = 0; i <= STEPS; i++) {
    const d = low + ((high - low) * i) / STEPS;
    while (k < STEPS - 1 && expected[k + 1] < d) k++;
    const [from, to] = [(k / STEPS) ** 2, ((k + 1) / STEPS) ** 2];
    values[i] = from + (to - from) * Math.min(1, (d - expected[k]) / Math.max(1e-12, expected[k + 1] - expected[k]));
  }
  return { low, perUnit: STEPS / (high - low), values };
}

/** Mean of the transform over the samples that a file keeps of light y. */
function expectedOf(y: number, line: NoiseLine): number {
  const sigma = Math.sqrt(line.a * y + line.b);
  return DRAWS.reduce(
    (sum, { at, share }) => sum + share * stabilise(Math.min(1, Math.max(0, y + sigma * at)), line),
    0,
  );
}
