import { guardAfter } from '../prescription/automatic';
import { automaticCleaning } from '../prescription/cleaning';
import type { AcceptedReading, Cleaning, MaskPlan, Prescription, Setting } from '../prescription/prescription';

/** Another cleaning, or none; noise guards on Automatic follow it, since less noise is left to guard against. */
export function withCleaning(old: Prescription, cleaning: Cleaning | null): Prescription {
  const guard = { value: guardAfter(cleaning), auto: true };
  const renewed = <R extends { readonly noiseGuard: Setting }>(one: R): R =>
    one.noiseGuard.auto ? { ...one, noiseGuard: guard } : one;
  const follow = <P extends Pick<MaskPlan, 'trials' | 'recovery'>>(plan: P): P => ({
    ...plan,
    trials: plan.trials.map(renewed),
    recovery: plan.recovery && renewed(plan.recovery),
  });
  return {
    ...follow(old),
    cleaning,
    masksBelow: old.masksBelow?.map(follow),
    masksAbove: old.masksAbove?.map(follow),
  };
}

/** Changes a part of the cleaning; where there was none it starts from Automatic. */
export function changeCleaning(old: Prescription, part: Partial<Cleaning>): Prescription {
  return withCleaning(old, { ...(old.cleaning ?? automaticCleaning(old.reading)), ...part });
}

/** The same with its automatic numbers taken from another reading. */
export function renewCleaning(cleaning: Cleaning, reading: AcceptedReading): Cleaning {
  const automatic = automaticCleaning(reading);
  const kept = (key: 'luminance' | 'colour' | 'blotchPx' | 'detailKept') =>
    cleaning[key].auto ? automatic[key] : cleaning[key];
  return {
    ...cleaning,
    luminance: kept('luminance'),
    colour: kept('colour'),
    blotchPx: kept('blotchPx'),
    detailKept: kept('detailKept'),
  };
}
