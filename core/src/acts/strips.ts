import { SETTING_KEYS, type SettingKey } from '../methods';
import { MOST_TRIALS, type Prescription, type Trial } from '../prescription/prescription';
import type { NewId } from './newId';

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
export function testStrip(old: Prescription, id: string, plan: StripPlan, newId: NewId): Prescription {
  const at = old.trials.findIndex((trial) => trial.id === id);
  if (at < 0) return old;
  const room = MOST_TRIALS - old.trials.length + 1;
  const strip = stripValues(plan)
    .slice(0, room)
    .map((value) => ({
      ...old.trials[at],
      id: newId(),
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

/**
 * A new strip between the two neighbours of the liked one; where it was the last, between it and its only neighbour.
 */
export function narrowDown(old: Prescription, id: string, newId: NewId): Prescription {
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
    value === own ? trial : { ...trial, id: newId(), name: undefined, [key]: { value, auto: false } },
  );
  return { ...old, trials: [...others.slice(0, first), ...strip, ...others.slice(first)] };
}
