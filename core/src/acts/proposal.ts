import type { LookedAfterFrame } from '../read/lookedAfter';
import { keyOfOperations } from '../mask/area';
import { acceptReading } from '../prescription/automatic';
import type { Prescription, Probe, ProposedPart } from '../prescription/prescription';
import { suggestedTrials } from './trials';
import type { NewId } from './newId';

/** So many probes are proposed at most: more rows than fit on a screen help nobody. */
export const MOST_PROPOSED_PROBES = 4;

/**
 * What is ready when a frame that nobody has worked on is opened: its Reading, the subject as a mask, probes on it and
 * the most promising trials. All but the Reading is proposed only.
 *
 * @param probes - With their names.
 */
export function proposeStart(
  old: Prescription,
  { reading, proposal }: LookedAfterFrame,
  probes: readonly Omit<Probe, 'id'>[],
  newId: NewId,
): Prescription {
  const operations = proposal.mask ? [proposal.mask] : [];
  const over = proposal.mask
    ? ({ kind: 'mask', key: keyOfOperations(operations) } as const)
    : ({ kind: proposal.over === 'richest' ? 'richest' : 'whole', key: '' } as const);
  const read: Prescription = {
    ...old,
    reading: acceptReading(reading, over),
    mask: { ...old.mask, operations },
    probes: probes.slice(0, MOST_PROPOSED_PROBES).map((probe) => ({ id: newId(), ...probe })),
  };
  const trials = reading.cause ? suggestedTrials(read, newId) : [];
  const proposed: ProposedPart[] = [
    ...(operations.length > 0 ? (['mask'] as const) : []),
    ...(read.probes.length > 0 ? (['probes'] as const) : []),
    ...(trials.length > 0 ? (['trials'] as const) : []),
  ];
  return { ...read, trials, ...(proposed.length > 0 ? { proposed } : {}) };
}

const contentOf = (prescription: Prescription, part: ProposedPart): unknown =>
  part === 'mask' ? prescription.mask.operations : prescription[part];

/** What an act of the person changed is no longer proposed: it is the person's own. */
export function settleProposed(before: Prescription, after: Prescription): Prescription {
  if (!after.proposed) return after;
  const left = after.proposed.filter((part) => contentOf(before, part) === contentOf(after, part));
  return left.length === after.proposed.length ? after : withProposed(after, left);
}

/** Uses what is proposed as it stands. */
export const keepProposed = (old: Prescription, part: ProposedPart): Prescription =>
  withProposed(
    old,
    (old.proposed ?? []).filter((other) => other !== part),
  );

/** Takes away what is proposed. */
export function dropProposed(old: Prescription, part: ProposedPart): Prescription {
  const kept = keepProposed(old, part);
  return part === 'mask' ? { ...kept, mask: { ...kept.mask, operations: [] } } : { ...kept, [part]: [] };
}

export const isProposed = ({ proposed }: Prescription, part: ProposedPart): boolean =>
  proposed?.includes(part) ?? false;

function withProposed({ proposed: _, ...rest }: Prescription, left: readonly ProposedPart[]): Prescription {
  return left.length > 0 ? { ...rest, proposed: left } : rest;
}
