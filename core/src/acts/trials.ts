import { METHOD_DESCRIPTIONS, METHODS, offered, type Method } from '../methods';
import { automaticRecovery } from '../prescription/automatic';
import {
  MOST_TRIALS,
  type AcceptedReading,
  type Cleaning,
  type Prescription,
  type Recovery,
  type Setting,
  type Trial,
} from '../prescription/prescription';
import type { NewId } from './newId';

/** Where the page starts trials: the full automatic answer is nearly always too strong for the eye. */
export const STARTING_AMOUNT = 60;

const newTrial = (method: Method, { reading, cleaning }: Prescription, newId: NewId): Trial => ({
  id: newId(),
  ...automaticRecovery(method, reading, STARTING_AMOUNT, cleaning),
});

/** The same trial with its automatic numbers taken from another reading; numbers set by hand stay. */
export function renewAutomatic(trial: Trial, reading: AcceptedReading, cleaning: Cleaning | null): Trial {
  // A new reading that found no path has nothing to say about a trial that follows one.
  if (METHOD_DESCRIPTIONS[trial.method].followsPath && !reading.path) return trial;
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

export function addTrial(old: Prescription, method: Method, newId: NewId): Prescription {
  if (old.trials.length >= MOST_TRIALS) return old;
  return { ...old, trials: [...old.trials, newTrial(method, old, newId)] };
}

/** The cause that was read, its runner-up and Edge contrast, all on Automatic: a fair start. */
export function suggestedTrials(old: Prescription, newId: NewId): Trial[] {
  const { reading } = old;
  const likely = [
    reading?.method,
    reading?.measured.method,
    reading?.measured.runnerUp,
    'missed-focus',
    'ordinary-softness',
  ] as const;
  const blurs = [...new Set(likely)].filter((method) => method && method !== 'edge-contrast').slice(0, 2) as Method[];
  return [...blurs, 'edge-contrast' as const].map((method) => newTrial(method, old, newId));
}

/** The same with a probe to see them at. */
export function suggestedStart(old: Prescription, probe: { x: number; y: number }, newId: NewId): Prescription {
  const probes = old.probes.length > 0 ? old.probes : [{ id: newId(), name: '', ...probe }];
  return { ...old, probes, trials: suggestedTrials(old, newId) };
}

/** Under this the Reading is often wrong (docs/methods/spectrum.md has how often): then it says so. */
const SURE_FROM = 0.8;

/** The two causes between which an unsure Reading leaves the choice; null where it is sure or knows no second. */
export function unsureBetween(reading: AcceptedReading): [Method, Method] | null {
  const { method, runnerUp, confidence } = reading.measured;
  return reading.auto && method && runnerUp && confidence < SURE_FROM ? [method, runnerUp] : null;
}

/** Both of them as trials, where they are not there already, and a probe to see them at. */
export function tryBoth(
  old: Prescription,
  methods: readonly Method[],
  probe: { x: number; y: number },
  newId: NewId,
): Prescription {
  const probes = old.probes.length > 0 ? old.probes : [{ id: newId(), name: '', ...probe }];
  return methods
    .filter((method) => !old.trials.some((trial) => trial.method === method))
    .reduce((plan, method) => addTrial(plan, method, newId), { ...old, probes });
}

export function changeTrial(old: Prescription, id: string, part: Partial<Recovery>): Prescription {
  return { ...old, trials: old.trials.map((trial) => (trial.id === id ? { ...trial, ...part } : trial)) };
}

export function duplicateTrial(old: Prescription, id: string, newId: NewId): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  if (at < 0 || old.trials.length >= MOST_TRIALS) return old;
  const copy = { ...old.trials[at], id: newId(), name: undefined };
  return { ...old, trials: [...old.trials.slice(0, at + 1), copy, ...old.trials.slice(at + 1)] };
}

export function removeTrial(old: Prescription, id: string): Prescription {
  return { ...old, trials: old.trials.filter((trial) => trial.id !== id) };
}

/** All methods on Automatic beside what is there already: a fair start. */
export function addAllMethods(old: Prescription, newId: NewId): Prescription {
  const present = new Set(old.trials.map(({ method }) => method));
  const missing = offered(METHODS, old.reading?.path).filter((method) => !present.has(method));
  const room = MOST_TRIALS - old.trials.length;
  return missing.length === 0
    ? old
    : { ...old, trials: [...old.trials, ...missing.slice(0, room).map((method) => newTrial(method, old, newId))] };
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

/** The blur is automatic and was measured place by place, its size or its path: the recovery follows it. */
export function followsPlaces({ reading }: Prescription, trial: Trial): boolean {
  if (METHOD_DESCRIPTIONS[trial.method].followsPath) return trial.blurSizePx.auto && trial.path?.places !== undefined;
  return trial.blurSizePx.auto && reading?.auto === true && reading.method === trial.method && reading.sizes.length > 1;
}
