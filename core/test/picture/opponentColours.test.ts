import { describe, expect, it } from 'vitest';
import { filledPlane, fromOpponent, planeOf, seededRandom, toOpponent } from '../../src';
import { trustOf } from '../../src/recover/trust';

describe('opponent colours', () => {
  const random = seededRandom(2);
  const channels = [0, 1, 2].map(() =>
    planeOf(
      8,
      4,
      Array.from({ length: 32 }, () => random.uniform()),
    ),
  );

  it('there and back is the same, lengths are kept, grey has no colour', () => {
    const components = toOpponent(channels);
    fromOpponent(components).forEach((plane, c) =>
      plane.data.forEach((value, i) => expect(value).toBeCloseTo(channels[c].data[i], 5)),
    );
    for (let i = 0; i < 32; i++) {
      const energy = (planes: typeof channels) => planes.reduce((sum, plane) => sum + plane.data[i] ** 2, 0);
      expect(energy(components)).toBeCloseTo(energy(channels), 5);
    }
    const grey = toOpponent([channels[0], channels[0], channels[0]]);
    expect(Math.max(...grey[1].data.map(Math.abs), ...grey[2].data.map(Math.abs))).toBeLessThan(1e-6);
  });

  it('a single channel stays as it is', () => {
    expect(toOpponent([channels[0]])).toEqual([channels[0]]);
    expect(fromOpponent([channels[0]])).toEqual([channels[0]]);
  });
});

describe('trust in samples', () => {
  const noise = seededRandom(6);
  const plane = filledPlane(96, 48, 0.18);
  // The right half is four times as noisy as assumed.
  for (let i = 0; i < plane.data.length; i++) plane.data[i] += (i % 96 < 48 ? 0.01 : 0.04) * noise.normal();
  const line = { a: 0, b: 1e-4 };

  it('falls where local noise is higher', () => {
    const trust = trustOf(plane, 1e-4, plane, line, 1);
    expect(trust.data[24 * 96 + 20]).toBeCloseTo(1, 0);
    expect(trust.data[24 * 96 + 75]).toBeCloseTo(0.25, 1);
  });

  it('a smooth place is believed no more than its tone allows; exponent 0 leaves all alike', () => {
    const smooth = trustOf(filledPlane(40, 40, 0.18), 1e-4, filledPlane(40, 40, 0.18), line, 0.5);
    expect(Math.max(...smooth.data)).toBeLessThan(1.1);
    expect(trustOf(plane, 1e-4, plane, line, 0).data.every((value) => value === 1)).toBe(true);
  });
});
