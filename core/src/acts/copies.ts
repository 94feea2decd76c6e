import type { Mask, MaskOperation } from '../mask/maskOperation';
import { withNewMask } from '../prescription/masks';
import type { Prescription } from '../prescription/prescription';
import type { NewId } from './newId';

/** A mask of another frame; where there is one already it comes on top of it. */
export function withCopiedMask(
  old: Prescription,
  { name, opacityPercent }: Mask,
  operations: readonly MaskOperation[],
  newId: NewId,
): Prescription {
  const target = old.mask.operations.length === 0 ? old : withNewMask(old, newId(), name);
  return { ...target, mask: { ...target.mask, name, opacityPercent, operations } };
}
