import { describe, expect, it } from 'vitest';
import { correctSensor, fillBadSamples, type CorrectedArea, type SensorCorrection } from '../../src';

const SIZE = { width: 6, height: 4 };
const ALL: CorrectedArea = { top: 0, left: 0, bottom: 4, right: 6, plane: 0, planes: 1, rowPitch: 1, columnPitch: 1 };
const even = (value = 0.5, planes = 1) => new Float32Array(24 * planes).fill(value);

function corrected(correction: SensorCorrection, light = even(), planes = 1): number[] {
  correctSensor(light, SIZE, planes, [correction]);
  return [...light].map((value) => Math.round(1e4 * value) / 1e4);
}

describe('what a maker wrote down to be corrected', () => {
  it('a gain map is followed between its points by lines, and goes on beyond them', () => {
    const map = {
      kind: 'gain-map',
      area: ALL,
      rows: 1,
      columns: 2,
      planes: 1,
      spacing: { down: 0, across: 0.5 },
      origin: { down: 0, across: 0.25 },
      gains: [1, 2],
    } as const;
    // Sample x stands at (x + 0.5) / 6 of the width: 0.083, 0.25, 0.417, 0.583, 0.75, 0.917.
    expect(corrected(map).slice(0, 6)).toEqual([0.5, 0.5, 0.6667, 0.8333, 1, 1]);
  });

  it('only the samples of its area are changed: every second row and column, one plane', () => {
    const area = { ...ALL, top: 1, left: 1, rowPitch: 2, columnPitch: 2 };
    const map = { kind: 'scale', along: 'row', area, values: [2, 4] } as const;
    const out = corrected(map);
    expect(out.slice(0, 6)).toEqual([0.5, 0.5, 0.5, 0.5, 0.5, 0.5]);
    expect(out.slice(6, 12)).toEqual([0.5, 1, 0.5, 1, 0.5, 1]);
    expect(out.slice(18)).toEqual([0.5, 2, 0.5, 2, 0.5, 2]);
    const third = { ...ALL, plane: 2 };
    const planes = corrected({ kind: 'delta', along: 'column', area: third, values: [0.1, 0.2] }, even(0.5, 3), 3);
    expect(planes.slice(0, 9)).toEqual([0.5, 0.5, 0.6, 0.5, 0.5, 0.7, 0.5, 0.5, 0.5]);
  });

  it('fall-off grows with the distance from its own middle, 1 at the farthest corner', () => {
    const out = corrected({ kind: 'radial-gain', k: [1, 0.5, 0, 0, 0], middle: { across: 0, down: 0 } });
    // 1 + r² + r⁴ / 2; the far corner has r = 1, its neighbour to the left r² = (16 + 9) / (25 + 9).
    expect(out[0]).toBe(0.5);
    expect(out[23]).toBeCloseTo(0.5 * 2.5, 3);
    const squared = 25 / 34;
    expect(out[22]).toBeCloseTo(0.5 * (1 + squared + squared ** 2 / 2), 3);
  });

  it('light goes through a polynomial or a table', () => {
    expect(corrected({ kind: 'polynomial', area: ALL, values: [0.1, 0, 2] })[0]).toBeCloseTo(0.6, 4);
    const values = Array.from({ length: 65536 }, (_, code) => code >> 1);
    expect(corrected({ kind: 'table', area: ALL, values })[0]).toBeCloseTo(0.25, 4);
    expect(corrected({ kind: 'table', area: ALL, values }, even(7))[0]).toBeCloseTo(0.5, 4);
  });
});

describe('bad samples', () => {
  it('become the mean of the nearest of their colour, never of each other', () => {
    const size = { width: 8, height: 8 };
    const numbers = Uint16Array.from({ length: 64 }, (_, i) => 100 + 10 * (i % 2) + 50 * (Math.floor(i / 8) % 2));
    const before = numbers.slice();
    numbers[3 * 8 + 3] = 9000;
    numbers[3 * 8 + 5] = 0;
    fillBadSamples(numbers, size, {
      places: [
        { x: 3, y: 3 },
        { x: 99, y: 0 },
      ],
      numbers: [0],
    });
    expect(numbers).toEqual(before);
  });
});
