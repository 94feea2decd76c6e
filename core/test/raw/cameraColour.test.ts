import { describe, expect, it } from 'vitest';
import {
  balancedColour,
  colourSpaceOf,
  kelvinOf,
  linearised,
  PRACTICE_SENSOR,
  practiceNeutral,
  parseIccProfile,
  SRGB,
  writeIccProfile,
  type CameraColour,
} from '../../src';

const { colorMatrix } = PRACTICE_SENSOR;
const D65 = { kelvin: 6504, colorMatrix };
const applied = (m: readonly number[], v: readonly number[]) =>
  [0, 1, 2].map((row) => m[3 * row] * v[0] + m[3 * row + 1] * v[1] + m[3 * row + 2] * v[2]);

describe('a camera’s colours', () => {
  it('make white of what it saw of a neutral: D50 of the connection space', () => {
    const { neutral, toXyzD50 } = balancedColour({ calibrations: [D65], white: { neutral: practiceNeutral() } });
    expect(Math.max(...neutral)).toBe(1);
    // ICC.1:2022, 7.2.16.
    [0.9642, 1, 0.8249].forEach((value, i) => expect(applied(toXyzD50, [1, 1, 1])[i]).toBeCloseTo(value, 3));
  });

  it('are those of sRGB where the camera’s matrix is that of sRGB', () => {
    // IEC 61966-2-1: XYZ to linear sRGB.
    const own = [3.2406, -1.5372, -0.4986, -0.9689, 1.8758, 0.0415, 0.0557, -0.204, 1.057];
    const { toXyzD50 } = balancedColour({
      calibrations: [{ kelvin: 6504, colorMatrix: own }],
      white: { neutral: [1, 1, 1] },
    });
    SRGB.toXyzD50!.forEach((value, i) => expect(toXyzD50[i]).toBeCloseTo(value, 3));
  });

  it('come out alike from a neutral and from the light it was seen in', () => {
    const byNeutral = balancedColour({ calibrations: [D65], white: { neutral: practiceNeutral() } });
    const byLight = balancedColour({ calibrations: [D65], white: { xy: { x: 0.3127, y: 0.329 } } });
    byNeutral.neutral.forEach((value, i) => expect(byLight.neutral[i]).toBeCloseTo(value, 3));
    byNeutral.toXyzD50.forEach((value, i) => expect(byLight.toXyzD50[i]).toBeCloseTo(value, 2));
  });

  it('are taken between two lights, and beyond them from the nearer one', () => {
    const warm = { kelvin: 2856, colorMatrix: colorMatrix.map((value, i) => (i % 4 === 0 ? value * 1.2 : value)) };
    const at = (x: number, y: number) => balancedColour({ calibrations: [warm, D65], white: { xy: { x, y } } }).neutral;
    const only = (calibration: CameraColour['calibrations'][number], x: number, y: number) =>
      balancedColour({ calibrations: [calibration], white: { xy: { x, y } } }).neutral;
    expect(at(0.3127, 0.329)).toEqual(only(D65, 0.3127, 0.329));
    expect(at(0.28, 0.29)).toEqual(only(D65, 0.28, 0.29));
    expect(at(0.4476, 0.4074)[0]).toBeCloseTo(only(warm, 0.4476, 0.4074)[0], 3);
    const between = at(0.37, 0.375);
    const [first, second] = [only(D65, 0.37, 0.375)[0], only(warm, 0.37, 0.375)[0]];
    expect(between[0]).toBeGreaterThan(Math.min(first, second));
    expect(between[0]).toBeLessThan(Math.max(first, second));
  });

  it('follow the matrix that is meant for balanced colours where there is one', () => {
    const forwardMatrix = [0.6, 0.25, 0.1142, 0.25, 0.7, 0.05, 0.02, 0.1, 0.7049];
    const { toXyzD50 } = balancedColour({
      calibrations: [{ ...D65, forwardMatrix }],
      white: { neutral: practiceNeutral() },
    });
    forwardMatrix.forEach((value, i) => expect(toXyzD50[i]).toBeCloseTo(value, 6));
  });

  it('are refused where they make no sense', () => {
    const bad = (colour: CameraColour) => () => balancedColour(colour);
    expect(bad({ calibrations: [{ ...D65, colorMatrix: Array(9).fill(0) }], white: { neutral: [1, 1, 1] } })).toThrow(
      /matrices/,
    );
    expect(bad({ calibrations: [D65], white: { neutral: [1, 0, 1] } })).toThrow(/neutral/);
    expect(bad({ calibrations: [D65], white: { neutral: [0.01, 1, 0.02] } })).toThrow(/neutral/);
    expect(bad({ calibrations: [D65], white: { neutral: [NaN, 1, 1] } })).toThrow();
  });

  it('give the temperatures of standard lights', () => {
    // CIE 15:2004: A 2856 K, D50 5003 K, D65 6504 K, D75 7504 K.
    for (const [x, y, kelvin] of [
      [0.44758, 0.40745, 2856],
      [0.34567, 0.3585, 5003],
      [0.31272, 0.32903, 6504],
      [0.29902, 0.31485, 7504],
    ]) {
      expect(Math.abs(kelvinOf({ x, y }) / kelvin - 1)).toBeLessThan(0.005);
    }
  });
});

