import type { Prescription } from '@vitrocept/core';
import type { SavedPrescription } from '@vitrocept/server';

/** What an act changed beside the prescription of its own frame; undoing the act takes it back as well. */
export type Elsewhere =
  | { readonly kind: 'copies'; readonly frames: readonly CopiedInto[] }
  | { readonly kind: 'removed version'; readonly frameId: string; readonly versionId: string };

export interface CopiedInto {
  readonly frameId: string;
  readonly name: string;
  readonly before: Prescription;
  readonly after: Prescription;
}

/** A place in the history that can be gone back to. */
export interface Step {
  readonly prescription: Prescription;
  /** What the act that left this place did elsewhere. */
  readonly elsewhere?: Elsewhere;
}

export type SaveState = 'saved' | 'saving' | 'failed' | 'stale';

/** What a person has done to one frame in this page: the prescription, the way back, and how far it is saved. */
export interface FrameWork {
  readonly frameId: string;
  readonly name: string;
  readonly prescription: Prescription;
  /** On top of which it will be saved. */
  readonly revision: number;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  readonly saveState: SaveState;
  readonly saveError: string | null;
  /** What another window saved meanwhile. */
  readonly newer: SavedPrescription | null;
  /** What was not saved when the page was last left, until it is taken or thrown away. */
  readonly leftBehind: Prescription | null;
  readonly merge: { readonly key: string; readonly atMs: number };
}

const MERGE_MS = 1200;
const MOST_STEPS_BACK = 200;
const NO_MERGE = { key: '', atMs: 0 };

export function startedWork(frameId: string, name: string, saved: SavedPrescription): FrameWork {
  return {
    frameId,
    name,
    ...saved,
    past: [],
    future: [],
    saveState: 'saved',
    saveError: null,
    newer: null,
    leftBehind: null,
    merge: NO_MERGE,
  };
}

const unsaved = (work: FrameWork): SaveState => (work.newer ? 'stale' : 'saving');

/** One act of the person; acts in a row with the same `merge` (a slider being dragged) are one step. */
export function changed(work: FrameWork, next: Prescription, merge: string, nowMs: number): FrameWork {
  if (next === work.prescription) return work;
  const joins = merge !== '' && merge === work.merge.key && nowMs - work.merge.atMs < MERGE_MS;
  const past = joins ? work.past : [...work.past, { prescription: work.prescription }].slice(-MOST_STEPS_BACK);
  return {
    ...work,
    prescription: next,
    past,
    future: [],
    saveState: unsaved(work),
    merge: { key: merge, atMs: nowMs },
  };
}

/** What the program sets by itself: saved, but not a step to undo. */
export function begun(work: FrameWork, next: Prescription): FrameWork {
  return next === work.prescription ? work : { ...work, prescription: next, saveState: unsaved(work) };
}

/** An act whose whole effect lies elsewhere. */
export function actedElsewhere(work: FrameWork, elsewhere: Elsewhere): FrameWork {
  const past = [...work.past, { prescription: work.prescription, elsewhere }].slice(-MOST_STEPS_BACK);
  return { ...work, past, future: [], merge: NO_MERGE };
}

export function undone(work: FrameWork): FrameWork {
  const step = work.past.at(-1);
  if (!step) return work;
  const { elsewhere } = step;
  const back = { prescription: work.prescription, ...(elsewhere ? { elsewhere } : {}) };
  return moved(work, step.prescription, work.past.slice(0, -1), [back, ...work.future]);
}

export function redone(work: FrameWork): FrameWork {
  const [step, ...future] = work.future;
  if (!step) return work;
  const { elsewhere } = step;
  const back = { prescription: work.prescription, ...(elsewhere ? { elsewhere } : {}) };
  return moved(work, step.prescription, [...work.past, back], future);
}

function moved(work: FrameWork, prescription: Prescription, past: readonly Step[], future: readonly Step[]): FrameWork {
  const saveState = prescription === work.prescription ? work.saveState : unsaved(work);
  return { ...work, prescription, past, future, saveState, merge: NO_MERGE };
}

/** Takes what was saved elsewhere; undo brings back what stood here. */
export function adopted(work: FrameWork, saved: SavedPrescription): FrameWork {
  const past = [...work.past, { prescription: work.prescription }].slice(-MOST_STEPS_BACK);
  return { ...work, ...saved, past, future: [], saveState: 'saved', saveError: null, newer: null, merge: NO_MERGE };
}

/** Mine goes on top of what another window saved; undo brings theirs back. */
export function keptMine(work: FrameWork): FrameWork {
  if (!work.newer) return work;
  const { revision, prescription } = work.newer;
  return { ...work, revision, past: [...work.past, { prescription }], newer: null, saveState: 'saving' };
}

export const isUnsaved = (work: FrameWork): boolean => work.saveState !== 'saved';

export const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
