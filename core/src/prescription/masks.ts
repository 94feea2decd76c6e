import { operationsNear } from '../mask/drawMask';
import type { Region } from '../picture/region';
import { lensOnly, movesPixels } from './corrections';
import { emptyPrescription, MOST_MASKS, type MaskPlan, type Prescription } from './prescription';

/** Every mask of a frame, the lowest first, each as a prescription in which it is the one at work. */
export function plansOf(prescription: Prescription): Prescription[] {
  const { masksBelow = [], masksAbove = [] } = prescription;
  const atWork = (plan: MaskPlan) => ({ ...withoutPlan(prescription), ...plan });
  return [...masksBelow.map(atWork), prescription, ...masksAbove.map(atWork)];
}

/** All that belongs to a mask; a field of `MaskPlan` that is missing here does not compile. */
const PLAN_FIELDS: Record<keyof MaskPlan, true> = {
  mask: true,
  trials: true,
  recovery: true,
  audit: true,
  auditKey: true,
  likeness: true,
  comparisons: true,
};

const fieldsWhere = (prescription: Prescription, isOfPlan: boolean): object =>
  Object.fromEntries(Object.entries(prescription).filter(([field]) => field in PLAN_FIELDS === isOfPlan));

/** What belongs to the mask at work. */
const planOf = (prescription: Prescription) => fieldsWhere(prescription, true) as MaskPlan;

/** What belongs to the frame, whichever mask is at work. */
const withoutPlan = (prescription: Prescription) =>
  fieldsWhere(prescription, false) as Omit<Prescription, keyof MaskPlan>;

function allPlans(prescription: Prescription): MaskPlan[] {
  return [...(prescription.masksBelow ?? []), planOf(prescription), ...(prescription.masksAbove ?? [])];
}

/** The lowest first; `at` is the one at work. */
function placed(prescription: Prescription, plans: readonly MaskPlan[], at: number): Prescription {
  return {
    ...withoutPlan(prescription),
    ...plans[at],
    masksBelow: plans.slice(0, at),
    masksAbove: plans.slice(at + 1),
  };
}

const placeOf = (plans: readonly MaskPlan[], id: string) => plans.findIndex(({ mask }) => mask.id === id);

/** Puts a mask to work; an unknown one changes nothing. */
export function workOn(prescription: Prescription, id: string): Prescription {
  const plans = allPlans(prescription);
  const at = placeOf(plans, id);
  return at < 0 || id === prescription.mask.id ? prescription : placed(prescription, plans, at);
}

/** A new, empty mask on top of all, at work; it starts with the trials of the one at work before. */
export function withNewMask(prescription: Prescription, id: string, name: string): Prescription {
  const plans = allPlans(prescription);
  if (plans.length >= MOST_MASKS) return prescription;
  const { mask } = emptyPrescription();
  const plan = { mask: { ...mask, id, name }, trials: prescription.trials, recovery: null };
  return placed(prescription, [...plans, plan], plans.length);
}

/** The last mask cannot be removed, only cleared. */
export function withoutMask(prescription: Prescription, id: string): Prescription {
  const plans = allPlans(prescription);
  const at = placeOf(plans, id);
  if (at < 0 || plans.length === 1) return prescription;
  const rest = plans.filter((_, i) => i !== at);
  const worked = placeOf(rest, prescription.mask.id);
  return placed(prescription, rest, worked >= 0 ? worked : Math.min(at, rest.length - 1));
}

/** Moves a mask by one place; `step` 1 is up, over the next. */
export function withMaskMoved(prescription: Prescription, id: string, step: 1 | -1): Prescription {
  const plans = allPlans(prescription);
  const at = placeOf(plans, id);
  const to = at + step;
  if (at < 0 || to < 0 || to >= plans.length) return prescription;
  [plans[at], plans[to]] = [plans[to], plans[at]];
  return placed(prescription, plans, placeOf(plans, prescription.mask.id));
}

/** Changes a mask, at work or not. */
export function withMask(
  prescription: Prescription,
  id: string,
  act: (mask: MaskPlan['mask']) => MaskPlan['mask'],
): Prescription {
  if (id === prescription.mask.id) return { ...prescription, mask: act(prescription.mask) };
  const change = (plan: MaskPlan) => (plan.mask.id === id ? { ...plan, mask: act(plan.mask) } : plan);
  return {
    ...prescription,
    masksBelow: prescription.masksBelow?.map(change),
    masksAbove: prescription.masksAbove?.map(change),
  };
}

/** The same with those operations of its masks alone that can matter in `region`. */
export function prescriptionNear(prescription: Prescription, region: Region): Prescription {
  const near = <P extends Pick<MaskPlan, 'mask'>>(plan: P): P => ({
    ...plan,
    mask: { ...plan.mask, operations: operationsNear(plan.mask.operations, region) },
  });
  const { masksBelow, masksAbove } = prescription;
  return { ...near(prescription), masksBelow: masksBelow?.map(near), masksAbove: masksAbove?.map(near) };
}

/**
 * As recovered: nothing corrected, mended or finished. What moves pixels for the lens's sake stays, as the crop does.
 */
export function recoveredOnly(prescription: Prescription): Prescription {
  const { corrections, mends, finishing, outputSharpeningPercent, ...rest } = prescription;
  if (!corrections && !mends && !finishing && !outputSharpeningPercent) return prescription;
  if (!corrections || !movesPixels(corrections)) return rest;
  return { ...rest, corrections: lensOnly(corrections) };
}

/** The frame as cleaned, nothing recovered. */
export function cleanedOnly(prescription: Prescription): Prescription {
  const still = (plan: MaskPlan): MaskPlan => ({ ...plan, recovery: null });
  const { masksBelow, masksAbove } = prescription;
  return {
    ...recoveredOnly(prescription),
    recovery: null,
    masksBelow: masksBelow?.map(still),
    masksAbove: masksAbove?.map(still),
  };
}

/** The frame as it was taken. */
export function asTaken(prescription: Prescription): Prescription {
  return { ...cleanedOnly(prescription), cleaning: null };
}

/** Whether anything is recovered under any mask. */
export function isRecovered(prescription: Prescription): boolean {
  return plansOf(prescription).some(({ recovery }) => recovery !== null);
}
