import { asTaken, cleanedOnly, isRecovered } from './masks';
import type { Prescription } from './prescription';

/** What a frame looks like on its way: as taken, cleaned of noise, recovered. */
export const STAGES = ['original', 'cleaned', 'recovered'] as const;
export type Stage = (typeof STAGES)[number];

/** The prescription as far as a stage. */
export function atStage(prescription: Prescription, stage: Stage): Prescription {
  if (stage === 'recovered') return prescription;
  return stage === 'cleaned' ? cleanedOnly(prescription) : asTaken(prescription);
}

/** The stages that a prescription passes through. */
export function stagesOf(prescription: Prescription): Stage[] {
  return STAGES.filter(
    (stage) =>
      stage === 'original' ||
      (stage === 'cleaned' && prescription.cleaning !== null) ||
      (stage === 'recovered' && isRecovered(prescription)),
  );
}
