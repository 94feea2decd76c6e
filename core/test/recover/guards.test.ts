import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { filledPlane, limitHalos, neighbourhoodRange, pileOf, planeOf, type Plane } from '../../src';
import { edgeContrast } from '../../src/recover/edgeContrast';
import { trustOf } from '../../src/recover/trust';
import { withNoise } from '../synthetic';

const SIDE = 24;
const planes = fc
  .array(fc.float({ min: 0, max: 1, noNaN: true }), { minLength: SIDE * SIDE, maxLength: SIDE * SIDE })
  .map((values) => planeOf(SIDE, SIDE, values));
const copy = (plane: Plane) => ({ ...plane, data: plane.data.slice() });

describe('halo limit', () => {
  it('never lets a sample leave its neighbourhood’s range by more than the share of it', () => {
    fc.assert(
      fc.property(planes, planes, fc.integer({ min: 0, max: 50 }), (original, answer, percent) => {
        const held = copy(answer);
        limitHalos(held, original, 2, percent);
        const { low, high } = neighbourhoodRange(original, 2);
        held.data.forEach((value, i) => {
          const [dark, bright] = [Math.sqrt(low.data[i]), Math.sqrt(high.data[i])];
          const room = ((bright - dark) * percent) / 100;
          expect(Math.sqrt(value)).toBeLessThanOrEqual(bright + room + 1e-5);
          expect(Math.sqrt(value)).toBeGreaterThanOrEqual(Math.max(0, dark - room) - 1e-5);
        });
      }),
      { numRuns: 30 },
    );
  });

  it('leaves alone what stays inside, and holding twice is holding once', () => {
    fc.assert(
      fc.property(planes, planes, (original, answer) => {
        const same = copy(original);
        limitHalos(same, original, 1, 10);
        expect(same.data).toEqual(original.data);
        const once = copy(answer);
        limitHalos(once, original, 1, 10);
        const twice = copy(once);
        limitHalos(twice, original, 1, 10);
        twice.data.forEach((value, i) => expect(value).toBeCloseTo(once.data[i], 5));
      }),
      { numRuns: 30 },
    );
  });

  it('the range is the square’s, cut at the edges', () => {
    const { low, high } = neighbourhoodRange(planeOf(4, 1, [4, 1, 3, 2]), 1);
    expect([...low.data]).toEqual([1, 1, 1, 2]);
    expect([...high.data]).toEqual([4, 4, 3, 3]);
  });
});

describe('edge contrast', () => {
  const step = planeOf(
    40,
    8,
    Array.from({ length: 320 }, (_, i) => (i % 40 < 20 ? 0.2 : i % 40 === 20 ? 0.4 : 0.6)),
  );
  const steepness = ({ data }: Plane) => Math.max(...data.slice(120, 158).map((value, i) => data[121 + i] - value));

  it('makes an edge steeper', () => {
    expect(steepness(edgeContrast(step, 3, 20))).toBeGreaterThan(1.1 * steepness(step));
  });

  it('with the limit at 0 leaves no overshoot at all', () => {
    const { data } = edgeContrast(step, 3, 0);
    expect(Math.max(...data)).toBeLessThanOrEqual(0.6 + 1e-6);
    expect(Math.min(...data)).toBeGreaterThanOrEqual(0.2 - 1e-6);
    expect(Math.max(...edgeContrast(step, 3, null).data)).toBeGreaterThan(0.65);
  });
});

describe('trust in samples', () => {
  const flat = filledPlane(64, 64, 0.4);
  const line = { a: 0, b: 1e-4 };

  it('is never none, the same everywhere where its share is 0, and worked out once', () => {
    const noisy = withNoise(flat, 0.01, 2);
    const trust = trustOf(noisy, 1e-4, flat, line, 1);
    expect(Math.min(...trust.data)).toBeGreaterThan(0);
    expect(trustOf(noisy, 1e-4, flat, line, 1)).toBe(trust);
    expect(trustOf(noisy, 1e-4, flat, line, 0.5)).not.toBe(trust);
    expect(trustOf(noisy, 1e-4, flat, line, 0).data.every((value) => value === 1)).toBe(true);
  });

  it('falls where the noise is higher than assumed, within its bounds', () => {
    const noisy = withNoise(flat, 0.01, 2);
    const rough = withNoise(flat, 0.08, 3);
    for (let i = 0; i < noisy.data.length; i++) if (i % 64 >= 32) noisy.data[i] = rough.data[i];
    const { data } = trustOf(noisy, 1e-4, flat, line, 1);
    const mean = (from: number, to: number) => {
      const values = data.filter((_, i) => i >= 64 * 16 && i % 64 >= from && i % 64 < to);
      return values.reduce((sum, value) => sum + value, 0) / values.length;
    };
    expect(mean(4, 24)).toBeGreaterThan(4 * mean(40, 60));
    expect(Math.max(...data)).toBeLessThanOrEqual(3);
  });

  it('does not depend on the piece: a smooth background is not believed without bound', () => {
    const smooth = { ...flat, data: flat.data.map((value, i) => value + 1e-4 * (i % 64)) };
    const trust = trustOf(smooth, 1e-4, flat, line, 1);
    expect(Math.max(...trust.data)).toBeLessThanOrEqual(1.6);
  });
});

describe('piles', () => {
  it.each([
    [0, 0.5, 0.4, 'good-as-is'],
    [1.5, 1.5, 0.4, 'good-as-is'],
    [0.8, 2, 0.4, 'grainy'],
    [6, 0.3, 0.2, 'soft'],
    [6, 4, 0.2, 'soft'],
    [30, 4, 0.05, 'beyond-recovery'],
    [0, 9, 0.01, 'beyond-recovery'],
  ])('blur %f px, noise %f %%, detail up to %f: %s', (blur, noise, detail, pile) => {
    expect(pileOf(blur, noise, detail)).toBe(pile);
  });
});
