import { describe, expect, it } from 'vitest';
import { colourSpaceOf, srgbDecode } from '@vitrocept/core';
import { WIDE } from '../../files/test/pictures';
import { linearOf, shownPixels } from '../src/shown';

describe('what a cell shows', () => {
  it('sRGB codes pass through: every 8-bit value stays itself', () => {
    const codes = Uint16Array.from({ length: 256 * 3 }, (_, i) => Math.floor(i / 3) * 257);
    const rgba = shownPixels(codes, colourSpaceOf(null, 3), true);
    for (let v = 0; v < 256; v++) expect(Array.from(rgba.subarray(v * 4, v * 4 + 4))).toEqual([v, v, v, 255]);
  });

  it('grey is shown in all three channels', () => {
    const rgba = shownPixels(Uint16Array.from([0, 32896, 65535]), colourSpaceOf(null, 1), false);
    expect(Array.from(rgba)).toEqual([0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255]);
  });

  it('wide colours are turned to sRGB: white stays white, grey stays neutral, a green grows past its range', () => {
    const space = colourSpaceOf(WIDE, 3);
    const rgba = shownPixels(
      Uint16Array.from([65535, 65535, 65535, 30000, 30000, 30000, 10000, 60000, 10000]),
      space,
      false,
    );
    for (const channel of [0, 1, 2]) expect(rgba[channel]).toBeGreaterThan(252);
    expect(Math.abs(rgba[4] - rgba[5])).toBeLessThan(3);
    expect(Math.abs(rgba[5] - rgba[6])).toBeLessThan(3);
    expect(rgba[8]).toBe(0);
    expect(rgba[9]).toBeGreaterThan(230);
  });

  it('shown pixels come back in linear sRGB', () => {
    const [red, green, blue] = linearOf(Uint8ClampedArray.from([0, 128, 255, 255, 51, 51, 51, 255]), {
      width: 2,
      height: 1,
    });
    expect([red.data[0], blue.data[0]]).toEqual([0, 1]);
    expect(green.data[0]).toBeCloseTo(srgbDecode(128 / 255), 6);
    expect(red.data[1]).toBe(green.data[1]);
  });
});
