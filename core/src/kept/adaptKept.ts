import { withFoundFaces } from '../acts/faces';
import { withFeatures } from '../acts/mask';
import { renewAutomatic } from '../acts/trials';
import type { FoundFace } from '../audit/face';
import { keyOfOperations } from '../mask/area';
import type { AreaOperation, Mask } from '../mask/maskOperation';
import { scaledTo } from '../mask/scaledTo';
import type { Size } from '../picture/region';
import { acceptReading, automaticRecovery } from '../prescription/automatic';
import { automaticCleaning } from '../prescription/cleaning';
import type { Finishing } from '../prescription/finishing';
import {
  emptyPrescription,
  type AcceptedReading,
  type Cleaning,
  type Geometry,
  type MaskPlan,
  type MeasuredOver,
  type Prescription,
} from '../prescription/prescription';
import type { LookedAfterFrame } from '../read/lookedAfter';
import type { Reading } from '../read/reading';
import type { KeptPrescription } from './keptPrescription';

/** What was measured on the frame that a kept prescription is used on; null what was not asked for, or not found. */
export interface MeasuredAnew {
  readonly reading: Reading | null;
  /** Where that was read. */
  readonly over: MeasuredOver['kind'];
  readonly subject: AreaOperation | null;
  /** Of people, the largest first; nothing where they were not asked for. */
  readonly faces?: readonly FoundFace[];
}

/** What a frame that was looked after gives to a kept prescription. */
export function measuredOn(
  { reading, proposal: { mask, over } }: LookedAfterFrame,
  kept: KeptPrescription,
): MeasuredAnew {
  return {
    reading,
    over: mask ? 'mask' : over === 'richest' ? 'richest' : 'whole',
    subject: needsSubject(kept) ? mask : null,
  };
}

/** A kept prescription that recovers nothing needs no search for a cause: a first look tells the noise as well. */
export const needsOnlyFirstLook = ({ ways }: KeptPrescription): boolean => ways.recovery === 'left-out';

/** Whether a frame that was to be recovered too would only be cleaned: then it must be sure that noise alone goes. */
export const isCleanedByItself = ({ ways }: KeptPrescription, { cleaning, recovery }: Prescription): boolean =>
  cleaning !== null && recovery === null && ways.cleaning === 'anew' && ways.recovery !== 'left-out';

/** From this much noise at mid-tone on, %, *anew* cleans. */
const SHOWING_NOISE_PERCENT = 0.5;
const FULL = 100;

/** Whether a frame has to be read, and its subject found, before a kept prescription can be used on it. */
export const needsReading = ({ ways }: KeptPrescription): boolean =>
  ways.reading === 'anew' && (ways.cleaning !== 'left-out' || ways.recovery !== 'left-out');
export const needsSubject = ({ ways }: KeptPrescription): boolean =>
  (ways.subject === 'anew' || ways.subject === 'features') && ways.recovery !== 'left-out';
/** Whether the faces of people have to be looked for. */
export const needsFaces = ({ ways }: KeptPrescription): boolean =>
  ways.subject === 'features' && ways.recovery !== 'left-out';

/**
 * A kept prescription for another frame: parts *anew* from what was measured there, parts *as it is* as they were kept,
 * the numbers on Automatic from the reading. Where the subject, or a face, is to be found and was not, nothing is
 * recovered.
 *
 * @param frame - The frame it is used on; places are scaled to its size.
 */
export function adaptKept(kept: KeptPrescription, frame: Size, anew: MeasuredAnew): Prescription {
  const { ways, prescription: from } = kept;
  const masks = masksFor(kept, frame, anew);
  const readOver = needsFaces(kept) && anew.subject ? [anew.subject] : masks.mask.operations;
  const over: MeasuredOver = {
    kind: anew.over,
    key: anew.over === 'mask' ? keyOfOperations(readOver) : '',
  };
  const reading = ways.reading === 'anew' ? anew.reading && acceptReading(anew.reading, over) : from.reading;
  const cleaning = cleaningFor(kept, reading, masks);
  const isLost = needsFaces(kept) ? !anew.faces?.length : needsSubject(kept) && anew.subject === null;
  const recovery = isLost ? null : recoveryFor(kept, from, reading, cleaning);
  const others = (plans: readonly MaskPlan[] | undefined) =>
    plans?.map((plan) => ({ ...plan, recovery: recoveryFor(kept, plan, reading, cleaning) }));
  return {
    ...emptyPrescription(),
    reading,
    cleaning,
    ...masks,
    masksBelow: others(masks.masksBelow),
    masksAbove: others(masks.masksAbove),
    recovery,
    geometry: ways.framing === 'as-it-is' ? framingFor(from.geometry, kept.frame, frame) : null,
    ...(ways.corrections === 'as-it-is' && from.corrections ? { corrections: from.corrections } : {}),
    ...(ways.finishing === 'as-it-is' && from.finishing
      ? { finishing: finishingFor(from.finishing, kept.frame, frame) }
      : {}),
  };
}