describe('a sensor’s numbers', () => {
  it('are light after table, black by place and row and column, and white', () => {
    const samples = Uint16Array.from([0, 1, 2, 3]);
    const light = linearised(samples, { width: 2, height: 2 }, 1, {
      table: [100, 200, 600, 1100],
      black: { columns: 2, rows: 1, values: [100, 90] },
      blackByColumn: [0, 10],
      blackByRow: [0, 100],
      white: [1100],
    });
    expect([...light].map((value) => Math.round(value * 1e6) / 1e6)).toEqual(
      [0, 0.1, 400 / 900 / 1, 1].map((v) => Math.round(v * 1e6) / 1e6),
    );
  });

  it('of three planes have a black and a white each', () => {
    const light = linearised(Uint16Array.from([10, 20, 60, 110, 220, 330]), { width: 2, height: 1 }, 3, {
      table: null,
      black: { columns: 1, rows: 1, values: [10, 20, 30] },
      blackByColumn: [],
      blackByRow: [],
      white: [110, 220, 330],
    });
    expect([...light].map((value) => +value.toFixed(3))).toEqual([0, 0, 0.1, 1, 1, 1]);
  });
});

describe('a written profile', () => {
  it('is read as what was written, and always has the same bytes', () => {
    const written = { description: 'camera, linear', toXyzD50: SRGB.toXyzD50, curve: [1] };
    const bytes = writeIccProfile(written);
    expect(writeIccProfile(written)).toEqual(bytes);
    const read = parseIccProfile(bytes);
    expect(read.description).toBe('camera, linear');
    read.toXyzD50!.forEach((value, i) => expect(value).toBeCloseTo(SRGB.toXyzD50![i], 4));
    expect(read.curves[1](0.3)).toBeCloseTo(0.3, 9);
    expect(colourSpaceOf(bytes, 3).decode[0][32768]).toBeCloseTo(32768 / 65535, 6);
  });

  it('may be grey, and may have a curve with a straight foot', () => {
    expect(parseIccProfile(writeIccProfile({ description: 'grey', toXyzD50: null, curve: [1] })).toXyzD50).toBeNull();
    const [curve] = parseIccProfile(
      writeIccProfile({
        description: 's',
        toXyzD50: SRGB.toXyzD50,
        curve: [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045],
      }),
    ).curves;
    for (const x of [0.01, 0.2, 0.8]) expect(curve(x)).toBeCloseTo(SRGB.curves[0](x), 4);
  });
});
