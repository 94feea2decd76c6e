import type { Kernels } from '../kernels';
import { boxMean } from '../picture/boxMean';
import { keptWith } from '../picture/kept';
import { createPlane, type Plane } from '../picture/plane';
import type { NoiseLine } from '../noise/noise';
import { reachOf, type Psf } from '../psf/psf';
import { FINAL_EFFORT } from '../recover/recovery';
import { recover } from '../recover/recover';

/**
 * A place of the subject on which a blur is tried: brightness in linear light, where samples count (over 0.5), where
 * white was reached.
 */
export interface TriedPlace {
  readonly luma: Plane;
  readonly use: Plane;
  readonly clipped: Uint8Array;
}

/** What a recovery under a blur does, measured without any truth. */
export interface AgainFigures {
  /**
   * Mean square of the answer photographed again less the photograph, over the noise's variance: at its edges and where
   * it is calm.
   */
  readonly restAtEdges: number;
  readonly restInCalm: number;
  /** Correlation of that rest between neighbours, −1..1: noise has none. */
  readonly restLikeness: number;
  /** Light under black and over white, per unit of change. */
  readonly beyondLight: number;
  /** Mean change, over the noise's standard deviation. */
  readonly change: number;
  /** How much sparser the gradients became: Σ|∇|/√Σ|∇|², after over before. */
  readonly sparsity: number;
}

const RIM_PX = 8;
const EDGES_FROM = 0.85;
const CALM_UP_TO = 0.5;
const EVERY = 3;
/** One sample's rest counts for no more than this. */
const MOST_REST = 100;
const LEAST_VARIANCE = 1e-6;

/**
 * Takes a blur back at some places, photographs the answers again, and measures what is left over and what became of
 * light and edges. A wrong blur shows by light under black, by a rest at edges, or by edges that did not get sharper.
 *
 * @param floor - Variance that counts as noise under this blur, linear light.
 * @param line - Noise of brightness by tone.
 * Source: rules of our own, measured on cases with truth (docs/methods/read.md).
 */
export function photographAgain(
  places: readonly TriedPlace[],
  psf: Psf,
  floor: number,
  line: NoiseLine,
  kernels: Kernels,
): AgainFigures {
  const sums = new Float64Array(13);
  for (const place of places) addPlace(sums, place, psf, floor, line, kernels);
  const [
    edgeRest,
    edges,
    calmRest,
    calm,
    lagged,
    squares,
    beyond,
    change,
    noise,
    after,
    afterSquares,
    before,
    beforeSquares,
  ] = sums;
  return {
    restAtEdges: edgeRest / Math.max(1, edges),
    restInCalm: calmRest / Math.max(1, calm),
    restLikeness: lagged / Math.max(1e-20, squares),
    beyondLight: beyond / Math.max(1e-20, change),
    change: change / Math.max(1e-20, noise),
    sparsity: (after / Math.sqrt(afterSquares) / before) * Math.sqrt(beforeSquares) || 1,
  };
}

function addPlace(
  sums: Float64Array,
  tried: TriedPlace,
  psf: Psf,
  floor: number,
  line: NoiseLine,
  kernels: Kernels,
): void {
  const { luma, use, clipped } = tried;
  const { width, height, data } = luma;
  const input = { channels: [luma], lumaWeights: [1], known: use, clipped, originX: 0, originY: 0, psf };
  const { free } = recover(
    input,
    {
      method: 'camera-shake',
      blurSizePx: 1,
      directionDeg: 0,
      noiseGuard: 50,
      haloLimitPercent: null,
      grainKeptPercent: 0,
      noiseFloor: [floor],
      noise: [line],
    },
    { ...FINAL_EFFORT, kernels },
  );
  const answer = free[0].data;
  const again = kernels.convolve(free, psf)[0].data;
  const rim = RIM_PX + Math.ceil(reachOf(psf));
  const believed = keptWith(tried, `believed ${rim}`, () => believedIn(use, clipped, rim));
  // Math.hypot guards against sizes that light does not have, and is many times slower.
  const steep = (values: Float32Array, i: number) => {
    const [across, down] = [values[i + 1] - values[i - 1], values[i + width] - values[i - width]];
    return Math.sqrt(across * across + down * down);
  };
  const few: number[] = [];
  for (let y = rim; y < height - rim; y += EVERY) {
    for (let i = y * width + rim; i < (y + 1) * width - rim; i += EVERY) if (believed[i]) few.push(steep(data, i));
  }
  const sorted = Float64Array.from(few).sort();
  const edge = sorted[Math.floor(EDGES_FROM * sorted.length)];
  const calm = sorted[Math.floor(CALM_UP_TO * sorted.length)];
  for (let y = rim; y < height - rim; y++) {
    for (let i = y * width + rim; i < (y + 1) * width - rim; i++) {
      if (!believed[i]) continue;
      const variance = line.a * Math.max(0, data[i]) + line.b + LEAST_VARIANCE;
      const rest = again[i] - data[i];
      const relative = Math.min(MOST_REST, (rest * rest) / variance);
      const before = steep(data, i);
      const after = steep(answer, i);
      if (before > edge) {
        sums[0] += relative;
        sums[1]++;
      } else if (before < calm) {
        sums[2] += relative;
        sums[3]++;
      }
      sums[4] += (rest * (again[i + 1] - data[i + 1] + again[i + width] - data[i + width])) / 2;
      sums[5] += rest * rest;
      sums[6] += Math.max(0, -answer[i], answer[i] - 1);
      sums[7] += Math.abs(answer[i] - data[i]);
      sums[8] += Math.sqrt(variance);
      sums[9] += after;
      sums[10] += after * after;
      sums[11] += before;
      sums[12] += before * before;
    }
  }
}

/** So few samples say nothing: then those beside what was not photographed count as well. */
const LEAST_BELIEVED = 4000;

/** Not 0 where a sample and all within `reach` were photographed, are used and did not reach white. */
function believedIn(use: Plane, clipped: Uint8Array, reach: number): Uint8Array {
  const count = use.data.length;
  const own = new Uint8Array(count);
  const used = createPlane(use.width, use.height);
  for (let i = 0; i < count; i++) own[i] = used.data[i] = use.data[i] > 0.5 ? 1 : 0;
  const white = clipped.includes(1) ? boxMean({ ...use, data: new Float32Array(clipped) }, reach).data : null;
  if (white) for (let i = 0; i < count; i++) if (white[i] > ANY) own[i] = 0;
  if (!own.includes(0)) return own;
  const inside = boxMean(used, reach).data;
  const deep = new Uint8Array(count);
  let believed = 0;
  for (let i = 0; i < count; i++) believed += deep[i] = own[i] === 1 && inside[i] > 1 - ANY ? 1 : 0;
  return believed >= LEAST_BELIEVED ? deep : own;
}

/** Running sums leave crumbs of less. */
const ANY = 1e-5;
