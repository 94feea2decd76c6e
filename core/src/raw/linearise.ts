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
  if (blackByColumn.length === 0 && blackByRow.length === 0 && samples.length >= 4 * CODES * black.values.length) {
    return byTables(samples, { width, height }, planes, levels);
  }
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

const CODES = CODE_MAX + 1;

/** The same of a large picture whose black only repeats: what each number stands for is found once for every place. */
function byTables(
  samples: Uint8Array | Uint16Array,
  { width, height }: Size,
  planes: number,
  { table, black, white }: SensorLevels,
): Float32Array {
  const out = new Float32Array(samples.length);
  const tables = black.values.map((dark, place) =>
    Float32Array.from({ length: CODES }, (_, code) => {
      const value = table ? table[Math.min(table.length - 1, code)] : code;
      return (value - dark) / (white[place % planes] - dark);
    }),
  );
  const perRow = width * planes;
  const period = black.columns * planes;
  for (let y = 0; y < height; y++) {
    const row = (y % black.rows) * period;
    for (let first = 0; first < period; first++) {
      const light = tables[row + first];
      const end = (y + 1) * perRow;
      for (let i = y * perRow + first; i < end; i += period) out[i] = light[samples[i]];
    }
  }
  return out;
}
