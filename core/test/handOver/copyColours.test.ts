import { expect, it } from 'vitest';
import {
  COPY_COLOURS,
  copyProfile,
  parseIccProfile,
  saveFormatsFor,
  SRGB,
  usualWishes,
  wishesFault,
  writeIccProfile,
} from '../../src';

const columnsOf = (m: readonly number[]) => [0, 1, 2].map((c) => [m[c], m[3 + c], m[6 + c]]);

it('the colour spaces of copies are those of their standards, under D50', () => {
  // sRGB: as in every profile of it, IEC 61966-2-1 with Bradford's adaptation.
  copyProfile('srgb').toXyzD50!.forEach((value, i) => expect(value).toBeCloseTo(SRGB.toXyzD50![i], 3));
  // ISO 22028-2:2013, annex: ROMM RGB to PCS XYZ.
  const romm = [0.7977, 0.1352, 0.0313, 0.288, 0.7119, 0.0001, 0, 0, 0.8249];
  copyProfile('romm').toXyzD50!.forEach((value, i) => expect(value).toBeCloseTo(romm[i], 3));
  // Display P3 and opRGB under D50, from memory of their published profiles.
  const p3 = [0.5151, 0.292, 0.1571, 0.2412, 0.6922, 0.0666, -0.0011, 0.0419, 0.7841];
  copyProfile('display-p3').toXyzD50!.forEach((value, i) => expect(value).toBeCloseTo(p3[i], 3));
  const op = [0.6097, 0.2053, 0.1492, 0.3111, 0.6257, 0.0632, 0.0195, 0.0609, 0.7446];
  copyProfile('oprgb').toXyzD50!.forEach((value, i) => expect(value).toBeCloseTo(op[i], 3));
});

it('white is the connection space’s white in all of them, and their curves rise from 0 to 1', () => {
  for (const colour of COPY_COLOURS) {
    if (colour === 'as-original') continue;
    const { toXyzD50, curves } = parseIccProfile(writeIccProfile(copyProfile(colour)));
    const white = columnsOf(toXyzD50!).reduce((sum, column) => sum.map((value, i) => value + column[i]));
    [0.9642, 1, 0.8249].forEach((value, i) => expect(white[i]).toBeCloseTo(value, 3));
    expect(curves[0](0)).toBeCloseTo(0, 6);
    expect(curves[0](1)).toBeCloseTo(1, 4);
  }
});

it('a photographer’s choice: sRGB for a JPEG, a wide space for raw, else as it was; a DNG for sensor data alone', () => {
  expect(usualWishes('jpeg', false).colour).toBe('srgb');
  expect(usualWishes('tiff16', false).colour).toBe('as-original');
  expect(usualWishes('tiff16', true).colour).toBe('romm');
  expect(usualWishes('dng', true).colour).toBe('as-original');
  expect(saveFormatsFor(false)).not.toContain('dng');
  expect(saveFormatsFor(true)).toContain('dng');
});

it('wishes that cannot be met are told', () => {
  const wishes = usualWishes('tiff16', false);
  expect(wishesFault(wishes, 'tiff16')).toBeNull();
  expect(wishesFault({ ...wishes, colour: 'srgb' }, 'dng')).toMatch(/camera/);
  expect(wishesFault({ ...wishes, ppi: 5 }, 'tiff16')).toMatch(/36 to 2400/);
  expect(wishesFault({ ...wishes, namePattern: '{frame' }, 'tiff16')).toMatch(/brace/);
});
