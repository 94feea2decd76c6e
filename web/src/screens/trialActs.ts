import {
  automaticRecovery,
  contentKey,
  keyOfOperations,
  METHODS,
  MOST_TRIALS,
  regionOfProbe,
  type AcceptedReading,
  type Cleaning,
  type Face,
  type FacePart,
  type Figure,
  type Figures,
  type KeptAudit,
  type Mask,
  type KeptLikeness,
  type Method,
  type PartLikeness,
  type Prescription,
  type Probe,
  type Recovery,
  type Setting,
  type Trial,
} from '@vitrocept/core';
import { offered, SETTING_KEYS, type SettingKey } from '../words';

/** Where the page starts trials: the full automatic answer is nearly always too strong for the eye. */
export const STARTING_AMOUNT = 60;

const newTrial = (method: Method, { reading, cleaning }: Prescription): Trial => ({
  id: crypto.randomUUID(),
  ...automaticRecovery(method, reading, STARTING_AMOUNT, cleaning),
});

/** The same trial with its automatic numbers taken from another reading; numbers set by hand stay. */
export function renewAutomatic(trial: Trial, reading: AcceptedReading, cleaning: Cleaning | null): Trial {
  // A new reading that found no path has nothing to say about a trial that follows one.
  if (trial.method === 'camera-shake' && !reading.path) return trial;
  const automatic = automaticRecovery(trial.method, reading, STARTING_AMOUNT, cleaning);
  const kept = (key: 'amount' | 'blurSizePx' | 'directionDeg' | 'noiseGuard' | 'grainKeptPercent'): Setting =>
    trial[key].auto ? automatic[key] : trial[key];
  return {
    ...trial,
    amount: kept('amount'),
    blurSizePx: kept('blurSizePx'),
    directionDeg: kept('directionDeg'),
    noiseGuard: kept('noiseGuard'),
    grainKeptPercent: kept('grainKeptPercent'),
    ...(automatic.path ? { path: automatic.path } : {}),
  };
}

export function addTrial(old: Prescription, method: Method): Prescription {
  if (old.trials.length >= MOST_TRIALS) return old;
  return { ...old, trials: [...old.trials, newTrial(method, old)] };
}

/** The cause that was read, its runner-up and Edge contrast, all on Automatic: a fair start. */
export function suggestedStart(old: Prescription, probe: { x: number; y: number }): Prescription {
  const { reading } = old;
  const likely = [
    reading?.method,
    reading?.measured.method,
    reading?.measured.runnerUp,
    'missed-focus',
    'ordinary-softness',
  ] as const;
  const blurs = [...new Set(likely)].filter((method) => method && method !== 'edge-contrast').slice(0, 2) as Method[];
  const methods: Method[] = [...blurs, 'edge-contrast'];
  const probes = old.probes.length > 0 ? old.probes : [{ id: crypto.randomUUID(), name: '', ...probe }];
  return { ...old, probes, trials: methods.map((method) => newTrial(method, old)) };
}

/** Under this the Reading is often wrong (docs/methods.md has how often): then it says so. */
const SURE_FROM = 0.8;

/** The two causes between which an unsure Reading leaves the choice; null where it is sure or knows no second. */
export function unsureBetween(reading: AcceptedReading): [Method, Method] | null {
  const { method, runnerUp, confidence } = reading.measured;
  return reading.auto && method && runnerUp && confidence < SURE_FROM ? [method, runnerUp] : null;
}

/** Both of them as trials, where they are not there already, and a probe to see them at. */
export function tryBoth(old: Prescription, methods: readonly Method[], probe: { x: number; y: number }): Prescription {
  const probes = old.probes.length > 0 ? old.probes : [{ id: crypto.randomUUID(), name: '', ...probe }];
  return methods
    .filter((method) => !old.trials.some((trial) => trial.method === method))
    .reduce(addTrial, { ...old, probes });
}

export function changeTrial(old: Prescription, id: string, part: Partial<Recovery>): Prescription {
  return { ...old, trials: old.trials.map((trial) => (trial.id === id ? { ...trial, ...part } : trial)) };
}

