import { describe, expect, it } from 'vitest';
import {
  addAllMethods,
  addTrial,
  changeTrial,
  chooseTrial,
  differsFromChoice,
  duplicateTrial,
  emptyPrescription,
  followsPlaces,
  MOST_TRIALS,
  moveTrial,
  narrowDown,
  paintBack,
  removeTrial,
  renameTrial,
  renewAutomatic,
  steppedSetting,
  stripValues,
  suggestedStart,
  testStrip,
  tryBoth,
  unsureBetween,
  type AcceptedReading,
} from '../../src';

let made = 0;
const newId = () => `id ${made++}`;

const reading = {
  method: 'missed-focus',
  blurSizePx: 8,
  directionDeg: 0,
  auto: true,
  sizes: [],
  measured: { method: 'missed-focus', runnerUp: 'ordinary-softness', runnerUpSizePx: 4.2, runnerUpDirectionDeg: 0 },
} as unknown as AcceptedReading;
const start = () => suggestedStart({ ...emptyPrescription(), reading }, { x: 10, y: 20 }, newId);

const NOTHING_FOUND = { audit: [], likeness: [] };

describe('acts on trials', () => {
  it('an unsure reading leaves the choice between two causes, and both come as trials once', () => {
    const unsure = { ...reading, measured: { ...reading.measured, confidence: 0.6 } };
    const methods = unsureBetween(unsure)!;
    expect(methods).toEqual(['missed-focus', 'ordinary-softness']);
    const both = tryBoth({ ...emptyPrescription(), reading: unsure }, methods, { x: 3, y: 4 }, newId);
    expect(both.trials.map(({ method }) => method)).toEqual(methods);
    expect(both.probes).toMatchObject([{ x: 3, y: 4 }]);
    expect(tryBoth(both, methods, { x: 9, y: 9 }, newId)).toEqual(both);
    expect(unsureBetween({ ...unsure, measured: { ...unsure.measured, confidence: 0.9 } })).toBeNull();
    expect(unsureBetween({ ...unsure, auto: false })).toBeNull();
  });

  it('the suggested start: the cause, its runner-up, Edge contrast, each once, and a probe', () => {
    const { trials, probes } = start();
    expect(trials.map(({ method }) => method)).toEqual(['missed-focus', 'ordinary-softness', 'edge-contrast']);
    expect(trials[0]).toMatchObject({ amount: { value: 60, auto: true }, blurSizePx: { value: 8, auto: true } });
    expect(trials[1].blurSizePx).toEqual({ value: 4.2, auto: true });
    expect(probes).toHaveLength(1);
    const overruled = { ...reading, method: 'ordinary-softness' as const };
    const again = suggestedStart({ ...emptyPrescription(), reading: overruled }, { x: 0, y: 0 }, newId);
    expect(again.trials.map(({ method }) => method)).toEqual(['ordinary-softness', 'missed-focus', 'edge-contrast']);
    expect(suggestedStart(emptyPrescription(), { x: 0, y: 0 }, newId).trials).toHaveLength(3);
  });

  it('a trial follows the turn of the camera until one path or a length is set by hand', () => {
    const square = { side: 3, lengthPx: 2, values: [0, 1, 0, 0, 1, 0, 0, 1, 0] };
    const path = { ...square, places: [10, 90].map((x) => ({ x, y: 5, ...square })) };
    const turned = { ...reading, method: 'camera-shake' as const, blurSizePx: 2, path };
    const plan = suggestedStart({ ...emptyPrescription(), reading: turned }, { x: 0, y: 0 }, newId);
    const [trial] = plan.trials;
    expect(trial.path).toEqual(path);
    expect(followsPlaces(plan, trial)).toBe(true);
    expect(followsPlaces(plan, { ...trial, path: square })).toBe(false);
    expect(followsPlaces(plan, { ...trial, blurSizePx: { value: 3, auto: false } })).toBe(false);
    expect(followsPlaces(plan, plan.trials[1])).toBe(false);
    // Measured anew, it follows what is found now.
    expect(renewAutomatic(trial, { ...turned, path: square }, null).path).toEqual(square);
  });

  it('adds and duplicates up to the most, and removes', () => {
    let plan = start();
    for (let i = 0; i < 9; i++) plan = addTrial(plan, 'missed-focus', newId);
    expect(plan.trials).toHaveLength(MOST_TRIALS);
    expect(duplicateTrial(plan, plan.trials[0].id, newId)).toBe(plan);
    plan = removeTrial(plan, plan.trials[5].id);
    plan = duplicateTrial(plan, plan.trials[0].id, newId);
    expect(plan.trials[1]).toEqual({ ...plan.trials[0], id: plan.trials[1].id });
    expect(new Set(plan.trials.map(({ id }) => id)).size).toBe(MOST_TRIALS);
  });

  it('a choice is the trial as it was when chosen', () => {
    const plan = start();
    const [{ id }] = plan.trials;
    const chosen = chooseTrial(plan, id, NOTHING_FOUND);
    expect(chosen.recovery).toMatchObject({ method: 'missed-focus', trialId: id });
    expect(differsFromChoice(chosen, chosen.trials[0])).toBe(false);
    const changed = changeTrial(chosen, id, { amount: { value: 20, auto: false } });
    expect(differsFromChoice(changed, changed.trials[0])).toBe(true);
    expect(changed.recovery!.amount.value).toBe(60);
  });

  it('a new reading renews automatic numbers and leaves those set by hand', () => {
    const [trial] = start().trials;
    const byHand = { ...trial, noiseGuard: { value: 20, auto: false } };
    expect(renewAutomatic(byHand, { ...reading, blurSizePx: 5 }, null)).toMatchObject({
      blurSizePx: { value: 5, auto: true },
      noiseGuard: { value: 20, auto: false },
    });
  });
});

