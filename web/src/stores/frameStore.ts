import { create } from 'zustand';
import type { Prescription } from '@vitrocept/core';
import type { SavedPrescription } from '@vitrocept/server';
import { api, ApiError, send } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { redoElsewhere, undoElsewhere } from './elsewhere';
import {
  actedElsewhere,
  adopted,
  begun,
  changed,
  isSame,
  isUnsaved,
  keptMine,
  redone,
  startedWork,
  undone,
  type Elsewhere,
  type FrameWork,
} from './frameWork';
import { keepWork, keptWork } from './keptWork';

export type Act = (prescription: Prescription) => Prescription;

interface FrameState {
  readonly frame: FrameDetail | null;
  /** Of the frame on screen. */
  readonly work: FrameWork | null;
  readonly prescription: Prescription | null;
  /** Frames with work that is not on the server yet, the one on screen too. */
  readonly unsaved: readonly FrameWork[];
  /** What undoing could not take back, as a sentence. */
  readonly notice: string | null;
  open(frame: FrameDetail): void;
  /** One act of the person on the frame on screen. Acts in a row with the same `merge` are undone together. */
  change(act: Act, merge?: string): void;
  /** The same on a frame that was opened in this page, on screen or not: for answers that took their time. */
  changeIn(frameId: string, act: Act, merge?: string): void;
  /** The same on any frame; resolves with what stood there before and after once it is saved. */
  changeElsewhere(frameId: string, act: Act): Promise<{ before: Prescription; after: Prescription }>;
  /** An act on the frame on screen whose effect lies elsewhere, to be undone with the others. */
  did(elsewhere: Elsewhere): void;
  /** What the program sets by itself, such as the first reading: saved, but not a step to undo. */
  begin(act: Act): void;
  undo(): void;
  redo(): void;
  loadNewer(): void;
  keepMine(): void;
  takeLeftBehind(): void;
  throwLeftBehind(): void;
  dismissNotice(): void;
  /** Resolves with the revision under which all of the frame is saved; null where it could not be. */
  saveNow(frameId?: string): Promise<number | null>;
  /** As if the page were loaded anew. */
  forgetPage(): void;
}

const SAVE_DELAY_MS = 250;
const RETRY_MS = 3000;
const KEEP_DELAY_MS = 120;
/** What browsers send when a page is being left: Fetch Standard, keepalive, 64 KiB; the envelope takes a little. */
const MOST_LEAVING_CHARS = 60_000;
const MOST_WORKS = 24;

