/** Steps to the eight neighbours; each next to its opposite. */
const STEPS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [1, 1],
  [-1, -1],
  [1, -1],
  [-1, 1],
] as const;

const NONE = -1;

/** Samples of a picture, each joined to those of its eight neighbours that are among them. */
export interface Grid {
  /** Their places in the picture, in its order. */
  readonly samples: Int32Array;
  /** 8 a sample: which one lies that way; the number of samples where there is none. */
  readonly neighbours: Int32Array;
  /** 8 a sample: what it costs to cut it from that neighbour, at least 0. */
  readonly weights: Float32Array;
}

/**
 * @param isIn - Not 0 where a sample takes part; null for all.
 * @param weightOf - Cost of cutting two neighbours apart, given their places in the picture.
 */
export function gridOver(
  width: number,
  height: number,
  isIn: Uint8Array | null,
  weightOf: (place: number, neighbour: number, isDiagonal: boolean) => number,
): Grid {
  const numbers = new Int32Array(width * height).fill(NONE);
  let count = 0;
  for (let i = 0; i < numbers.length; i++) if (isIn === null || isIn[i] !== 0) numbers[i] = count++;
  const samples = new Int32Array(count);
  const neighbours = new Int32Array(8 * count).fill(count);
  const weights = new Float32Array(8 * count);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const own = numbers[i];
      if (own === NONE) continue;
      samples[own] = i;
      for (let d = 0; d < 8; d += 2) {
        const u = x + STEPS[d][0];
        const v = y + STEPS[d][1];
        if (u >= width || v < 0 || v >= height) continue;
        const j = v * width + u;
        const other = numbers[j];
        if (other === NONE) continue;
        neighbours[8 * own + d] = other;
        neighbours[8 * other + d + 1] = own;
        weights[8 * own + d] = weights[8 * other + d + 1] = weightOf(i, j, d >= 4);
      }
    }
  }
  return { samples, neighbours, weights };
}
