import { gaussianBlur } from '../picture/gaussianBlur';
import { keptWith } from '../picture/kept';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';

/** Grain of a flat square, before and after: variances. Place: its first sample. */
export interface FlatSquare {
  readonly x: number;
  readonly y: number;
  readonly before: number;
  readonly after: number;
}

export const FLAT_SIDE_PX = 8;
const HIGH_PASS_SIGMA = 2;
/** Structure over noise up to which a square is flat. */
const FLATNESS = 0.6;
/** Grain under one 8-bit level is not seen: it counts as this much, both before and after. */
const UNSEEN = (0.6 / 255) ** 2;

/**
 * Grain (what is finer than σ 2 px) in squares where the original shows nothing but noise.
 *
 * @param before, after - Brightness, sRGB-encoded 0..1; `before` is never changed after.
 * @param noise - Noise variance of `before` at each sample, encoded.
 */
export function flatSquares(before: Plane, after: Plane, noise: Plane, use: Uint8Array): FlatSquare[] {
  const { width, height } = before;
  const { old, structure } = keptWith(before, 'grain and structure', () => grainAndStructure(before));
  const squares: FlatSquare[] = [];
  let now: Plane | null = null;
  const area = FLAT_SIDE_PX ** 2;
  for (let y = 0; y + FLAT_SIDE_PX <= height; y += FLAT_SIDE_PX) {
    for (let x = 0; x + FLAT_SIDE_PX <= width; x += FLAT_SIDE_PX) {
      let [sumOld, sumNoise, sumStructure] = [0, 0, 0];
      let usable = true;
      for (let row = y; row < y + FLAT_SIDE_PX && usable; row++) {
        for (let i = row * width + x; i < row * width + x + FLAT_SIDE_PX; i++) {
          if (use[i] === 0) usable = false;
          sumOld += old.data[i];
          sumNoise += noise.data[i];
          sumStructure += structure.data[i];
        }
      }
      const expected = sumNoise / area + UNSEEN;
      if (!usable || sumStructure / area > FLATNESS * expected || sumOld / area > 2 * expected) continue;
      now ??= squaredDifference(after, gaussianBlur(after, HIGH_PASS_SIGMA));
      squares.push({ x, y, before: sumOld / area + UNSEEN, after: meanOfSquare(now, x, y) + UNSEEN });
    }
  }
  return squares;
}

/** Squares of what is finer than grain, and variance of what is coarser: that must not stand out from noise either. */
function grainAndStructure(before: Plane): { old: Plane; structure: Plane } {
  const coarse = gaussianBlur(before, HIGH_PASS_SIGMA);
  const mean = boxMean(coarse, 6);
  return { old: squaredDifference(before, coarse), structure: boxMean(squaredDifference(coarse, mean), 6) };
}

function meanOfSquare({ width, data }: Plane, x: number, y: number): number {
  let sum = 0;
  for (let row = y; row < y + FLAT_SIDE_PX; row++) {
    for (let i = row * width + x; i < row * width + x + FLAT_SIDE_PX; i++) sum += data[i];
  }
  return sum / FLAT_SIDE_PX ** 2;
}

function squaredDifference(p: Plane, q: Plane): Plane {
  const out = createPlane(p.width, p.height);
  for (let i = 0; i < out.data.length; i++) {
    const difference = p.data[i] - q.data[i];
    out.data[i] = difference * difference;
  }
  return out;
}
