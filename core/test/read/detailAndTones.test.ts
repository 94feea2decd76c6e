import { describe, expect, it } from 'vitest';
import {
  addClipped,
  addTones,
  CLIPPED,
  createPlane,
  noTones,
  type CodePiece,
  detailCurves,
  finestRecoverable,
  tonesOf,
  TONE_BINS,
} from '../../src';

const disc = { method: 'missed-focus', blurSizePx: 8, directionDeg: 0 } as const;

describe('recoverable detail', () => {
  it('follows the disc: half contrast at 0.3525/r and nothing at 0.6098/r', () => {
    // Source: tables of 2·J₁(x)/x (Abramowitz & Stegun 1964); a disc drawn in whole samples strays a little.
    const { f, blur } = detailCurves(disc, 1e-3, 1e-6);
    const at = (frequency: number) => blur[Math.round((frequency / 0.5) * (f.length - 1))];
    expect(at(0.3525 / 4)).toBeCloseTo(0.5, 1);
    expect(at(0.6098 / 4)).toBeLessThan(0.05);
  });

  it('comes back further with less noise, and wholly without', () => {
    const finest = [1e-3, 1e-5, 1e-7].map((floor) => finestRecoverable(detailCurves(disc, 1e-4, floor)));
    expect(finest[1]).toBeGreaterThan(finest[0]);
    expect(finest[2]).toBeGreaterThan(finest[1]);
    const quiet = detailCurves(null, 1e-4, 0);
    expect(Math.min(...quiet.recovered)).toBe(1);
    expect(Math.max(...quiet.noise)).toBe(0);
  });

  it('of a movement is what is left along it, whatever the direction', () => {
    const along = (directionDeg: number) =>
      detailCurves({ method: 'straight-movement', blurSizePx: 10, directionDeg }, 1, 1e-6);
    // A line of 10 px takes all contrast at 1/10 cycle per px: the sinc's first zero.
    for (const angle of [0, 35, 90]) expect(along(angle).blur[10]).toBeLessThan(0.06);
  });
});

describe('tones', () => {
  const region = { x: 0, y: 0, width: 4, height: 2 };
  const codes = Uint16Array.from([0, 0, 0, 300, 0, 0, 65535, 9, 9, 32768, 32768, 32768].concat(Array(12).fill(40000)));
  const piece = { region, channels: 3 as const, codes };

  it('count every sample once', () => {
    const tones = tonesOf(piece);
    expect(tones.map((counts) => counts.reduce((sum, count) => sum + count, 0))).toEqual([8, 8, 8]);
    expect(tones[0][0]).toBe(2);
    expect(tones[0][TONE_BINS - 1]).toBe(1);
    expect(tones[1][TONE_BINS / 2]).toBe(1);
  });

  it('clip where one channel is white or all are black; a place holds what any of its samples is', () => {
    const marked = (width: number, height: number, pieces: CodePiece[]) => {
      const map = createPlane(width, height);
      for (const one of pieces) addClipped(map, one, piece.region);
      return [...map.data];
    };
    expect(marked(4, 2, [piece])).toEqual([CLIPPED.black, 0, CLIPPED.white, 0, 0, 0, 0, 0]);
    expect(marked(2, 1, [piece])).toEqual([CLIPPED.black, CLIPPED.white]);
    // Band by band as in one.
    const rowOf = (y: number): CodePiece => ({
      region: { ...piece.region, y, height: 1 },
      channels: piece.channels,
      codes: piece.codes.subarray(y * 4 * piece.channels, (y + 1) * 4 * piece.channels),
    });
    expect(marked(4, 2, [rowOf(0), rowOf(1)])).toEqual(marked(4, 2, [piece]));
    expect(addTones(addTones(noTones(piece.channels), rowOf(0)), rowOf(1))).toEqual(tonesOf(piece));
  });
});