export function duplicateTrial(old: Prescription, id: string): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  if (at < 0 || old.trials.length >= MOST_TRIALS) return old;
  const copy = { ...old.trials[at], id: crypto.randomUUID(), name: undefined };
  return { ...old, trials: [...old.trials.slice(0, at + 1), copy, ...old.trials.slice(at + 1)] };
}

export function removeTrial(old: Prescription, id: string): Prescription {
  return { ...old, trials: old.trials.filter((trial) => trial.id !== id) };
}

/** All methods on Automatic beside what is there already: a fair start. */
export function addAllMethods(old: Prescription): Prescription {
  const present = new Set(old.trials.map(({ method }) => method));
  const missing = offered(METHODS, old.reading).filter((method) => !present.has(method));
  const room = MOST_TRIALS - old.trials.length;
  return missing.length === 0
    ? old
    : { ...old, trials: [...old.trials, ...missing.slice(0, room).map((method) => newTrial(method, old))] };
}

/** One place to the left (−1) or right (1). */
export function moveTrial(old: Prescription, id: string, by: -1 | 1): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= old.trials.length) return old;
  const trials = [...old.trials];
  [trials[at], trials[to]] = [trials[to], trials[at]];
  return { ...old, trials };
}

/** An empty name goes by the method again. */
export function renameTrial(old: Prescription, id: string, name: string): Prescription {
  return {
    ...old,
    trials: old.trials.map((trial) => (trial.id === id ? { ...trial, name: name || undefined } : trial)),
  };
}

export interface StripPlan {
  readonly key: SettingKey;
  readonly from: number;
  readonly to: number;
  readonly count: number;
  readonly steps: 'even' | 'by-ratio';
}

/** The values of a test strip. */
export function stripValues({ from, to, count, steps }: StripPlan): number[] {
  return Array.from({ length: count }, (_, i) => {
    const share = count === 1 ? 0 : i / (count - 1);
    const value = steps === 'even' ? from + share * (to - from) : from * (to / from) ** share;
    return Math.round(value * 10) / 10;
  });
}

/** Puts a series of trials made from one in its place, one setting stepped. */
export function testStrip(old: Prescription, id: string, plan: StripPlan): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  if (at < 0) return old;
  const room = MOST_TRIALS - old.trials.length + 1;
  const strip = stripValues(plan)
    .slice(0, room)
    .map((value) => ({
      ...old.trials[at],
      id: crypto.randomUUID(),
      name: undefined,
      [plan.key]: { value, auto: false },
    }));
  return { ...old, trials: [...old.trials.slice(0, at), ...strip, ...old.trials.slice(at + 1)] };
}

/** The setting in which a trial differs from its neighbours that are like it otherwise; null where there is none. */
export function steppedSetting(
  trials: readonly Trial[],
  id: string,
): { key: SettingKey; low: number; high: number } | null {
  const trial = trials.find((candidate) => candidate.id === id);
  if (!trial) return null;
  const alike = trials.filter((other) => other !== trial && other.method === trial.method);
  for (const key of SETTING_KEYS) {
    const values = alike
      .filter((other) =>
        SETTING_KEYS.every((setting) => setting === key || other[setting].value === trial[setting].value),
      )
      .map((other) => other[key].value)
      .filter((value) => value !== trial[key].value);
    if (values.length === 0) continue;
    const own = trial[key].value;
    return {
      key,
      low: Math.max(...values.filter((value) => value < own), -Infinity),
      high: Math.min(...values.filter((value) => value > own), Infinity),
    };
  }
  return null;
}

/** A new strip between the two neighbours of the liked one; where it was the last, between it and its only neighbour. */
export function narrowDown(old: Prescription, id: string): Prescription {
  const stepped = steppedSetting(old.trials, id);
  const trial = old.trials.find((candidate) => candidate.id === id);
  if (!stepped || !trial) return old;
  const { key, low, high } = stepped;
  const own = trial[key].value;
  const from = Number.isFinite(low) ? low : own;
  const to = Number.isFinite(high) ? high : own;
  const isOfStrip = (other: Trial) =>
    other.method === trial.method &&
    SETTING_KEYS.every((setting) => setting === key || other[setting].value === trial[setting].value);
  const first = old.trials.findIndex(isOfStrip);
  const others = old.trials.filter((other) => !isOfStrip(other));
  const count = Math.min(5, MOST_TRIALS - others.length);
  const strip = stripValues({ key, from, to, count, steps: 'even' }).map((value) =>
    value === own ? trial : { ...trial, id: crypto.randomUUID(), name: undefined, [key]: { value, auto: false } },
  );
  return { ...old, trials: [...others.slice(0, first), ...strip, ...others.slice(first)] };
}

