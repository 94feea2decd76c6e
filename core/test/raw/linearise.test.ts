import { describe, expect, it } from 'vitest';
import { linearised, seededRandom, type SensorLevels } from '../../src';

const { uniform } = seededRandom(6);
const drawn = (count: number) => Uint16Array.from({ length: count }, () => Math.floor(65536 * uniform()));

/** As the specification says it, sample by sample. */
function bySpecification(samples: Uint16Array, width: number, planes: number, levels: SensorLevels): Float32Array {
  const { table, black, blackByColumn, blackByRow, white } = levels;
  return Float32Array.from(samples, (sample, i) => {
    const [plane, x, y] = [i % planes, Math.floor(i / planes) % width, Math.floor(i / planes / width)];
    const value = table ? table[Math.min(table.length - 1, sample)] : sample;
    const place = (y % black.rows) * black.columns + (x % black.columns);
    const dark = black.values[place * planes + plane] + (blackByColumn[x] ?? 0) + (blackByRow[y] ?? 0);
    return (value - dark) / (white[plane] - dark);
  });
}

const NONE: readonly number[] = [];
const bayer = { columns: 2, rows: 2, values: [512, 520, 498, 505.5] };
const plain = { table: null, black: bayer, blackByColumn: NONE, blackByRow: NONE, white: [16_000] };

describe('sensor numbers as light', () => {
  it.each([
    ['a mosaic, large', 1200, 900, 1, plain],
    ['a mosaic, small', 90, 80, 1, plain],
    ['with a table', 1200, 900, 1, { ...plain, table: Uint16Array.from({ length: 4096 }, (_, i) => i * 4) }],
    [
      'three planes',
      800,
      400,
      3,
      { ...plain, black: { columns: 1, rows: 1, values: [10, 20, 30] }, white: [900, 950, 990] },
    ],
    ['black by column and row', 1200, 900, 1, { ...plain, blackByColumn: drawn(1200), blackByRow: drawn(900) }],
  ] as const)('%s', (_name, width, height, planes, levels) => {
    const samples = drawn(width * height * planes);
    const wanted = bySpecification(samples, width, planes, levels);
    const given = linearised(samples, { width, height }, planes, levels);
    expect(given).toHaveLength(wanted.length);
    expect(given.findIndex((value, i) => value !== wanted[i])).toBe(-1);
  });
});
