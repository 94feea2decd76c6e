import { backToMeasured } from '../prescription/automatic';
import type { AcceptedReading, MaskPlan, Prescription } from '../prescription/prescription';
import { renewCleaning } from './cleaning';
import { renewAutomatic } from './trials';

/** A new reading renews the automatic numbers of cleaning and of all masks' trials; what was set by hand stays. */
export function withReading(old: Prescription, reading: AcceptedReading): Prescription {
  const cleaning = old.cleaning && renewCleaning(old.cleaning, reading);
  const renewed = <P extends Pick<MaskPlan, 'trials'>>(plan: P): P => ({
    ...plan,
    trials: plan.trials.map((trial) => renewAutomatic(trial, reading, cleaning)),
  });
  return {
    ...renewed(old),
    reading,
    cleaning,
    ...(old.masksBelow ? { masksBelow: old.masksBelow.map(renewed) } : {}),
    ...(old.masksAbove ? { masksAbove: old.masksAbove.map(renewed) } : {}),
  };
}

/** The person knows better what blurred the frame. */
export function withReadingOverruled(old: Prescription, part: Partial<AcceptedReading>): Prescription {
  return old.reading ? { ...old, reading: { ...old.reading, ...part, auto: false } } : old;
}

/** Takes Automatic again. */
export function withMeasuredReading(old: Prescription): Prescription {
  return old.reading ? { ...old, reading: backToMeasured(old.reading) } : old;
}
