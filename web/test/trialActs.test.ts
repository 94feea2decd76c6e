import { describe, expect, it } from 'vitest';
import { emptyPrescription, MOST_TRIALS, type AcceptedReading } from '@vitrocept/core';
import {
  addTrial,
  changeTrial,
  chooseTrial,
  differsFromChoice,
  duplicateTrial,
  removeTrial,
  renewAutomatic,
  suggestedStart,
} from '../src/screens/trialActs';

const reading = {
  method: 'missed-focus',
  blurSizePx: 8,
  directionDeg: 0,
  auto: true,
  sizes: [],
  measured: { method: 'missed-focus', runnerUp: 'ordinary-softness', runnerUpSizePx: 4.2, runnerUpDirectionDeg: 0 },
} as unknown as AcceptedReading;
const start = () => suggestedStart({ ...emptyPrescription(), reading }, { x: 10, y: 20 });

describe('acts on trials', () => {
  it('the suggested start: the cause, its runner-up, Edge contrast, each once, and a probe', () => {
    const { trials, probes } = start();
    expect(trials.map(({ method }) => method)).toEqual(['missed-focus', 'ordinary-softness', 'edge-contrast']);
    expect(trials[0]).toMatchObject({ amount: { value: 60, auto: true }, blurSizePx: { value: 8, auto: true } });
    expect(trials[1].blurSizePx).toEqual({ value: 4.2, auto: true });
    expect(probes).toHaveLength(1);
    const overruled = { ...reading, method: 'ordinary-softness' as const };
    const again = suggestedStart({ ...emptyPrescription(), reading: overruled }, { x: 0, y: 0 });
    expect(again.trials.map(({ method }) => method)).toEqual(['ordinary-softness', 'missed-focus', 'edge-contrast']);
    expect(suggestedStart(emptyPrescription(), { x: 0, y: 0 }).trials).toHaveLength(3);
  });

  it('adds and duplicates up to the most, and removes', () => {
    let plan = start();
    for (let i = 0; i < 9; i++) plan = addTrial(plan, 'missed-focus');
    expect(plan.trials).toHaveLength(MOST_TRIALS);
    expect(duplicateTrial(plan, plan.trials[0].id)).toBe(plan);
    plan = removeTrial(plan, plan.trials[5].id);
    plan = duplicateTrial(plan, plan.trials[0].id);
    expect(plan.trials[1]).toEqual({ ...plan.trials[0], id: plan.trials[1].id });
    expect(new Set(plan.trials.map(({ id }) => id)).size).toBe(6);
  });

  it('a choice is the trial as it was when chosen', () => {
    const plan = start();
    const [{ id }] = plan.trials;
    const chosen = chooseTrial(plan, id);
    expect(chosen.recovery).toMatchObject({ method: 'missed-focus', trialId: id });
    expect(differsFromChoice(chosen, chosen.trials[0])).toBe(false);
    const changed = changeTrial(chosen, id, { amount: { value: 20, auto: false } });
    expect(differsFromChoice(changed, changed.trials[0])).toBe(true);
    expect(changed.recovery!.amount.value).toBe(60);
  });

  it('a new reading renews automatic numbers and leaves those set by hand', () => {
    const [trial] = start().trials;
    const byHand = { ...trial, noiseGuard: { value: 20, auto: false } };
    expect(renewAutomatic(byHand, { ...reading, blurSizePx: 5 })).toMatchObject({
      blurSizePx: { value: 5, auto: true },
      noiseGuard: { value: 20, auto: false },
    });
  });
});
