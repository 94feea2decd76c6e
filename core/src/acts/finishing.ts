import type { MaskOperation } from '../mask/maskOperation';
import {
  CHANGES,
  MOST_LOCAL_CHANGES,
  MOST_MENDS,
  noFinishing,
  VIGNETTE,
  VIGNETTE_KEYS,
  WHOLE,
  WHOLE_KEYS,
  type ChangeKey,
  type Finishing,
  type LocalChange,
  type Mend,
  type Vignette,
  type WholeKey,
} from '../prescription/finishing';
import type { Prescription } from '../prescription/prescription';
import type { NewId } from './newId';

const within = (value: number, { least, most }: { readonly least: number; readonly most: number }) =>
  Math.max(least, Math.min(most, value));

/** Finishing changed by an act; where none is left it is left out. */
function withFinishing(old: Prescription, act: (finishing: Finishing) => Finishing): Prescription {
  const finishing = act(old.finishing ?? noFinishing());
  const { finishing: _, ...rest } = old;
  const isThere =
    WHOLE_KEYS.some((key) => finishing[key] !== 0) ||
    finishing.vignette.cornerPercent !== 0 ||
    finishing.localChanges.length > 0;
  return isThere ? { ...rest, finishing } : rest;
}

export const withWhole = (old: Prescription, key: WholeKey, value: number): Prescription =>
  withFinishing(old, (finishing) => ({ ...finishing, [key]: within(value, WHOLE[key]) }));

export const withVignette = (old: Prescription, part: Partial<Vignette>): Prescription =>
  withFinishing(old, (finishing) => {
    const wanted = { ...finishing.vignette, ...part };
    const vignette = Object.fromEntries(VIGNETTE_KEYS.map((key) => [key, within(wanted[key], VIGNETTE[key])]));
    return { ...finishing, vignette: vignette as unknown as Vignette };
  });

/** A local change under a mask of its own; beyond the most there may be nothing changes. */
export function addLocalChange(
  old: Prescription,
  name: string,
  operations: readonly MaskOperation[],
  newId: NewId,
): Prescription {
  return withFinishing(old, (finishing) => {
    if (finishing.localChanges.length >= MOST_LOCAL_CHANGES) return finishing;
    const mask = { id: newId(), name, opacityPercent: 100, operations };
    const change: LocalChange = { mask, exposureEv: 0, saturation: 0, warmth: 0, localContrast: 0 };
    return { ...finishing, localChanges: [...finishing.localChanges, change] };
  });
}

export const changeLocal = (old: Prescription, id: string, act: (change: LocalChange) => LocalChange): Prescription =>
  withFinishing(old, (finishing) => ({
    ...finishing,
    localChanges: finishing.localChanges.map((change) => (change.mask.id === id ? act(change) : change)),
  }));

export const withLocal = (old: Prescription, id: string, key: ChangeKey, value: number): Prescription =>
  changeLocal(old, id, (change) => ({ ...change, [key]: within(value, CHANGES[key]) }));

export const withLocalOperations = (
  old: Prescription,
  id: string,
  act: (operations: readonly MaskOperation[]) => readonly MaskOperation[],
): Prescription =>
  changeLocal(old, id, (change) => ({
    ...change,
    mask: { ...change.mask, operations: act(change.mask.operations) },
  }));

/** An act on a prescription in which the mask of a local change stands at work; null: the frame's own. */
export function underLocal(
  old: Prescription,
  id: string | null,
  act: (prescription: Prescription) => Prescription,
): Prescription {
  const change = old.finishing?.localChanges.find(({ mask }) => mask.id === id);
  if (!change) return id === null ? act(old) : old;
  const after = act({ ...old, mask: change.mask });
  return changeLocal({ ...after, mask: old.mask }, change.mask.id, (one) => ({ ...one, mask: after.mask }));
}

export const removeLocal = (old: Prescription, id: string): Prescription =>
  withFinishing(old, (finishing) => ({
    ...finishing,
    localChanges: finishing.localChanges.filter(({ mask }) => mask.id !== id),
  }));

/** Earlier (−1) or later (1) in the order in which they act. */
export function moveLocal(old: Prescription, id: string, step: 1 | -1): Prescription {
  return withFinishing(old, (finishing) => {
    const list = [...finishing.localChanges];
    const at = list.findIndex(({ mask }) => mask.id === id);
    if (at < 0 || at + step < 0 || at + step >= list.length) return finishing;
    [list[at], list[at + step]] = [list[at + step], list[at]];
    return { ...finishing, localChanges: list };
  });
}

/** The opposite of a mask: all that it leaves out. */
export const oppositeOf = (operations: readonly MaskOperation[]): MaskOperation[] => [
  ...operations,
  { kind: 'invert' },
];

export function addMend(old: Prescription, mend: Mend): Prescription {
  const mends = old.mends ?? [];
  return mends.length >= MOST_MENDS ? old : { ...old, mends: [...mends, mend] };
}

export const changeMend = (old: Prescription, id: string, part: Partial<Omit<Mend, 'id'>>): Prescription => ({
  ...old,
  mends: old.mends?.map((mend) => (mend.id === id ? { ...mend, ...part } : mend)),
});

export function removeMend(old: Prescription, id: string): Prescription {
  const { mends = [], ...rest } = old;
  const left = mends.filter((mend) => mend.id !== id);
  return left.length > 0 ? { ...rest, mends: left } : rest;
}
