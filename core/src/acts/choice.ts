import type { Face, FacePart } from '../audit/face';
import type { Figure, Figures } from '../audit/figures';
import type { PartLikeness } from '../audit/likeness';
import { contentKey } from '../contentKey';
import { keyOfOperations } from '../mask/area';
import type { Mask } from '../mask/maskOperation';
import {
  regionOfProbe,
  type KeptAudit,
  type KeptLikeness,
  type Prescription,
  type Probe,
  type Trial,
} from '../prescription/prescription';

/** A trial's recovery, as a prescription has it once it is chosen. */
export function recoveryOf(trial: Trial): NonNullable<Prescription['recovery']> {
  const { id: trialId, name: _, ...recovery } = trial;
  return { ...recovery, trialId };
}

/** What was known of a trial when it was chosen. */
interface Findings {
  readonly audit: readonly KeptAudit[];
  readonly likeness: readonly KeptLikeness[];
}

/** Puts a trial into the prescription as it stands now, with what the audit says of it. */
export function chooseTrial(old: Prescription, id: string, { audit, likeness }: Findings): Prescription {
  const trial = old.trials.find((candidate) => candidate.id === id);
  if (!trial) return old;
  return { ...old, recovery: recoveryOf(trial), audit, likeness, auditKey: auditKeyOf(old) };
}

/** Equal keys: what the audit judged, besides the trial itself, is as it was. */
function auditKeyOf({ mask, cleaning, reading, masksBelow = [], masksAbove = [] }: Prescription): string {
  const keyOf = ({ operations, opacityPercent }: Mask) => [keyOfOperations(operations), opacityPercent];
  const others = [masksBelow, masksAbove].map((plans) => plans.map((plan) => [keyOf(plan.mask), plan.recovery]));
  return contentKey([...keyOf(mask), cleaning, reading, ...(others.flat().length > 0 ? others : [])]);
}

/** A mask, the cleaning or the reading has changed since the chosen trial was audited. */
export function auditIsOld(prescription: Prescription): boolean {
  return prescription.auditKey !== undefined && prescription.auditKey !== auditKeyOf(prescription);
}

export function keptLikeness(
  face: Face,
  { part, likeness }: { readonly part: FacePart; readonly likeness: PartLikeness },
): KeptLikeness {
  const { shift, hue, structure } = likeness;
  return { face: face.name, part: part.part, shift, hue, structure };
}

/** The trial has been changed since it was chosen. */
export function differsFromChoice(old: Prescription, trial: Trial): boolean {
  if (old.recovery?.trialId !== trial.id) return false;
  return JSON.stringify(recoveryOf(trial)) !== JSON.stringify(old.recovery);
}

export function keptAudit(probe: Probe, figures: Figures): KeptAudit {
  const figure = ({ verdict, value }: Figure) => ({ verdict, value });
  const { halo, ringing, unproven, colour, grain, leak, gain } = figures;
  return {
    probe: probe.name,
    x: probe.x,
    y: probe.y,
    size: regionOfProbe(probe).width,
    halo: figure(halo),
    ringing: figure(ringing),
    unproven: figure(unproven),
    colour: figure(colour),
    grain: figure(grain),
    leak: figure(leak),
    gain,
  };
}
