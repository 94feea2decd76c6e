import { describe, expect, it } from 'vitest';
import { drawMask, operationsNear, type MaskOperation, type Region } from '../../src';
import { seeded } from '../synthetic';

const stroke = (mode: 'add' | 'erase', sizePx: number, ...points: number[]): MaskOperation => ({
  kind: 'stroke',
  mode,
  sizePx,
  featherPercent: 50,
  points,
});

describe('operations near a region', () => {
  it('draw the same there as all of them', () => {
    const random = seeded(5);
    for (let round = 0; round < 40; round++) {
      const operations = Array.from({ length: 12 }, (_, i): MaskOperation => {
        if (i % 5 === 4) return { kind: 'invert' };
        const points = Array.from({ length: 4 }, () => random() * 400);
        return stroke(random() < 0.6 ? 'add' : 'erase', 10 + 60 * random(), ...points);
      });
      const region: Region = { x: Math.floor(random() * 300), y: Math.floor(random() * 300), width: 64, height: 48 };
      expect(drawMask(operationsNear(operations, region), region).data).toEqual(drawMask(operations, region).data);
    }
  });

  it('a dab elsewhere leaves the list as it was: nothing there is computed again', () => {
    const region = { x: 0, y: 0, width: 100, height: 100 };
    const before = [stroke('add', 40, 50, 50)];
    expect(operationsNear([...before, stroke('erase', 24, 400, 400)], region)).toEqual(before);
  });

  it('a mask that lies elsewhere stays a mask', () => {
    const far = [stroke('add', 40, 900, 900)];
    expect(operationsNear(far, { x: 0, y: 0, width: 100, height: 100 })).toEqual(far);
  });
});
