import { describe, expect, it } from 'vitest';
import {
  adaptation,
  adaptationOfChannels,
  ciede2000,
  daylight,
  labOf,
  lightOf,
  multiply3,
  neutralGains,
  REC709_WEIGHTS,
  srgbEncode,
} from '../../src';

const times = (m: readonly number[], v: readonly number[]) =>
  [0, 1, 2].map((row) => v.reduce((sum, value, i) => sum + m[3 * row + i] * value, 0));
const xyzOf = ({ x, y }: { x: number; y: number }) => [x / y, 1, (1 - x - y) / y];
/** XYZ to linear sRGB: IEC 61966-2-1. */
const FROM_XYZ = [3.2406, -1.5372, -0.4986, -0.9689, 1.8758, 0.0415, 0.0557, -0.204, 1.057];
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];

describe('the colour of light', () => {
  it('daylight lies where the D illuminants do: CIE 15:2004, table T.3', () => {
    const D = [
      [5003, 0.34567, 0.3585],
      [5503, 0.33242, 0.34743],
      [6504, 0.31272, 0.32903],
      [7504, 0.29902, 0.31485],
    ];
    for (const [kelvin, x, y] of D) {
      expect(daylight(kelvin).x).toBeCloseTo(x, 3);
      expect(daylight(kelvin).y).toBeCloseTo(y, 3);
    }
  });

  it('a glowing body of 2856 K is illuminant A (0.4476, 0.4075: CIE 15:2004)', () => {
    const { x, y } = lightOf(2856, 0);
    expect(x).toBeCloseTo(0.4476, 3);
    expect(y).toBeCloseTo(0.4075, 3);
  });

  it('nothing jumps where daylight begins', () => {
    for (const kelvin of [3000, 4000, 7000]) {
      const [low, high] = [lightOf(kelvin - 0.5, 0), lightOf(kelvin + 0.5, 0)];
      expect(Math.hypot(low.x - high.x, low.y - high.y)).toBeLessThan(2e-4);
    }
  });

  it('green and magenta lie across the locus, on either side of it, equally far', () => {
    const ucs = ({ x, y }: { x: number; y: number }) => [
      (4 * x) / (-2 * x + 12 * y + 3),
      (6 * y) / (-2 * x + 12 * y + 3),
    ];
    const [u, v] = ucs(lightOf(5500, 0));
    const [green, magenta] = [lightOf(5500, 100), lightOf(5500, -100)].map(ucs);
    expect(Math.hypot(green[0] - u, green[1] - v)).toBeCloseTo(0.03, 4);
    expect(green[1]).toBeGreaterThan(v);
    expect((green[0] + magenta[0]) / 2).toBeCloseTo(u, 6);
  });
});

describe('adaptation', () => {
  it('from D50 to D65 is Bradford’s matrix as it is printed by Lindbloom (values from memory)', () => {
    const printed = [
      0.9555766, -0.0230393, 0.0631636, -0.0282895, 1.0099416, 0.0210077, 0.0122982, -0.020483, 1.3299098,
    ];
    adaptation({ x: 0.34567, y: 0.3585 }, { x: 0.31271, y: 0.32902 }).forEach((value, i) =>
      expect(Math.abs(value - printed[i])).toBeLessThan(1e-3),
    );
  });

  it('there and back changes nothing', () => {
    const [a, b] = [lightOf(3200, 10), lightOf(7500, -20)];
    multiply3(adaptation(b, a), adaptation(a, b)).forEach((value, i) => expect(value).toBeCloseTo(IDENTITY[i], 9));
  });

  it('a grey of 18 % that was lit by D50 becomes grey again, ΔE00 under 0.5', () => {
    const lit = times(
      FROM_XYZ,
      xyzOf({ x: 0.34567, y: 0.3585 }).map((value) => 0.18 * value),
    );
    const [r, g, b] = times(adaptationOfChannels(lightOf(5003, 0), IDENTITY), lit);
    expect(ciede2000(labOf(r, g, b), labOf(0.18, 0.18, 0.18))).toBeLessThan(0.5);
    // Before it was far from it.
    expect(ciede2000(labOf(lit[0], lit[1], lit[2]), labOf(0.18, 0.18, 0.18))).toBeGreaterThan(8);
  });

  it('a picked grey becomes exactly neutral, and exactly as bright as it was', () => {
    const mean = [0.3, 0.2, 0.11];
    const gains = neutralGains(mean, REC709_WEIGHTS)!;
    const after = mean.map((value, c) => value * gains[c]);
    expect(after[0]).toBeCloseTo(after[1], 12);
    expect(after[2]).toBeCloseTo(after[1], 12);
    const luma = (colour: readonly number[]) => colour.reduce((sum, value, c) => sum + REC709_WEIGHTS[c] * value, 0);
    expect(luma(after)).toBeCloseTo(luma(mean), 12);
    expect(neutralGains([0.2, 0, 0.1], REC709_WEIGHTS)).toBeNull();
    expect(srgbEncode(0.18)).toBeCloseTo(0.4614, 3);
  });
});
