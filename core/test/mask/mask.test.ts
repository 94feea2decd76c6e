import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boundsOfMask, brushProfile, drawMask, type MaskOperation } from '../../src';

const WHOLE = { x: 0, y: 0, width: 120, height: 90 };
const dab = (
  x: number,
  y: number,
  sizePx: number,
  featherPercent = 0,
  mode: 'add' | 'erase' = 'add',
): MaskOperation => ({
  kind: 'stroke',
  mode,
  sizePx,
  featherPercent,
  points: [x, y],
});
const sum = (data: Float32Array) => data.reduce((total, value) => total + value, 0);

describe('drawMask', () => {
  it('a hard dab covers the area of its disc', () => {
    for (const size of [12, 31.5, 60]) {
      const { data } = drawMask([dab(60, 45, size)], WHOLE);
      expect(sum(data) / (Math.PI * (size / 2) ** 2)).toBeCloseTo(1, 1.7);
    }
  });

  it('a straight stroke covers a rectangle and two half discs', () => {
    const stroke: MaskOperation = {
      kind: 'stroke',
      mode: 'add',
      sizePx: 20,
      featherPercent: 0,
      points: [30, 40, 90, 40],
    };
    expect(sum(drawMask([stroke], WHOLE).data) / (60 * 20 + Math.PI * 100)).toBeCloseTo(1, 1.7);
  });

  it('feather: 1 in the core, one half midway, 0 at the rim, falling', () => {
    expect(brushProfile(0, 50, 40, 1)).toBe(1);
    expect(brushProfile(30, 50, 40, 1)).toBe(1);
    expect(brushProfile(40, 50, 40, 1)).toBeCloseTo(0.5, 6);
    expect(brushProfile(50, 50, 40, 1)).toBe(0);
    for (let d = 1; d < 55; d++)
      expect(brushProfile(d, 50, 100, 1)).toBeLessThanOrEqual(brushProfile(d - 1, 50, 100, 1));
  });

  it('is the same at any scale: a mean over the large drawing is the small one', () => {
    const operations = [dab(50, 40, 50, 60), dab(80, 50, 30, 30, 'erase'), { kind: 'invert' } as const];
    const large = drawMask(operations, WHOLE, 1);
    const small = drawMask(operations, WHOLE, 1 / 3);
    for (let y = 0; y < small.height; y++) {
      for (let x = 0; x < small.width; x++) {
        let mean = 0;
        for (let j = 0; j < 9; j++) mean += large.data[(y * 3 + Math.floor(j / 3)) * 120 + x * 3 + (j % 3)] / 9;
        expect(Math.abs(mean - small.data[y * small.width + x])).toBeLessThan(0.2);
      }
    }
    expect(sum(small.data) * 9).toBeCloseTo(sum(large.data), -2);
  });

  it('a piece of the drawing is the drawing of the piece', () => {
    const operations = [dab(50, 40, 50, 60), dab(60, 50, 30, 30, 'erase')];
    const whole = drawMask(operations, WHOLE);
    const piece = drawMask(operations, { x: 33, y: 21, width: 40, height: 30 });
    for (let y = 0; y < 30; y++) {
      const row = (y + 21) * 120 + 33;
      expect(piece.data.slice(y * 40, y * 40 + 40)).toEqual(whole.data.slice(row, row + 40));
    }
  });

  it('algebra: in 0..1; adding never lowers, erasing never raises; inverting twice changes nothing', () => {
    const arbitrary = fc.record({
      kind: fc.constant('stroke' as const),
      mode: fc.constantFrom('add' as const, 'erase' as const),
      sizePx: fc.integer({ min: 2, max: 60 }),
      featherPercent: fc.integer({ min: 0, max: 100 }),
      points: fc
        .array(fc.integer({ min: -20, max: 140 }), { minLength: 1, maxLength: 4 })
        .map((list) => [...list, ...list]),
    });
    fc.assert(
      fc.property(fc.array(arbitrary, { maxLength: 4 }), arbitrary, (before, last) => {
        const a = drawMask(before, WHOLE).data;
        const b = drawMask([...before, last], WHOLE).data;
        const twice = drawMask([...before, { kind: 'invert' }, { kind: 'invert' }], WHOLE).data;
        for (let i = 0; i < a.length; i += 13) {
          expect(b[i]).toBeGreaterThanOrEqual(0);
          expect(b[i]).toBeLessThanOrEqual(1);
          if (last.mode === 'add') expect(b[i]).toBeGreaterThanOrEqual(a[i] - 1e-6);
          else expect(b[i]).toBeLessThanOrEqual(a[i] + 1e-6);
          expect(twice[i]).toBeCloseTo(a[i], 5);
        }
      }),
      { numRuns: 25, seed: 7 },
    );
  });

  it('bounds hold everything over one half', () => {
    const frame = { width: 3000, height: 2000 };
    const bounds = boundsOfMask([dab(1000, 700, 300)], frame)!;
    expect(bounds.x).toBeLessThanOrEqual(850);
    expect(bounds.y).toBeLessThanOrEqual(550);
    expect(bounds.x + bounds.width).toBeGreaterThanOrEqual(1151);
    expect(bounds.width).toBeLessThan(360);
    expect(boundsOfMask([], frame)).toBeNull();
  });
});
