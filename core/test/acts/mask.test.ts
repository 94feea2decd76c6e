import { describe, expect, it } from 'vitest';
import {
  added,
  areaOperation,
  dabsOf,
  emptyPrescription,
  filledPlane,
  isOfFace,
  plansOf,
  replacedAt,
  withFeatures,
  withNewMask,
  withPartTurned,
  withSubject,
  type AreaOrigin,
  type Face,
  type MaskOperation,
  scaledTo,
} from '../../src';

const FRAME = { width: 80, height: 60 };
const area = (from: AreaOrigin) => areaOperation(filledPlane(8, 6, 1), FRAME, 'add', from);
const tones = (first: number) => area({ kind: 'tone', band: [first, 0.4, 0.6, 0.9] });
const operationsOf = (name: string, plan: Parameters<typeof plansOf>[0]) =>
  plansOf(plan).find(({ mask }) => mask.name === name)!.mask.operations;

describe('acts on a mask', () => {
  it('an area goes to the mask it was asked for, though another is at work by then', () => {
    const both = withNewMask(emptyPrescription(), 'b', 'hair');
    const after = added(tones(0.1), 'mask-1')(both);
    expect(operationsOf('subject', after)).toHaveLength(1);
    expect(operationsOf('hair', after)).toHaveLength(0);
    expect(after.mask.name).toBe('hair');
  });

  it('an area that was made again takes the place of its like only, and stays off', () => {
    const subject = area({ kind: 'subject', dabs: [] });
    const plan = added({ ...tones(0.1), isOff: true })(added(subject)(emptyPrescription()));
    expect(replacedAt(0, tones(0.2))(plan).mask.operations[0]).toBe(subject);
    const again = replacedAt(1, tones(0.2))(plan).mask.operations[1];
    expect(again).toEqual({ ...tones(0.2), isOff: true });
  });

  it('the subject found anew takes the place of the one before, under what was painted', () => {
    const dab = { x: 3, y: 4, radius: 2, isSubject: true };
    const painted: MaskOperation = { kind: 'invert' };
    const first = withSubject([painted], area({ kind: 'subject', dabs: [] }));
    expect(first.map(({ kind }) => kind)).toEqual(['area', 'invert']);
    const second = withSubject(first, area({ kind: 'subject', dabs: [dab] }));
    expect(second).toHaveLength(2);
    expect(dabsOf(second)).toEqual([dab]);
  });
});

describe('parts of faces', () => {
  const face: Face = {
    id: 'f',
    name: 'face 1',
    isFound: false,
    parts: [
      { part: 'left eye', x: 50, y: 20, rx: 5, ry: 3 },
      { part: 'right eye', x: 30, y: 20, rx: 5, ry: 3 },
      { part: 'nose', x: 40, y: 28, rx: 4, ry: 6 },
      { part: 'lips', x: 40, y: 38, rx: 7, ry: 3 },
    ],
  };
  const names = (list: readonly MaskOperation[]) =>
    list.map((operation) => (operation.kind === 'radial' ? `${operation.mode} ${operation.name}` : operation.kind));

  it('features in, skin out, and both taken back', () => {
    const on = withFeatures([{ kind: 'fill' }], [face], true);
    expect(names(on)).toEqual([
      'fill',
      'erase face 1: skin',
      'add face 1: left eye',
      'add face 1: right eye',
      'add face 1: lips',
    ]);
    expect(withFeatures(on, [face], true)).toEqual(on);
    expect(withFeatures(on, [face], false)).toEqual([{ kind: 'fill' }]);
    // Nothing lies under an empty mask: there is no skin to take out.
    expect(names(withFeatures([], [face], true))[0]).toBe('add face 1: left eye');
  });

  it('a part pressed comes in, pressed again goes out; of a part that is not there nothing comes', () => {
    const one = withPartTurned([], face, 'nose');
    expect(isOfFace(one[0], face, 'nose')).toBe(true);
    expect(withPartTurned(one, face, 'nose')).toEqual([]);
    expect(withPartTurned([], face, 'teeth')).toEqual([]);
  });
});

describe('a mask for another size', () => {
  it('places, sizes and reaches scale; an area lies over the whole frame anyway', () => {
    const list: MaskOperation[] = [
      { kind: 'stroke', mode: 'add', sizePx: 10, featherPercent: 0, points: [0, 0, 39.5, 29.5] },
      { kind: 'radial', mode: 'erase', x: 9.5, y: 9.5, rx: 4, ry: 2, featherPercent: 50 },
      { kind: 'grow', px: 3 },
      tones(0.1),
    ];
    const twice = scaledTo(list, FRAME, { width: 160, height: 120 });
    expect(twice[0]).toMatchObject({ sizePx: 20, points: [0.5, 0.5, 79.5, 59.5] });
    expect(twice[1]).toMatchObject({ x: 19.5, y: 19.5, rx: 8, ry: 4 });
    expect(twice[2]).toEqual({ kind: 'grow', px: 6 });
    expect(twice[3]).toMatchObject({ frameWidth: 160, frameHeight: 120, width: 8 });
    expect(scaledTo(list, FRAME, FRAME)).toEqual(list);
  });
});
