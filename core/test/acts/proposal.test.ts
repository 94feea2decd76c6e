import { describe, expect, it } from 'vitest';
import {
  areaOperation,
  checkPrescription,
  dropProposed,
  emptyPrescription,
  filledPlane,
  isProposed,
  keepProposed,
  keyOfOperations,
  proposeStart,
  settleProposed,
  type LookedAfterFrame,
  type Reading,
} from '../../src';

let made = 0;
const newId = () => `id-${made++}`;
const frame = { width: 400, height: 300 };
const mask = areaOperation(filledPlane(40, 30, 1), frame, 'add', { kind: 'subject', dabs: [] });
const reading: Reading = {
  cause: { method: 'missed-focus', blurSizePx: 6, directionDeg: 0 },
  runnerUp: { method: 'ordinary-softness', blurSizePx: 4, directionDeg: 0 },
  hidesNoise: false,
  leftAlone: null,
  sizes: [],
  confidence: 0.8,
  noise: [{ a: 1e-5, b: 1e-6 }],
  grain: null,
  traces: { blocking: 0, overshootPercent: null },
  noisePercent: 0.3,
  floor: [1e-5],
  clippedWhitePercent: 0,
  clippedBlackPercent: 0,
  signal: 1e-5,
  finestNowPx: 6,
  finestRecoverablePx: 2.5,
  pile: 'soft',
};
const looked = (change: Partial<Reading> = {}): LookedAfterFrame => ({
  reading: { ...reading, ...change },
  proposal: { over: 'subject', share: 0.3, mask, probes: [] },
});
const PROBES = [1, 2, 3, 4, 5].map((n) => ({ name: `place ${n}`, x: 10 * n, y: 20 }));
const start = () => proposeStart(emptyPrescription(), looked(), PROBES, newId);

describe('what is ready when a frame is opened', () => {
  it('the Reading over the subject, its mask, four probes and three trials, all but the Reading proposed', () => {
    const ready = start();
    expect(ready.reading?.measured.over).toEqual({ kind: 'mask', key: keyOfOperations([mask]) });
    expect(ready.mask.operations).toEqual([mask]);
    expect(ready.probes.map(({ name }) => name)).toEqual(['place 1', 'place 2', 'place 3', 'place 4']);
    expect(ready.trials.map(({ method }) => method)).toEqual(['missed-focus', 'ordinary-softness', 'edge-contrast']);
    expect(ready.proposed).toEqual(['mask', 'probes', 'trials']);
    expect(ready.recovery).toBeNull();
    expect(checkPrescription(JSON.parse(JSON.stringify(ready)))).toEqual(ready);
  });

  it('no trials where nothing is to be recovered, no mask where no subject stands out', () => {
    const alone = proposeStart(emptyPrescription(), looked({ cause: null, leftAlone: 'sharp' }), PROBES, newId);
    expect(alone.trials).toEqual([]);
    expect(alone.proposed).toEqual(['mask', 'probes']);
    const nobody = { ...looked(), proposal: { over: 'richest', share: 0.1, mask: null, probes: [] } } as const;
    const none = proposeStart(emptyPrescription(), nobody, [], newId);
    expect(none.reading?.measured.over.kind).toBe('richest');
    expect(none.proposed).toEqual(['trials']);
  });

  it('is used or taken away in one press, part by part', () => {
    const kept = keepProposed(start(), 'mask');
    expect(isProposed(kept, 'mask')).toBe(false);
    expect(kept.mask.operations).toEqual([mask]);
    const dropped = (['mask', 'probes', 'trials'] as const).reduce(dropProposed, start());
    expect(dropped.mask.operations).toEqual([]);
    expect(dropped.probes).toEqual([]);
    expect(dropped.trials).toEqual([]);
    expect('proposed' in dropped).toBe(false);
  });

  it('becomes the person’s own by being changed, and only that part', () => {
    const before = start();
    const moved = { ...before, probes: before.probes.map((probe) => ({ ...probe, x: 1 })) };
    expect(settleProposed(before, moved).proposed).toEqual(['mask', 'trials']);
    const elsewhere = { ...before, box: { x: 0, y: 0, width: 10, height: 10 } };
    expect(settleProposed(before, elsewhere)).toBe(elsewhere);
  });
});
