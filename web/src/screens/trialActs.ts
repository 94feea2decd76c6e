import {
  automaticRecovery,
  MOST_TRIALS,
  type AcceptedReading,
  type Method,
  type Prescription,
  type Recovery,
  type Setting,
  type Trial,
} from '@vitrocept/core';

/** Where the page starts trials: the full automatic answer is nearly always too strong for the eye. */
export const STARTING_AMOUNT = 60;

const newTrial = (method: Method, reading: AcceptedReading | null): Trial => ({
  id: crypto.randomUUID(),
  ...automaticRecovery(method, reading, STARTING_AMOUNT),
});

/** The same trial with its automatic numbers taken from another reading; numbers set by hand stay. */
export function renewAutomatic(trial: Trial, reading: AcceptedReading): Trial {
  // A new reading that found no path has nothing to say about a trial that follows one.
  if (trial.method === 'camera-shake' && !reading.path) return trial;
  const automatic = automaticRecovery(trial.method, reading, STARTING_AMOUNT);
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
  return { ...old, trials: [...old.trials, newTrial(method, old.reading)] };
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
  return { ...old, probes, trials: methods.map((method) => newTrial(method, reading)) };
}

export function changeTrial(old: Prescription, id: string, part: Partial<Recovery>): Prescription {
  return { ...old, trials: old.trials.map((trial) => (trial.id === id ? { ...trial, ...part } : trial)) };
}

export function duplicateTrial(old: Prescription, id: string): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  if (at < 0 || old.trials.length >= MOST_TRIALS) return old;
  const copy = { ...old.trials[at], id: crypto.randomUUID() };
  return { ...old, trials: [...old.trials.slice(0, at + 1), copy, ...old.trials.slice(at + 1)] };
}

export function removeTrial(old: Prescription, id: string): Prescription {
  return { ...old, trials: old.trials.filter((trial) => trial.id !== id) };
}

/** Puts a trial into the prescription as it stands now. */
export function chooseTrial(old: Prescription, id: string): Prescription {
  const trial = old.trials.find((candidate) => candidate.id === id);
  if (!trial) return old;
  const { id: trialId, ...recovery } = trial;
  return { ...old, recovery: { ...recovery, trialId } };
}

/** The trial has been changed since it was chosen. */
export function differsFromChoice(old: Prescription, trial: Trial): boolean {
  if (old.recovery?.trialId !== trial.id) return false;
  const { id: trialId, ...recovery } = trial;
  return JSON.stringify({ ...recovery, trialId }) !== JSON.stringify(old.recovery);
}

/** The blur size is automatic and was measured place by place: the recovery follows it. */
export function followsPlaces({ reading }: Prescription, trial: Trial): boolean {
  return trial.blurSizePx.auto && reading?.auto === true && reading.method === trial.method && reading.sizes.length > 1;
}
