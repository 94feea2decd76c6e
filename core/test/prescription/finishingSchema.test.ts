import { describe, expect, it } from 'vitest';
import {
  addLocalChange,
  addMend,
  checkPrescription,
  emptyPrescription,
  withCorrection,
  withWhole,
  type Prescription,
} from '../../src';

const OVAL = { kind: 'radial', mode: 'add', x: 60, y: 60, rx: 30, ry: 20, featherPercent: 40 } as const;

describe('what is saved', () => {
  const full = () => {
    let old = withCorrection(emptyPrescription(), 'exposureEv', 0.5);
    old = withWhole(old, 'haze', 20);
    old = addLocalChange(old, 'a', [OVAL], () => 'a');
    return addMend(old, { id: 'm', stroke: { points: [1, 2], sizePx: 9 }, dx: 30, dy: 4, turnDeg: 0 });
  };

  it('comes back as it was', () => {
    expect(checkPrescription(JSON.parse(JSON.stringify(full())))).toEqual(full());
  });

  it.each<[string, (old: Prescription) => unknown]>([
    [
      'an exposure beyond its range',
      (old) => ({ ...old, corrections: { ...old.corrections!, exposureEv: { value: 9, auto: false } } }),
    ],
    [
      'a curve that goes back',
      (old) => ({
        ...old,
        corrections: {
          ...old.corrections!,
          curve: [
            { x: 0.5, y: 0 },
            { x: 0.2, y: 1 },
          ],
        },
      }),
    ],
    [
      'a white balance of no kind',
      (old) => ({ ...old, corrections: { ...old.corrections!, whiteBalance: { kind: 'moonlight' } } }),
    ],
    [
      'a temperature of 100 K',
      (old) => ({
        ...old,
        corrections: { ...old.corrections!, whiteBalance: { kind: 'temperature', kelvin: 100, greenMagenta: 0 } },
      }),
    ],
    [
      'a local change without its mask',
      (old) => ({ ...old, finishing: { ...old.finishing!, localChanges: [{ exposureEv: 1 }] } }),
    ],
    [
      'a mend of half a point',
      (old) => ({ ...old, mends: [{ ...old.mends![0], stroke: { points: [1], sizePx: 4 } }] }),
    ],
    ['a seventh enlargement', (old) => ({ ...old, geometry: { crop: null, quarterTurns: 0, enlarge: 7 } })],
    ['something nobody knows', (old) => ({ ...old, finishing: { ...old.finishing!, sparkle: 3 } })],
  ])('refuses %s', (_, spoil) => {
    expect(() => checkPrescription(spoil(full()))).toThrow(/Not a valid prescription/);
  });
});