/** The prescriptions of the frames opened in this page: every change can be undone, is kept here and saved at once. */
export const useFrameStore = create<FrameState>()((set, get) => {
  const works = new Map<string, FrameWork>();
  const saveTimers = new Map<string, ReturnType<typeof setTimeout>>();
  const keepTimers = new Map<string, ReturnType<typeof setTimeout>>();
  const flights = new Map<string, Promise<void>>();
  const recalls = new Map<string, Promise<void>>();

  const keepNow = async (frameId: string) => {
    clearTimeout(keepTimers.get(frameId));
    keepTimers.delete(frameId);
    // What was kept before is read first: writing would lose it.
    await recalls.get(frameId);
    const work = works.get(frameId);
    if (work) await keepWork(work);
  };
  const put = (work: FrameWork) => {
    works.set(work.frameId, work);
    const isOnScreen = get().frame?.id === work.frameId;
    set({
      unsaved: [...works.values()].filter(isUnsaved),
      ...(isOnScreen ? { work, prescription: work.prescription } : {}),
    });
    if (!keepTimers.has(work.frameId))
      keepTimers.set(
        work.frameId,
        setTimeout(() => void keepNow(work.frameId), KEEP_DELAY_MS),
      );
  };
  const saveSoon = (frameId: string, delayMs = SAVE_DELAY_MS) => {
    clearTimeout(saveTimers.get(frameId));
    saveTimers.set(
      frameId,
      setTimeout(() => void get().saveNow(frameId), delayMs),
    );
  };
  const update = (frameId: string, next: (work: FrameWork) => FrameWork) => {
    const work = works.get(frameId);
    if (!work) return;
    const after = next(work);
    if (after === work) return;
    put(after);
    if (after.prescription !== work.prescription || after.saveState !== work.saveState) {
      if (isUnsaved(after) && !after.newer) saveSoon(frameId);
    }
  };
  const current = () => get().frame?.id ?? '';

  /** Work that nobody looks at and that is saved is kept by the browser; here only the newest stay. */
  const letGoOfOld = () => {
    for (const [id, work] of works) {
      if (works.size <= MOST_WORKS) return;
      const isBusy = flights.has(id) || recalls.has(id);
      if (id !== current() && !isUnsaved(work) && !work.leftBehind && !isBusy) {
        clearTimeout(keepTimers.get(id));
        keepTimers.delete(id);
        void keepWork(work);
        works.delete(id);
      }
    }
  };

  /** Adds what the browser kept from earlier visits: the way back, and what had not been saved. */
  const recall = async (frameId: string, loaded: SavedPrescription) => {
    const kept = await keptWork(frameId);
    const work = works.get(frameId);
    if (!kept || !work) return;
    const isSameState = isSame(kept.prescription, loaded.prescription);
    const newerSteps = isSameState ? [] : kept.isUnsaved ? [] : [{ prescription: kept.prescription }];
    // Left behind twice: the older becomes a step that undo reaches.
    const older = kept.isUnsaved && kept.leftBehind ? [{ prescription: kept.leftBehind }] : [];
    const past = [...kept.past, ...older, ...newerSteps, ...work.past];
    const future = work.past.length === 0 && isSameState ? kept.future : work.future;
    const leftBehind = kept.isUnsaved && !isSameState ? kept.prescription : kept.leftBehind;
    put({ ...work, past, future, leftBehind });
  };

  const taken = (frame: FrameDetail): FrameWork => {
    const known = works.get(frame.id);
    if (!known) {
      const recalling = Promise.resolve().then(() => recall(frame.id, frame.saved));
      recalls.set(
        frame.id,
        recalling.finally(() => recalls.delete(frame.id)),
      );
      return startedWork(frame.id, frame.name, frame.saved);
    }
    // An answer from before our last save, or one that our unsaved work will meet when it is saved, changes nothing.
    if (isUnsaved(known) || flights.has(frame.id) || frame.saved.revision <= known.revision) return known;
    return adopted(known, frame.saved);
  };

  const sendOne = async (work: FrameWork): Promise<void> => {
    const { frameId, revision, prescription } = work;
    try {
      const path = `/api/frames/${frameId}/prescription`;
      const answer = await send<{ revision: number }>('PUT', path, { revision, prescription });
      const now = works.get(frameId)!;
      const saveState = now.prescription === prescription ? 'saved' : 'saving';
      put({ ...now, revision: answer.revision, saveError: null, saveState });
    } catch (error) {
      const now = works.get(frameId)!;
      if (error instanceof ApiError && error.status === 409) {
        const saved = error.body.saved as SavedPrescription;
        // It was saved, but the answer did not come back, or was sent once more when the page was left.
        if (isSame(saved.prescription, prescription)) {
          const saveState = now.prescription === prescription ? 'saved' : 'saving';
          put({ ...now, revision: saved.revision, saveError: null, saveState });
        } else put({ ...now, newer: saved, saveState: 'stale' });
        return;
      }
      put({ ...now, saveState: 'failed', saveError: (error as Error).message });
      // What the server refuses as it is will be refused again; all else may work in a moment.
      const status = error instanceof ApiError ? error.status : 0;
      if (status === 0 || status >= 500) saveSoon(frameId, RETRY_MS);
    }
  };

  const saveAll = async (frameId: string): Promise<void> => {
    for (let work = works.get(frameId); work && isUnsaved(work) && !work.newer; work = works.get(frameId)) {
      await sendOne(work);
      if (works.get(frameId)?.saveState === 'failed') return;
    }
  };

  const tellOf = (frameId: string, effect: Promise<string | null>) =>
    void effect
      .catch((error: Error) => error.message)
      .then((notice) => {
        if (notice && get().frame?.id === frameId) set({ notice });
      });

  return {
    frame: null,
    work: null,
    prescription: null,
    unsaved: [],
    notice: null,

    open(frame) {
      const old = current();
      if (old && old !== frame.id) void get().saveNow(old);
      const work = taken(frame);
      set({ frame, ...(old === frame.id ? {} : { notice: null }) });
      works.delete(frame.id);
      put(work);
      letGoOfOld();
    },

    change: (act, merge = '') => get().changeIn(current(), act, merge),
    changeIn(frameId, act, merge = '') {
      if (works.has(frameId)) update(frameId, (work) => changed(work, act(work.prescription), merge, Date.now()));
      else if (frameId)
        tellOf(
          frameId,
          get()
            .changeElsewhere(frameId, act)
            .then(() => null),
        );
    },

    async changeElsewhere(frameId, act) {
      if (works.has(frameId) && (await get().saveNow(frameId)) === null)
        throw new Error(works.get(frameId)?.saveError ?? 'This frame was changed in another window; open it first.');
      const frame = await api<FrameDetail>(`/api/frames/${frameId}`);
      put(taken(frame));
      const before = works.get(frameId)!.prescription;
      get().changeIn(frameId, act);
      const after = works.get(frameId)!.prescription;
      if ((await get().saveNow(frameId)) === null)
        throw new Error(works.get(frameId)?.saveError ?? 'This frame was changed in another window meanwhile.');
      letGoOfOld();
      return { before, after };
    },

    did: (elsewhere) => update(current(), (work) => actedElsewhere(work, elsewhere)),
    begin: (act) => update(current(), (work) => begun(work, act(work.prescription))),

    undo() {
      const elsewhere = get().work?.past.at(-1)?.elsewhere;
      update(current(), undone);
      if (elsewhere) tellOf(current(), undoElsewhere(elsewhere, get().changeElsewhere));
    },

    redo() {
      const elsewhere = get().work?.future[0]?.elsewhere;
      update(current(), redone);
      if (elsewhere) tellOf(current(), redoElsewhere(elsewhere, get().changeElsewhere));
    },

    loadNewer: () => update(current(), (work) => (work.newer ? adopted(work, work.newer) : work)),
    keepMine: () => update(current(), keptMine),
    takeLeftBehind: () =>
      update(current(), (work) =>
        work.leftBehind ? { ...changed(work, work.leftBehind, '', Date.now()), leftBehind: null } : work,
      ),
    throwLeftBehind: () => update(current(), (work) => ({ ...work, leftBehind: null })),
    dismissNotice: () => set({ notice: null }),

    async saveNow(frameId = current()) {
      clearTimeout(saveTimers.get(frameId));
      const before = works.get(frameId);
      if (before && isUnsaved(before) && !flights.has(frameId))
        flights.set(
          frameId,
          saveAll(frameId).finally(() => flights.delete(frameId)),
        );
      await flights.get(frameId);
      const work = works.get(frameId);
      return work && !isUnsaved(work) ? work.revision : null;
    },

    forgetPage() {
      for (const timer of [...saveTimers.values(), ...keepTimers.values()]) clearTimeout(timer);
      for (const map of [works, saveTimers, keepTimers, flights, recalls]) map.clear();
      set({ frame: null, work: null, prescription: null, unsaved: [], notice: null });
    },
  };
});

/** Leaving the page: what fits is still sent, all of it is kept by the browser, and the person is asked. */
function leave(): void {
  for (const work of useFrameStore.getState().unsaved) {
    void keepWork(work);
    const { frameId, revision, prescription, newer, saveState } = work;
    const body = { revision, prescription };
    if (newer || saveState === 'stale' || JSON.stringify(body).length > MOST_LEAVING_CHARS) continue;
    void send('PUT', `/api/frames/${frameId}/prescription`, body, true).catch(() => undefined);
  }
}

window.addEventListener('pagehide', leave);
window.addEventListener('beforeunload', (event) => {
  const { unsaved, saveNow } = useFrameStore.getState();
  if (unsaved.length === 0) return;
  for (const { frameId } of unsaved) void saveNow(frameId);
  event.preventDefault();
});