describe('test strip', () => {
  const strip = () => {
    const plan = start();
    return testStrip(plan, plan.trials[0].id, { key: 'amount', from: 20, to: 100, count: 5, steps: 'even' }, newId);
  };

  it('steps evenly or by ratio, ends included', () => {
    const plan = { key: 'blurSizePx', from: 2, to: 32, count: 5 } as const;
    expect(stripValues({ ...plan, steps: 'even' })).toEqual([2, 9.5, 17, 24.5, 32]);
    expect(stripValues({ ...plan, steps: 'by-ratio' })).toEqual([2, 4, 8, 16, 32]);
  });

  it('stands in the place of the trial it was made from, all else equal', () => {
    const { trials } = strip();
    expect(trials.map(({ amount }) => amount.value)).toEqual([20, 40, 60, 80, 100, 60, 60]);
    expect(new Set(trials.slice(0, 5).map(({ blurSizePx }) => blurSizePx.value))).toEqual(new Set([8]));
    expect(trials[5].method).toBe('ordinary-softness');
  });

  it('never makes more trials than the Wall holds', () => {
    const plan = start();
    const wide = testStrip(
      plan,
      plan.trials[0].id,
      { key: 'amount', from: 0, to: 100, count: 40, steps: 'even' },
      newId,
    );
    expect(wide.trials).toHaveLength(MOST_TRIALS);
  });

  it('narrows down to the neighbours of the liked one, which stays', () => {
    const plan = strip();
    const liked = plan.trials[3];
    expect(steppedSetting(plan.trials, liked.id)).toEqual({ key: 'amount', low: 60, high: 100 });
    const narrowed = narrowDown(plan, liked.id, newId);
    expect(narrowed.trials.slice(0, 5).map(({ amount }) => amount.value)).toEqual([60, 70, 80, 90, 100]);
    expect(narrowed.trials[2]).toBe(liked);
    expect(narrowed.trials.slice(5).map(({ method }) => method)).toEqual(['ordinary-softness', 'edge-contrast']);
  });

  it('at the end of a strip only the one neighbour bounds', () => {
    const plan = strip();
    const narrowed = narrowDown(plan, plan.trials[4].id, newId);
    expect(narrowed.trials.slice(0, 5).map(({ amount }) => amount.value)).toEqual([80, 85, 90, 95, 100]);
  });
});

describe('order, names and places', () => {
  it('moves a trial one place and stops at the ends', () => {
    const plan = start();
    const [a, b, c] = plan.trials;
    expect(moveTrial(plan, a.id, 1).trials).toEqual([b, a, c]);
    expect(moveTrial(plan, a.id, -1)).toBe(plan);
    expect(moveTrial(plan, c.id, 1)).toBe(plan);
  });

  it('a name is its own, an empty one gives way to the method again; neither changes the choice', () => {
    let plan = start();
    const { id } = plan.trials[0];
    plan = chooseTrial(plan, id, NOTHING_FOUND);
    plan = renameTrial(plan, id, 'for the poster');
    expect(plan.trials[0].name).toBe('for the poster');
    expect(differsFromChoice(plan, plan.trials[0])).toBe(false);
    expect(renameTrial(plan, id, '').trials[0].name).toBeUndefined();
  });

  it('all methods: each once, what is there stays', () => {
    const plan = addAllMethods(start(), newId);
    const methods = plan.trials.map(({ method }) => method);
    expect(new Set(methods).size).toBe(methods.length);
    expect(methods).toContain('fine-texture');
    expect(methods).toContain('straight-movement');
    expect(addAllMethods(plan, newId)).toBe(plan);
  });

  it('painting back subtracts a dab; without a mask from everywhere', () => {
    const plan = paintBack(start(), { x: 30, y: 40 }, 24);
    expect(plan.mask.operations).toMatchObject([{ kind: 'invert' }, { mode: 'erase', points: [30, 40] }]);
    expect(paintBack(plan, { x: 5, y: 6 }, 24).mask.operations).toHaveLength(3);
  });
});
