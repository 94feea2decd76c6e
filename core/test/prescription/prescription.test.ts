import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  automaticRecovery,
  backToMeasured,
  checkPrescription,
  contentKey,
  CoreError,
  emptyPrescription,
  sizeFieldOf,
  recoverySettingsOf,
  sizeAt,
  type Prescription,
  type Reading,
} from '../../src';

const reading: Reading = {
  cause: { method: 'missed-focus', blurSizePx: 7.04, directionDeg: 0 },
  runnerUp: { method: 'ordinary-softness', blurSizePx: 5, directionDeg: 0 },
  sizes: [
    { x: 0, y: 0, blurSizePx: 3 },
    { x: 500, y: 0, blurSizePx: 9 },
  ],
  confidence: 0.8,
  noise: [
    { a: 1e-4, b: 1e-6 },
    { a: 1e-4, b: 1e-6 },
    { a: 1e-4, b: 1e-6 },
  ],
  grain: null,
  traces: { blocking: 0, overshootPercent: null },
  noisePercent: 0.4,
  floor: [1e-5, 1e-5, 1e-5],
  clippedWhitePercent: 0.1,
  clippedBlackPercent: 0,
  signal: 2e-5,
  finestNowPx: 6,
  finestRecoverablePx: 3,
  pile: 'soft',
  hidesNoise: false,
  leftAlone: null,
};
const accepted = acceptReading(reading, { kind: 'mask', key: 'abc' });

function full(): Prescription {
  return {
    ...emptyPrescription(),
    box: { x: 1, y: 2, width: 100, height: 90 },
    reading: accepted,
    mask: {
      id: 'm',
      name: 'subject',
      opacityPercent: 80,
      operations: [
        { kind: 'stroke', mode: 'erase', sizePx: 20, featherPercent: 10, points: [1, 2, 3, 4] },
        { kind: 'invert' },
      ],
    },
    probes: [{ id: 'p', name: '', x: 3, y: 4 }],
    trials: [{ id: 't', ...automaticRecovery('missed-focus', accepted, 60) }],
    recovery: { ...automaticRecovery('missed-focus', accepted, 60), trialId: 't' },
  };
}

describe('the prescription', () => {
  it('is taken as it is where it is valid, also after JSON', () => {
    for (const value of [emptyPrescription(), full()]) {
      expect(checkPrescription(JSON.parse(JSON.stringify(value)))).toEqual(value);
    }
  });

  it.each([
    ['an unknown key', { ...full(), colour: 1 }],
    ['a missing key', { ...full(), mask: undefined }],
    ['another version', { ...full(), version: 0 }],
    ['an unknown method', { ...full(), recovery: { ...full().recovery, method: 'magic' } }],
    ['a number as text', { ...full(), box: { x: '1', y: 2, width: 100, height: 90 } }],
    ['an endless number', { ...full(), box: { x: Infinity, y: 2, width: 100, height: 90 } }],
    [
      'half a point',
      {
        ...full(),
        mask: {
          ...full().mask,
          operations: [{ kind: 'stroke', mode: 'add', sizePx: 2, featherPercent: 0, points: [1, 2, 3] }],
        },
      },
    ],
    ['an unknown operation', { ...full(), mask: { ...full().mask, operations: [{ kind: 'melt' }] } }],
    ['nine probes', { ...full(), probes: Array.from({ length: 9 }, (_, i) => ({ id: `${i}`, name: '', x: 0, y: 0 })) }],
    ['nothing', null],
    ['a list', []],
  ])('refuses %s', (_, value) => {
    expect(() => checkPrescription(value)).toThrow(CoreError);
  });

  it('says that it is too old for a newer version', () => {
    expect(() => checkPrescription({ ...full(), version: 99 })).toThrow(
      /version 99; this Vitrocept knows versions up to 3/,
    );
  });

  it('answers anything at all with a CoreError or a prescription', () => {
    fc.assert(
      fc.property(fc.anything(), (value) => {
        try {
          checkPrescription(value);
        } catch (error) {
          expect(error).toBeInstanceOf(CoreError);
        }
      }),
      { numRuns: 300, seed: 5 },
    );
  });

  it('keeps automatic values as numbers and finds back to them', () => {
    expect(automaticRecovery('missed-focus', accepted, 60).blurSizePx).toEqual({ value: 7, auto: true });
    expect(automaticRecovery('straight-movement', accepted, 60).blurSizePx.value).toBe(6);
    const overruled = { ...accepted, method: 'straight-movement' as const, blurSizePx: 12, auto: false };
    expect(backToMeasured(overruled)).toMatchObject({ method: 'missed-focus', blurSizePx: 7.04, auto: true });
  });

  it('a blur that changes over the subject is used while it is automatic, not once a size is set by hand', () => {
    const plan = full();
    const field = sizeFieldOf(plan, recoverySettingsOf(plan)!)!;
    expect(field.ladder[0]).toBeCloseTo(3, 5);
    // Not beyond the size in the middle of the subject.
    expect(sizeAt(field, 500, 0)).toBeLessThanOrEqual(7.01);
    expect(sizeAt(field, 0, 0)).toBeLessThan(sizeAt(field, 250, 0));
    expect(sizeAt(field, 250, 0)).toBeLessThan(sizeAt(field, 500, 0));
    const byHand = { ...plan, recovery: { ...plan.recovery!, blurSizePx: { value: 5, auto: false } } };
    expect(sizeFieldOf(byHand, recoverySettingsOf(byHand)!)).toBeNull();
  });

  it('equal data have equal keys, other data others', () => {
    expect(contentKey(full())).toBe(contentKey(JSON.parse(JSON.stringify(full()))));
    const keys = Array.from({ length: 2000 }, (_, i) => contentKey([i, 'stroke']));
    expect(new Set(keys).size).toBe(2000);
  });
});
