import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../src';
import { solveSymmetric } from '../../src/spectrum/solveSymmetric';

describe('equations of a symmetric positive definite matrix', () => {
  it('agree with a solution worked by hand', () => {
    // 4x + 2y = 10 and 2x + 3y = 9; only the lower triangle is read.
    const [x, y] = solveSymmetric(Float64Array.from([4, NaN, 2, 3]), Float64Array.from([10, 9]));
    expect(x).toBeCloseTo(1.5, 12);
    expect(y).toBeCloseTo(2, 12);
  });

  it.each([1, 3, 7, 35])('of %i unknowns are met', (n) => {
    const random = seededRandom(n);
    const rows = Array.from({ length: 2 * n }, () => Array.from({ length: n }, () => random.normal()));
    const matrix = new Float64Array(n * n);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) matrix[i * n + j] = rows.reduce((sum, row) => sum + row[i] * row[j], 0);
    }
    const truth = Float64Array.from({ length: n }, () => random.normal());
    const right = truth.map((_, i) => truth.reduce((sum, value, j) => sum + matrix[i * n + j] * value, 0));
    solveSymmetric(matrix, right).forEach((value, i) => expect(value).toBeCloseTo(truth[i], 8));
  });

  it('of unknowns that meet only through the last ones are met, zeros passed over', () => {
    // Three pairs that know nothing of each other, and one unknown that meets all.
    const n = 7;
    const matrix = new Float64Array(n * n);
    for (let i = 0; i < n; i++) matrix[i * n + i] = 4;
    for (const i of [1, 3, 5]) matrix[i * n + i - 1] = 1;
    for (let j = 0; j < n - 1; j++) matrix[(n - 1) * n + j] = 0.5;
    const at = (i: number, j: number) => (i >= j ? matrix[i * n + j] : matrix[j * n + i]);
    const truth = Float64Array.from({ length: n }, (_, i) => i - 3);
    const whole = Float64Array.from({ length: n * n }, (_, i) => at(Math.floor(i / n), i % n));
    const right = truth.map((_, i) => truth.reduce((sum, value, j) => sum + whole[i * n + j] * value, 0));
    solveSymmetric(matrix, right).forEach((value, i) => expect(value).toBeCloseTo(truth[i], 12));
  });

  it('that say nothing of an unknown do not fail', () => {
    const found = solveSymmetric(Float64Array.from([2, 0, 0, 0]), Float64Array.from([4, 0]));
    expect(found[0]).toBeCloseTo(2, 12);
    expect(Number.isFinite(found[1])).toBe(true);
  });

  it('spend what they are given, and give it back as the answer', () => {
    const right = Float64Array.from([6]);
    expect(solveSymmetric(Float64Array.from([3]), right)).toBe(right);
    expect(right[0]).toBeCloseTo(2, 12);
  });
});
