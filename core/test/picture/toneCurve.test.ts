import { describe, expect, it } from 'vitest';
import { CodeFinder, srgbDecode, srgbEncode, tabulate } from '../../src';

describe('sRGB curve', () => {
  // IEC 61966-2-1: constants of the standard; 0.18 and code 128 computed from its formula by hand.
  it.each([
    [0, 0],
    [0.04045, 0.0031308],
    [0.5, 0.21404114],
    [128 / 255, 0.2158605],
    [1, 1],
  ])('decodes %f to %f', (encoded, linear) => expect(srgbDecode(encoded)).toBeCloseTo(linear, 7));

  it('encodes the 18 % grey at 0.4613561', () => expect(srgbEncode(0.18)).toBeCloseTo(0.4613561, 6));

  it('goes there and back for every 16-bit code', () => {
    const table = tabulate(srgbDecode);
    const finder = new CodeFinder(table);
    const wrong = Array.from(table.keys()).filter((code) => finder.codeOf(table[code]) !== code);
    expect(wrong).toEqual([]);
  });

  it('finds the nearest code on a curve of fine stairs, wherever light lies', () => {
    const table = tabulate((encoded) => Math.floor(encoded * 6000) / 6000);
    const finder = new CodeFinder(table);
    for (let i = 0; i < 2000; i++) {
      const light = Math.fround((i * 0.6180339887) % 1);
      const code = finder.codeOf(light);
      for (let beside = Math.max(0, code - 40); beside <= Math.min(65535, code + 40); beside++) {
        if (Math.abs(table[beside] - light) < Math.abs(table[code] - light) - 1e-7)
          expect([light, beside]).toEqual(code);
      }
    }
  });

  it('finds the nearest code between two and clips outside', () => {
    const table = tabulate((encoded) => encoded);
    const finder = new CodeFinder(table);
    expect(finder.codeOf(1000.4 / 65535)).toBe(1000);
    expect(finder.codeOf(1000.6 / 65535)).toBe(1001);
    expect(finder.codeOf(-0.2)).toBe(0);
    expect(finder.codeOf(1.7)).toBe(65535);
    expect(finder.codeOf(NaN)).toBe(0);
    expect(finder.codeOf(Infinity)).toBe(65535);
    // Half-way the darker one.
    expect(finder.codeOf((table[7] + table[8]) / 2)).toBe(7);
  });
});
