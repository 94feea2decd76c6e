import { changesLight } from './corrections';
import { changesLook } from './finishing';
import { asTaken, cleanedOnly, isRecovered, recoveredOnly } from './masks';
import type { Prescription } from './prescription';

/** What a frame looks like on its way: as taken, cleaned of noise, recovered, and with light, colour and finishing. */
export const STAGES = ['original', 'cleaned', 'recovered', 'finished'] as const;
export type Stage = (typeof STAGES)[number];

/** The prescription as far as a stage. */
export function atStage(prescription: Prescription, stage: Stage): Prescription {
  switch (stage) {
    case 'finished':
      return prescription;
    case 'recovered':
      return recoveredOnly(prescription);
    case 'cleaned':
      return cleanedOnly(prescription);
    case 'original':
      return asTaken(prescription);
  }
}

/** Whether anything is mended, corrected in light and colour, finished or sharpened for the copy. */
export const isFinished = ({
  corrections,
  mends = [],
  finishing,
  outputSharpeningPercent = 0,
}: Prescription): boolean =>
  mends.length > 0 ||
  outputSharpeningPercent > 0 ||
  (corrections !== undefined && changesLight(corrections)) ||
  (finishing !== undefined && (changesLook(finishing) || finishing.vignette.cornerPercent !== 0));

/** The stages that a prescription passes through. */
export function stagesOf(prescription: Prescription): Stage[] {
  return STAGES.filter(
    (stage) =>
      stage === 'original' ||
      (stage === 'cleaned' && prescription.cleaning !== null) ||
      (stage === 'recovered' && isRecovered(prescription)) ||
      (stage === 'finished' && isFinished(prescription)),
  );
}

/**
 * Another stage of the same frame as it is compared: with the light and colour of the whole, so that nothing else
 * differs.
 */
export function inItsLight(prescription: Prescription, { corrections }: Prescription): Prescription {
  return corrections ? { ...prescription, corrections } : prescription;
}