/** A dab of the original, painted back over a place: subtracted from the mask. */
export function paintBack(old: Prescription, { x, y }: { x: number; y: number }, sizePx: number): Prescription {
  const { operations } = old.mask;
  const dab = { kind: 'stroke', mode: 'erase', sizePx, featherPercent: 50, points: [x, y] } as const;
  // No mask means everywhere: an empty one turned round says the same, and can be subtracted from.
  const before = operations.length > 0 ? operations : [{ kind: 'invert' } as const];
  return { ...old, mask: { ...old.mask, operations: [...before, dab] } };
}

function chosenOf(trial: Trial): NonNullable<Prescription['recovery']> {
  const { id: trialId, name: _, ...recovery } = trial;
  return { ...recovery, trialId };
}

/** Puts a trial into the prescription as it stands now, with what the audit says of it. */
/** What was known of a trial when it was chosen. */
interface Findings {
  readonly audit: readonly KeptAudit[];
  readonly likeness: readonly KeptLikeness[];
}

export function chooseTrial(old: Prescription, id: string, { audit, likeness }: Findings): Prescription {
  const trial = old.trials.find((candidate) => candidate.id === id);
  if (!trial) return old;
  return { ...old, recovery: chosenOf(trial), audit, likeness, auditKey: auditKeyOf(old) };
}

/** Equal keys: what the audit judged, besides the trial itself, is as it was. */
function auditKeyOf({ mask, cleaning, reading, masksBelow = [], masksAbove = [] }: Prescription): string {
  const keyOf = ({ operations, opacityPercent }: Mask) => [keyOfOperations(operations), opacityPercent];
  const others = [masksBelow, masksAbove].map((plans) => plans.map((plan) => [keyOf(plan.mask), plan.recovery]));
  return contentKey([...keyOf(mask), cleaning, reading, ...(others.flat().length > 0 ? others : [])]);
}

/** A mask, the cleaning or the reading has changed since the chosen trial was audited. */
export function auditIsOld(prescription: Prescription): boolean {
  return prescription.auditKey !== undefined && prescription.auditKey !== auditKeyOf(prescription);
}

export function keptLikeness(
  face: Face,
  { part, likeness }: { readonly part: FacePart; readonly likeness: PartLikeness },
): KeptLikeness {
  const { shift, hue, structure } = likeness;
  return { face: face.name, part: part.part, shift, hue, structure };
}

/** The trial has been changed since it was chosen. */
export function differsFromChoice(old: Prescription, trial: Trial): boolean {
  if (old.recovery?.trialId !== trial.id) return false;
  return JSON.stringify(chosenOf(trial)) !== JSON.stringify(old.recovery);
}

export function keptAudit(probe: Probe, figures: Figures): KeptAudit {
  const figure = ({ verdict, value }: Figure) => ({ verdict, value });
  const { halo, ringing, unproven, colour, grain, leak, gain } = figures;
  return {
    probe: probe.name,
    x: probe.x,
    y: probe.y,
    size: regionOfProbe(probe).width,
    halo: figure(halo),
    ringing: figure(ringing),
    unproven: figure(unproven),
    colour: figure(colour),
    grain: figure(grain),
    leak: figure(leak),
    gain,
  };
}

/** The blur is automatic and was measured place by place, its size or its path: the recovery follows it. */
export function followsPlaces({ reading }: Prescription, trial: Trial): boolean {
  if (trial.method === 'camera-shake') return trial.blurSizePx.auto && trial.path?.places !== undefined;
  return trial.blurSizePx.auto && reading?.auto === true && reading.method === trial.method && reading.sizes.length > 1;
}
