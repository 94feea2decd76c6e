import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  auditTile,
  automaticCleaning,
  automaticRecovery,
  colourSpaceOf,
  emptyPrescription,
  encodeChannels,
  encodeTile,
  FINAL_EFFORT,
  keptRange,
  neighbourhoodRange,
  passThrough,
  type CodePiece,
  type Prescription,
} from '../../src';
import { fastKernels } from '../fastKernels';
import { keptWith, keptWithBoth } from '../../src/picture/kept';
import { discPsf } from '../../src/psf/discPsf';
import { convolve, deadLeaves, withNoise } from '../synthetic';

describe('what is kept with its owner', () => {
  it('is made once for each key, and again for another owner', () => {
    let made = 0;
    const make = () => ++made;
    const owner = {};
    expect([keptWith(owner, 'a', make), keptWith(owner, 'a', make), keptWith(owner, 'b', make)]).toEqual([1, 1, 2]);
    expect(keptWith({}, 'a', make)).toBe(3);
  });

  it('is made anew where either of two owners is another', () => {
    let made = 0;
    const make = () => ++made;
    const [answer, mask] = [{}, {}];
    expect(keptWithBoth(answer, mask, 'a', make)).toBe(1);
    expect(keptWithBoth(answer, mask, 'a', make)).toBe(1);
    expect(keptWithBoth(answer, {}, 'a', make)).toBe(2);
    expect(keptWithBoth({}, mask, 'a', make)).toBe(3);
    expect(keptWithBoth(answer, mask, 'b', make)).toBe(4);
  });

  it('the range around samples is, until another reach is asked for', () => {
    const plane = deadLeaves(40, 30, 5);
    const range = keptRange(plane, 3);
    expect(range).toEqual(neighbourhoodRange(plane, 3));
    expect(keptRange(plane, 3)).toBe(range);
    expect(keptRange(plane, 4)).toEqual(neighbourhoodRange(plane, 4));
    expect(keptRange({ ...plane }, 4)).not.toBe(keptRange(plane, 4));
  });

  it('the value asked for longest ago goes first when there are many', () => {
    const owner = {};
    keptWith(owner, 'first', () => 'old');
    for (let i = 0; i < 31; i++) keptWith(owner, `key ${i}`, () => i);
    expect(keptWith(owner, 'first', () => 'new')).toBe('old');
    for (let i = 31; i < 40; i++) keptWith(owner, `key ${i}`, () => i);
    expect(keptWith(owner, 'first', () => 'new')).toBe('old');
    expect(keptWith(owner, 'key 0', () => 'new')).toBe('new');
  });
});

describe('a piece that was worked with before', () => {
  const SIDE = 96;
  const frame = { width: SIDE, height: SIDE };
  const space = colourSpaceOf(null, 3);
  const planes = [1, 2, 3].map((seed) => withNoise(convolve(deadLeaves(SIDE, SIDE, seed, 3), discPsf(2)), 0.02, seed));
  const codes = encodeChannels(planes, space);
  const fresh = (): CodePiece => ({ region: { x: 0, y: 0, ...frame }, channels: 3, codes: codes.slice() });
  const line = { a: 0, b: 4e-4 };
  const reading = {
    ...acceptReading({ noise: [line, line, line], floor: [4e-4, 4e-4, 4e-4] } as never, { kind: 'centre', key: '' }),
    noise: [line, line, line],
    noiseFloor: [4e-4, 4e-4, 4e-4],
    sizes: [],
  };
  const plan = (change: object, part: Partial<Prescription> = {}): Prescription => ({
    ...emptyPrescription(),
    reading,
    recovery: {
      ...automaticRecovery('missed-focus', null, 100),
      blurSizePx: { value: 4, auto: false },
      trialId: null,
      ...change,
    },
    ...part,
  });
  const value = (size: number) => ({ value: size, auto: false });
  const dab = { kind: 'stroke', mode: 'add', sizePx: 30, featherPercent: 50, points: [48, 48] } as const;
  const mask = { ...emptyPrescription().mask, operations: [dab] };
  const PLANS: Prescription[] = [
    plan({}),
    plan({ blurSizePx: value(5) }),
    plan({ noiseGuard: value(70), grainKeptPercent: value(30) }),
    plan({}, { cleaning: automaticCleaning(null) }),
    plan({}, { cleaning: { ...automaticCleaning(null), luminance: value(40) } }),
    plan({}, { mask }),
    plan({ method: 'edge-contrast' }),
    plan({}, { reading: { ...reading, noise: [line, line, { a: 0, b: 1e-4 }], noiseFloor: [2e-4, 2e-4, 2e-4] } }),
    plan({}),
  ];

  it('gives the same pixels and the same audit as one never seen, whatever was asked of it before', () => {
    const worn = fresh();
    const effort = { ...FINAL_EFFORT, iterations: 3, kernels: fastKernels };
    const tile = { x: 24, y: 24, width: 48, height: 48 };
    const shown = PLANS.map((prescription) => {
      const [again, first] = [worn, fresh()].map((piece) => {
        const source = { frame, space };
        const passed = passThrough(source, prescription, piece, tile, effort)!;
        const audit = auditTile(source, prescription, piece, tile, passed.solved!, 8, effort);
        return { codes: encodeTile(source, piece, tile, passed).codes, audit };
      });
      expect(again).toEqual(first);
      return first.codes;
    });
    expect(shown[0]).toEqual(shown[8]);
    for (let i = 1; i < 8; i++) expect(shown[i]).not.toEqual(shown[0]);
  });
});
