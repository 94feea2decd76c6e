import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../src';
import { samplesOf } from '../../src/spectrum/spectralFit';
import { HUBER, LINEAR, PARAMETERS, sumUp } from '../../src/spectrum/spectralSums';

describe('the sums of a spectral fit', () => {
  it('are those of the plain formulas', () => {
    const random = seededRandom(4);
    const side = 16;
    const power = Float64Array.from({ length: side * side }, () => Math.exp(-8 * random.uniform()));
    const samples = samplesOf({ side, power, windows: 1 } as Parameters<typeof samplesOf>[0], 0.5, 1);
    const logGain = samples.f.map((f) => -9 * f * f);
    const base = samples.f.map((f) => -14 * f * f);
    const parameters = [-4, 2, 0.2, -0.1, 0.3, 0.05, -6];
    const sums = sumUp(samples, base, logGain, parameters);

    const normal = new Float64Array(PARAMETERS * PARAMETERS);
    const right = new Float64Array(PARAMETERS);
    let expected = 0;
    let far = 0;
    for (let i = 0; i < samples.count; i++) {
      const linear = samples.basis.reduce((sum, column, j) => sum + parameters[j] * column[i], 0);
      const signal = Math.exp(linear + logGain[i] + base[i]);
      const total = signal + Math.exp(parameters[LINEAR]);
      const residual = samples.logPower[i] - Math.log(total);
      const isFar = Math.abs(residual) > HUBER;
      far += isFar ? 1 : 0;
      expected += isFar ? HUBER * (Math.abs(residual) - HUBER / 2) : residual ** 2 / 2;
      const weight = isFar ? HUBER / Math.abs(residual) : 1;
      const slope = [...samples.basis.map((column) => (signal / total) * column[i]), 1 - signal / total];
      for (let j = 0; j < PARAMETERS; j++) {
        right[j] += weight * slope[j] * residual;
        for (let k = j; k < PARAMETERS; k++) normal[j * PARAMETERS + k] += weight * slope[j] * slope[k];
      }
    }
    expect(far).toBeGreaterThan(10);
    expect(samples.count - far).toBeGreaterThan(10);
    expect(sums.cost).toBeCloseTo(expected, 8);
    right.forEach((value, j) => expect(sums.right[j]).toBeCloseTo(value, 8));
    normal.forEach((value, j) => expect(sums.normal[j]).toBeCloseTo(value, 8));
  });
});
