import type { Verdict } from '../audit/limits';
import type { Prescription } from '../prescription/prescription';
import { needsFaces, needsSubject, type MeasuredAnew } from './adaptKept';
import type { KeptPrescription } from './keptPrescription';

/** Why a frame of a round wants to be looked at by a person. */
export const LOOK_REASONS = ['unsure', 'no-subject', 'no-face', 'nothing-safe', 'check', 'damaged'] as const;
export type LookReason = (typeof LOOK_REASONS)[number];

/** A reading that is less sure than this is often wrong (docs/methods/read.md). */
const SURE_FROM = 0.6;

/**
 * @param adapted - The prescription that was used on the frame.
 * @param safest - The strongest safe amount; null where it was not asked for.
 * @param worst - Of the audit over places of what was recovered; null where nothing was.
 */
export function lookReasons(
  kept: KeptPrescription,
  adapted: Prescription,
  { subject, faces }: MeasuredAnew,
  safest: number | null,
  worst: Verdict | null,
): LookReason[] {
  const { reading, recovery } = adapted;
  const isRead = kept.ways.reading === 'anew' && kept.ways.recovery === 'anew';
  const measured = reading?.measured;
  const isDoubtful = recovery !== null && measured !== undefined && measured.confidence < SURE_FROM;
  // Left alone for another reason than being sharp: somebody may see more.
  const isLeftInDoubt = measured?.leftAlone !== undefined && measured.leftAlone !== 'sharp';
  const isUnsure = isRead && (isDoubtful || isLeftInDoubt);
  const reasons: readonly [LookReason, boolean][] = [
    ['unsure', isUnsure],
    ['no-subject', needsSubject(kept) && subject === null],
    ['no-face', needsFaces(kept) && !faces?.length],
    ['nothing-safe', safest === 0],
    ['check', worst === 'check'],
    ['damaged', worst === 'damaged'],
  ];
  return reasons.filter(([, holds]) => holds).map(([reason]) => reason);
}
