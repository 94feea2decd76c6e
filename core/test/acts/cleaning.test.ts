import { describe, expect, it } from 'vitest';
import {
  addTrial,
  automaticCleaning,
  changeCleaning,
  changeTrial,
  chooseTrial,
  emptyPrescription,
  renewCleaning,
  withCleaning,
  withNewMask,
  type AcceptedReading,
} from '../../src';

let made = 0;
const newId = () => `id ${made++}`;
const NOTHING_FOUND = { audit: [], likeness: [] };
const reading = (noisePercent: number) =>
  ({ noise: [{ a: 0, b: 1e-4 }], sizes: [], measured: { noisePercent } }) as unknown as AcceptedReading;

describe('acts on the cleaning', () => {
  it('noise guards on Automatic follow the cleaning, in trials, in what was chosen and under other masks; others stay', () => {
    let plan = addTrial(addTrial(emptyPrescription(), 'missed-focus', newId), 'missed-focus', newId);
    const [first, second] = plan.trials;
    plan = changeTrial(plan, second.id, { noiseGuard: { value: 61, auto: false } });
    plan = withNewMask(chooseTrial(plan, first.id, NOTHING_FOUND), 'mask-2', 'head');
    const cleaned = withCleaning(plan, automaticCleaning(null));
    const below = cleaned.masksBelow![0];
    expect(below.recovery!.noiseGuard.value).toBeLessThan(45);
    expect(below.trials.map(({ noiseGuard }) => noiseGuard.value < 45)).toEqual([true, false]);
    expect(cleaned.trials[1].noiseGuard).toEqual({ value: 61, auto: false });
    const back = withCleaning(cleaned, null);
    expect(back.masksBelow![0].recovery!.noiseGuard).toEqual({ value: 50, auto: true });
    expect(back).toEqual({ ...plan, cleaning: null });
  });

  it('a trial added to a cleaned frame starts with the lower guard', () => {
    const cleaned = withCleaning(emptyPrescription(), automaticCleaning(null));
    expect(addTrial(cleaned, 'missed-focus', newId).trials[0].noiseGuard.value).toBeLessThan(45);
  });

  it('the first change starts from Automatic; more detail kept raises the guard', () => {
    const kept = changeCleaning(emptyPrescription(), { detailKept: { value: 90, auto: false } });
    expect(kept.cleaning).toMatchObject({
      luminance: { value: 100, auto: true },
      detailKept: { value: 90, auto: false },
    });
    const guardOf = (plan: typeof kept) => addTrial(plan, 'missed-focus', newId).trials[0].noiseGuard.value;
    expect(guardOf(kept)).toBeGreaterThan(guardOf(changeCleaning(emptyPrescription(), {})));
  });

  it('a new reading renews the automatic numbers and leaves the others', () => {
    const byHand = { ...automaticCleaning(reading(1)), luminance: { value: 77, auto: false } };
    const renewed = renewCleaning(byHand, reading(4));
    expect(renewed.luminance).toEqual({ value: 77, auto: false });
    expect(renewed.detailKept).toEqual({ value: 10, auto: true });
    expect(byHand.detailKept).toEqual({ value: 40, auto: true });
  });
});
