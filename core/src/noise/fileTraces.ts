import { overshoots } from '../picture/edges';
import { srgbEncode } from '../picture/toneCurve';
import { MID_TONE } from './noise';
import type { Plane } from '../picture/plane';

/** What somebody, or the file's own compression, did to a picture before it came here. */
export interface FileTraces {
  /** How much steeper brightness steps across JPEG's blocks than elsewhere: 0 not at all, 0.1 and more shows. */
  readonly blocking: number;
  /**
   * How far sharp edges overshoot on both sides, % of their step, a quarter of them more; null where there are too few.
   */
  readonly overshootPercent: number | null;
}

const BLOCK_PX = 8;
const LEAST_EDGES = 12;

/**
 * @param luma - Linear light. @param inside - 1 where it counts. @param noisePercent - At mid-tone, of clipping.
 */
export function fileTraces(luma: Plane, inside: Plane, noisePercent: number): FileTraces {
  const encoded = encodedOf(luma);
  const use = Uint8Array.from(inside.data, (value) => (value > 0 ? 1 : 0));
  const found = overshoots(encoded, use, (noisePercent / 100) * RISE_AT_MID_TONE).sort((a, b) => a - b);
  return {
    blocking: blockingIn(encoded),
    overshootPercent: found.length < LEAST_EDGES ? null : found[Math.floor(0.75 * (found.length - 1))],
  };
}

const encodedOf = (plane: Plane): Plane => ({
  ...plane,
  data: plane.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))),
});

/** The `blocking` of `FileTraces` alone. @param plane - Linear light. */
export const blockingOf = (plane: Plane): number => blockingIn(encodedOf(plane));

const blockingIn = (encoded: Plane): number =>
  Math.min(blockingAlong(encoded, 1), blockingAlong(encoded, encoded.width));

/** What the sRGB curve rises by at the mid-tone. */
const RISE_AT_MID_TONE = (1.055 / 2.4) * MID_TONE ** (1 / 2.4 - 1);

/**
 * The mean bend of brightness (how far a step differs from its two neighbours) at every place modulo 8: where one place
 * stands out from the others, blocks begin there. Wherever in the picture the grid of blocks lies.
 */
function blockingAlong({ data, width, height }: Plane, step: number): number {
  const sums = new Float64Array(BLOCK_PX);
  const counts = new Float64Array(BLOCK_PX);
  const isAcross = step === 1;
  for (let y = isAcross ? 0 : 2; y < height - (isAcross ? 0 : 1); y++) {
    for (let x = isAcross ? 2 : 0; x < width - (isAcross ? 1 : 0); x++) {
      const i = y * width + x;
      const here = data[i] - data[i - step];
      const around = (data[i - step] - data[i - 2 * step] + data[i + step] - data[i]) / 2;
      const place = (isAcross ? x : y) % BLOCK_PX;
      // Edges must not outvote the plain places in which blocks are seen.
      sums[place] += Math.min(MOST_BEND, Math.abs(here - around));
      counts[place]++;
    }
  }
  const means = Array.from(sums, (sum, place) => sum / Math.max(1, counts[place])).sort((a, b) => a - b);
  const usual = (means[3] + means[4]) / 2;
  return usual > 0 ? Math.max(0, means[BLOCK_PX - 1] / usual - 1) : 0;
}

const MOST_BEND = 8 / 255;
