import { describe, expect, it } from 'vitest';
import {
  automaticCleaning,
  emptyPrescription,
  suggestedStart,
  withCopiedMask,
  withMeasuredReading,
  withNewMask,
  withReading,
  withReadingOverruled,
  type AcceptedReading,
  type MaskOperation,
} from '../../src';

let made = 0;
const newId = () => `id ${made++}`;
const read = (blurSizePx: number, method = 'missed-focus') =>
  ({
    method,
    blurSizePx,
    directionDeg: 0,
    auto: true,
    noise: [{ a: 0, b: 1e-4 }],
    sizes: [],
    measured: { method, blurSizePx, directionDeg: 0, runnerUp: null, noisePercent: 1 },
  }) as unknown as AcceptedReading;

describe('acts on the reading', () => {
  it('a new one renews automatic numbers under every mask, and leaves those set by hand', () => {
    const started = suggestedStart({ ...emptyPrescription(), reading: read(6) }, { x: 1, y: 1 }, newId);
    const byHand = { ...started.trials[0], noiseGuard: { value: 70, auto: false } };
    const plan = withNewMask({ ...started, trials: [byHand] }, 'b', 'hair');
    const now = withReading({ ...plan, cleaning: automaticCleaning(read(6)) }, read(9));
    for (const trials of [now.trials, now.masksBelow![0].trials]) {
      expect(trials[0].blurSizePx).toEqual({ value: 9, auto: true });
      expect(trials[0].noiseGuard).toEqual({ value: 70, auto: false });
    }
    expect(now.reading!.blurSizePx).toBe(9);
  });

  it('is overruled by hand, and taken again as it was measured', () => {
    const plan = { ...emptyPrescription(), reading: read(6) };
    const mine = withReadingOverruled(plan, { method: 'straight-movement', blurSizePx: 11 });
    expect(mine.reading).toMatchObject({ method: 'straight-movement', blurSizePx: 11, auto: false });
    expect(withMeasuredReading(mine)).toEqual(plan);
    expect(withReadingOverruled(emptyPrescription(), { blurSizePx: 3 })).toEqual(emptyPrescription());
    expect(withMeasuredReading(emptyPrescription())).toEqual(emptyPrescription());
  });
});

describe('a mask from another frame', () => {
  const fill: MaskOperation[] = [{ kind: 'fill' }];
  const mask = { id: 'm', name: 'marten', opacityPercent: 80, operations: fill };

  it('takes the place of an empty one, and comes over one that is there', () => {
    const first = withCopiedMask(emptyPrescription(), mask, fill, newId);
    expect(first.mask).toEqual({ id: 'mask-1', name: 'marten', opacityPercent: 80, operations: fill });
    expect(first.masksBelow).toBeUndefined();
    const second = withCopiedMask(first, { ...mask, name: 'tail' }, fill, newId);
    expect(second.mask.name).toBe('tail');
    expect(second.masksBelow!.map((plan) => plan.mask.name)).toEqual(['marten']);
  });
});
