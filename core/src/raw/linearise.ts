import type { Size } from '../picture/region';
import { CODE_MAX } from '../picture/toneCurve';

/** How a sensor's numbers become light. */
export interface SensorLevels {
  /** What each number stands for; null: itself. */
  readonly table: ArrayLike<number> | null;
  /** Black at every place of a pattern that repeats, row by row, all planes of a place one after the other. */
  readonly black: { readonly columns: number; readonly rows: number; readonly values: readonly number[] };
  /** Added to black by column and by row; empty: nothing. */
  readonly blackByColumn: ArrayLike<number>;
  readonly blackByRow: ArrayLike<number>;
  /** A plane each. */
  readonly white: readonly number[];
}

/**
 * Sensor numbers as light, interleaved as they are: 0 black, 1 the white of the plane. Values beyond are kept: noise
 * reaches below black.
 * Source: the open DNG specification (1.4.0.0, chapter 5, "Mapping raw values to linear reference values").
 */
export function linearised(
  samples: Uint8Array | Uint16Array,
  { width, height }: Size,
  planes: number,
  levels: SensorLevels,
): Float32Array {
  const { table, black, blackByColumn, blackByRow, white } = levels;
  const out = new Float32Array(samples.length);
  const lastOfTable = table ? table.length - 1 : CODE_MAX;
  for (let y = 0, i = 0; y < height; y++) {
    const row = (y % black.rows) * black.columns;
    const moreHere = blackByRow[y] ?? 0;
    for (let x = 0; x < width; x++) {
      const place = (row + (x % black.columns)) * planes;
      const more = (blackByColumn[x] ?? 0) + moreHere;
      for (let plane = 0; plane < planes; plane++, i++) {
        const dark = black.values[place + plane] + more;
        const value = table ? table[Math.min(lastOfTable, samples[i])] : samples[i];
        out[i] = (value - dark) / (white[plane] - dark);
      }
    }
  }
  return out;
}
