import { describe, expect, it } from 'vitest';
import { colourSpaceOf, judgeFinishing, noFinishing, wholeOf, type Finishing, type Plane } from '../../src';
import { deadLeaves, withNoise } from '../synthetic';

const GREY = colourSpaceOf(null, 1);
const scene = withNoise(deadLeaves(160, 160, 77, 2.5), 0.004, 5);
const LINE = { a: 0, b: 0.004 ** 2 };
const judged = (finishing: Finishing, plane: Plane = scene) =>
  judgeFinishing(
    [{ region: wholeOf(plane), planes: [plane] }],
    finishing,
    GREY,
    { channels: [plane], frame: plane },
    LINE,
  );

describe('finishing is held against what the audit said', () => {
  it('nothing, or a little, is no fault', () => {
    expect(judged(noFinishing())).toEqual([]);
    expect(judged({ ...noFinishing(), localContrast: 3, saturation: 80 })).toEqual([]);
  });

  it('much local contrast is told with the last value at which it was safe', () => {
    const [fault] = judged({ ...noFinishing(), localContrast: 100 });
    expect(fault).toMatchObject({ localId: null, key: 'localContrast' });
    expect(fault.lastSafe).toBeGreaterThanOrEqual(0);
    expect(fault.lastSafe).toBeLessThan(100);
    expect(judged({ ...noFinishing(), localContrast: fault.lastSafe })).toEqual([]);
  });

  it('a local change is told by its own name, not another’s', () => {
    const oval = { kind: 'radial', mode: 'add', x: 80, y: 80, rx: 60, ry: 60, featherPercent: 20 } as const;
    const mask = (id: string) => ({ id, name: id, opacityPercent: 100, operations: [oval] });
    const calm = { mask: mask('calm'), exposureEv: 0.2, saturation: 0, warmth: 0, localContrast: 0 };
    const loud = { mask: mask('loud'), exposureEv: 0, saturation: 0, warmth: 0, localContrast: 100 };
    const faults = judged({ ...noFinishing(), localChanges: [calm, loud] });
    expect(faults.map(({ localId }) => localId)).toEqual(['loud']);
  });
});
