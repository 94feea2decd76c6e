import { describe, expect, it } from 'vitest';
import {
  bayerPattern,
  createPlane,
  demosaic,
  developLinear,
  developMosaic,
  mosaicOf,
  RGGB,
  seededRandom,
  shiftedPattern,
  type BayerPattern,
  type Plane,
} from '../../src';
import { deadLeaves } from '../synthetic';

const PATTERNS: BayerPattern[] = [RGGB, [1, 0, 2, 1], [1, 2, 0, 1], [2, 1, 1, 0]];

const ITSELF = Uint16Array.from({ length: 65536 }, (_, code) => code);

function codesOf(mosaic: Plane, pattern: BayerPattern): Uint16Array {
  const { width, height } = mosaic;
  const out = new Uint16Array(width * height * 3);
  demosaic(mosaic, pattern, ITSELF, (tile, codes) => {
    for (let row = 0; row < tile.height; row++) {
      const part = codes.subarray(3 * row * tile.width, 3 * (row + 1) * tile.width);
      out.set(part, ((tile.y + row) * width + tile.x) * 3);
    }
  });
  return out;
}

const planeFrom = (width: number, height: number, at: (x: number, y: number) => number): Plane => {
  const plane = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) plane.data[i] = at(x, y);
  return plane;
};

describe('a mosaic filled in', () => {
  it.each(PATTERNS)('leaves a flat colour flat up to the border (%d %d %d %d)', (...pattern) => {
    const flat = [0.2, 0.5, 0.35].map((value) => planeFrom(37, 29, () => value));
    const codes = codesOf(mosaicOf(flat, pattern), pattern);
    [0.2, 0.5, 0.35].forEach((value, c) => {
      for (let i = c; i < codes.length; i += 3) expect(Math.abs(codes[i] - value * 65535)).toBeLessThan(2);
    });
  });

  it.each(PATTERNS)('follows grey slopes exactly inside (%d %d %d %d)', (...pattern) => {
    const slope = planeFrom(40, 40, (x, y) => 0.1 + 0.01 * x + 0.005 * y);
    const codes = codesOf(mosaicOf([slope, slope, slope], pattern), pattern);
    for (let y = 10; y < 30; y++) {
      for (let x = 10; x < 30; x++) {
        const wanted = slope.data[y * 40 + x] * 65535;
        for (let c = 0; c < 3; c++) expect(Math.abs(codes[3 * (y * 40 + x) + c] - wanted)).toBeLessThan(2);
      }
    }
  });

  it('keeps what was measured', () => {
    const random = seededRandom(3);
    const scene = [0, 1, 2].map(() => planeFrom(50, 34, () => random.uniform()));
    const codes = codesOf(mosaicOf(scene, RGGB), RGGB);
    for (let y = 0; y < 34; y++) {
      for (let x = 0; x < 50; x++) {
        const c = (x & 1) + (y & 1);
        expect(codes[3 * (y * 50 + x) + c]).toBe(Math.round(scene[c].data[y * 50 + x] * 65535));
      }
    }
  });

  it('comes nearer to shapes with edges than means of the neighbours do', () => {
    const [r, g, b] = [5, 6, 7].map((seed) => deadLeaves(96, 96, seed));
    const scene = [r, g, b].map((plane, c) =>
      planeFrom(96, 96, (x, y) => 0.7 * g.data[y * 96 + x] + (0.3 * plane.data[y * 96 + x] * (c + 1)) / 3),
    );
    const mosaic = mosaicOf(scene, RGGB);
    const codes = codesOf(mosaic, RGGB);
    let [own, plain] = [0, 0];
    for (let y = 8; y < 88; y++) {
      for (let x = 8; x < 88; x++) {
        if (((x + y) & 1) === 1) continue;
        const i = y * 96 + x;
        const { data } = mosaic;
        const mean = (data[i - 1] + data[i + 1] + data[i - 96] + data[i + 96]) / 4;
        own += (codes[3 * i + 1] / 65535 - scene[1].data[i]) ** 2;
        plain += (mean - scene[1].data[i]) ** 2;
      }
    }
    expect(own).toBeLessThan(plain / 2);
  });

  it('holds pictures that are smaller than its reach', () => {
    expect(
      codesOf(
        planeFrom(1, 1, () => 0.5),
        RGGB,
      ),
    ).toHaveLength(3);
    expect(
      [
        ...codesOf(
          planeFrom(3, 2, () => 0.5),
          RGGB,
        ),
      ].every((code) => Math.abs(code - 32768) < 2),
    ).toBe(true);
  });
});

describe('developing', () => {
  it('balances, clips each channel at white and cuts', () => {
    const grey = [0.3, 0.6, 0.45].map((value) => planeFrom(24, 20, (x) => (x > 15 ? value * 2 : value)));
    const codes = developMosaic(mosaicOf(grey, RGGB), RGGB, [0.5, 1, 0.75], { x: 3, y: 5, width: 20, height: 10 });
    expect(codes).toHaveLength(20 * 10 * 3);
    const at = (x: number) => [...codes.subarray(3 * (5 * 20 + x - 3), 3 * (5 * 20 + x - 3) + 3)];
    at(6).forEach((code) => expect(Math.abs(code - 0.6 * 65535)).toBeLessThan(3));
    expect(at(20)).toEqual([65535, 65535, 65535]);
  });

  it('takes channels that have no mosaic as they are', () => {
    const light = Float32Array.from([0.25, 0.5, 0.3, -0.1, 2, 0.6]);
    const codes = developLinear(light, { width: 2, height: 1 }, [0.5, 1, 0.6], { x: 0, y: 0, width: 2, height: 1 });
    expect([...codes]).toEqual([32768, 32768, 32768, 0, 65535, 65535]);
  });
});

describe('patterns', () => {
  it('are seen shifted from elsewhere', () => {
    expect(shiftedPattern(RGGB, 1, 0)).toEqual([1, 0, 2, 1]);
    expect(shiftedPattern(RGGB, 2, 3)).toEqual([1, 2, 0, 1]);
  });

  it('are refused where they are no Bayer mosaic', () => {
    for (const colours of [
      [0, 1, 1, 1],
      [0, 0, 1, 2],
      [0, 1, 2, 1],
      [1, 1, 0, 2],
      [0, 1, 1],
      [3, 1, 1, 2],
    ]) {
      expect(() => bayerPattern(colours)).toThrow(/Bayer/);
    }
  });
});
