import { describe, expect, it } from 'vitest';
import { drawMask, type MaskOperation } from '@vitrocept/core';
import { MaskPainter } from '../src/mask/MaskPainter';

const FRAME = { x: 0, y: 0, width: 400, height: 300 };
const SCALE = 0.5;

describe('MaskPainter', () => {
  it.each(['add', 'erase'] as const)('a stroke painted piece by piece (%s) is what core draws of it', (mode) => {
    const before: MaskOperation[] = [
      { kind: 'stroke', mode: 'add', sizePx: 160, featherPercent: 50, points: [200, 150] },
    ];
    const base = drawMask(before, FRAME, SCALE);
    const painter = new MaskPainter(base.width, base.height, SCALE, base.data);
    const brush = { mode, sizePx: 60, featherPercent: 40, opacityPercent: 70 };
    const points = [120, 90, 180, 140, 190, 200, 260, 160];
    painter.begin(brush, points[0], points[1]);
    for (let i = 2; i < points.length; i += 2) painter.extend(points[i], points[i + 1]);
    painter.end();
    const { data } = drawMask([...before, { kind: 'stroke', ...brush, points }], FRAME, SCALE);
    for (let i = 0; i < data.length; i++) expect(painter.valueAt(i)).toBeCloseTo(data[i], 5);
  });

  it('says which part changed, and that nothing did outside of the frame', () => {
    const painter = new MaskPainter(200, 150, SCALE, new Float32Array(200 * 150));
    const brush = { mode: 'add', sizePx: 40, featherPercent: 0, opacityPercent: 100 } as const;
    expect(painter.begin(brush, 100, 100)).toEqual({ x: 38, y: 38, width: 24, height: 24 });
    expect(painter.extend(-900, -900)).not.toBeNull();
    painter.end();
    expect(painter.begin(brush, -500, -500)).toBeNull();
  });
});
