import { clear, createStore, entries, get, set, type UseStore } from 'idb-keyval';
import { upToDate, type Prescription } from '@vitrocept/core';
import { isUnsaved, type FrameWork, type Step } from './frameWork';

/**
 * What this browser keeps of a frame beside the server: the way back, and what has not reached the server yet. Of an
 * object that stands in several steps IndexedDB writes one copy, so a long history of a heavy mask is not heavy.
 */
export interface KeptWork {
  readonly name: string;
  /** Of the server, on which `prescription` stands. */
  readonly revision: number;
  readonly prescription: Prescription;
  readonly isUnsaved: boolean;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  /** Was not saved when the page was left before, and has not been taken or thrown away since. */
  readonly leftBehind: Prescription | null;
}

const MOST_STEPS_KEPT = 60;
let store: UseStore | null = null;
const place = () => (store ??= createStore('vitrocept', 'work'));

/** A browser that keeps nothing (private windows of some) is no reason to stop. */
async function orElse<T>(act: () => Promise<T>, other: T): Promise<T> {
  try {
    return await act();
  } catch {
    return other;
  }
}

export async function keepWork(work: FrameWork): Promise<void> {
  const { name, revision, prescription, past, future, leftBehind } = work;
  const kept: KeptWork = {
    name,
    revision,
    prescription,
    isUnsaved: isUnsaved(work),
    past: past.slice(-MOST_STEPS_KEPT),
    future: future.slice(0, MOST_STEPS_KEPT),
    leftBehind,
  };
  await orElse(() => set(work.frameId, kept, place()), undefined);
}

export const keptWork = (frameId: string): Promise<KeptWork | null> =>
  orElse(async () => {
    const kept = await get<KeptWork>(frameId, place());
    return kept ? asToday(kept) : null;
  }, null);

/** Kept by this browser under an earlier Vitrocept, perhaps. */
function asToday(kept: KeptWork): KeptWork {
  const today = (prescription: Prescription) => upToDate(prescription) as Prescription;
  const steps = (way: readonly Step[]) => way.map((step) => ({ ...step, prescription: today(step.prescription) }));
  return {
    ...kept,
    prescription: today(kept.prescription),
    past: steps(kept.past),
    future: steps(kept.future),
    leftBehind: kept.leftBehind && today(kept.leftBehind),
  };
}

export const forgetAllWork = (): Promise<void> => orElse(() => clear(place()), undefined);

/** Frames with work that never reached the server. */
export async function framesLeftUnsaved(): Promise<{ frameId: string; name: string }[]> {
  const all = await orElse(() => entries<string, KeptWork>(place()), []);
  return all.filter(([, kept]) => kept.isUnsaved || kept.leftBehind).map(([frameId, { name }]) => ({ frameId, name }));
}