/** The same with another amount; with none of it nothing is recovered. */
export function withSafestAmount(prescription: Prescription, amount: number): Prescription {
  const { recovery } = prescription;
  if (!recovery || amount === 0) return { ...prescription, recovery: null };
  return { ...prescription, recovery: { ...recovery, amount: { value: amount, auto: true } } };
}

type Masks = Pick<Prescription, 'mask' | 'masksBelow' | 'masksAbove'>;

function masksFor({ ways, prescription, frame: from }: KeptPrescription, frame: Size, anew: MeasuredAnew) {
  const { mask, masksBelow, masksAbove } = prescription;
  if (ways.subject !== 'as-it-is') {
    const operations = ways.subject !== 'whole-frame' && anew.subject ? [anew.subject] : [];
    if (ways.subject === 'features') {
      const { faces = [] } = withFoundFaces(prescription, anew.faces ?? [], () => 'found');
      return { mask: { ...emptyPrescription().mask, operations: withFeatures(operations, faces, true) } } as Masks;
    }
    return { mask: { ...emptyPrescription().mask, operations } } satisfies Masks as Masks;
  }
  const placed = (one: Mask): Mask => ({ ...one, operations: scaledTo(one.operations, from, frame) });
  const plans = (list: readonly MaskPlan[] | undefined) => list?.map((plan) => ({ ...plan, mask: placed(plan.mask) }));
  return { mask: placed(mask), masksBelow: plans(masksBelow), masksAbove: plans(masksAbove) } as Masks;
}

function cleaningFor(
  { ways, prescription }: KeptPrescription,
  reading: AcceptedReading | null,
  { mask, masksBelow = [], masksAbove = [] }: Masks,
): Cleaning | null {
  if (ways.cleaning === 'left-out') return null;
  if (ways.cleaning === 'anew') {
    return reading && reading.measured.noisePercent >= SHOWING_NOISE_PERCENT ? automaticCleaning(reading) : null;
  }
  const { cleaning } = prescription;
  const ids = [mask, ...[...masksBelow, ...masksAbove].map((plan) => plan.mask)].map(({ id }) => id);
  // A mask that was found anew is another: what was cleaned under it alone is cleaned everywhere.
  return cleaning && (cleaning.maskId === null || ids.includes(cleaning.maskId))
    ? cleaning
    : cleaning && { ...cleaning, maskId: null };
}

function recoveryFor(
  { ways }: KeptPrescription,
  { recovery }: MaskPlan,
  reading: AcceptedReading | null,
  cleaning: Cleaning | null,
): MaskPlan['recovery'] {
  if (ways.recovery === 'left-out') return null;
  if (ways.recovery === 'anew') {
    return reading?.method ? { ...automaticRecovery(reading.method, reading, FULL, cleaning), trialId: null } : null;
  }
  if (!recovery || ways.reading === 'as-it-is' || !reading) return recovery && { ...recovery, trialId: null };
  const renewed = renewAutomatic({ ...recovery, id: '' }, reading, cleaning);
  const { id: _, ...rest } = renewed;
  return { ...rest, amount: recovery.amount, trialId: null };
}

/** The masks of local changes laid on a frame of another size. */
const finishingFor = (finishing: Finishing, from: Size, to: Size): Finishing => ({
  ...finishing,
  localChanges: finishing.localChanges.map((change) => ({
    ...change,
    mask: { ...change.mask, operations: scaledTo(change.mask.operations, from, to) },
  })),
});

function framingFor(geometry: Geometry | null, from: Size, to: Size): Geometry | null {
  if (!geometry?.crop) return geometry;
  const { crop } = geometry;
  const [sx, sy] = [to.width / from.width, to.height / from.height];
  const [x, y] = [Math.round(crop.x * sx), Math.round(crop.y * sy)];
  const width = Math.max(1, Math.min(to.width - x, Math.round(crop.width * sx)));
  const height = Math.max(1, Math.min(to.height - y, Math.round(crop.height * sy)));
  return { ...geometry, crop: { x, y, width, height } };
}
