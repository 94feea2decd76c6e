import { create } from 'zustand';
import { settleProposed, type Prescription } from '@vitrocept/core';
import { api, send } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { redoElsewhere, undoElsewhere } from './elsewhere';
import {
  actedElsewhere,
  adopted,
  begun,
  changed,
  keptMine,
  redone,
  undone,
  type Elsewhere,
  type FrameWork,
} from './frameWork';
import { keepWork } from './keptWork';
import { PageWorks } from './pageWorks';

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

/** What browsers send when a page is being left: Fetch Standard, keepalive, 64 KiB; the envelope takes a little. */
const MOST_LEAVING_CHARS = 60_000;

/** The prescriptions of the frames opened in this page: every change can be undone, is kept here and saved at once. */
export const useFrameStore = create<FrameState>()((set, get) => {
  const current = () => get().frame?.id ?? '';
  const works = new PageWorks(
    (work) =>
      set({
        unsaved: works.unsaved(),
        ...(work.frameId === current() ? { work, prescription: work.prescription } : {}),
      }),
    current,
  );
  const update = (next: (work: FrameWork) => FrameWork) => works.update(current(), next);

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
      set({ frame, ...(old === frame.id ? {} : { notice: null }) });
      works.open(frame);
    },

    change: (act, merge = '') => get().changeIn(current(), act, merge),
    changeIn(frameId, act, merge = '') {
      if (works.get(frameId))
        works.update(frameId, (work) =>
          changed(work, settleProposed(work.prescription, act(work.prescription)), merge, Date.now()),
        );
      else if (frameId)
        tellOf(
          frameId,
          get()
            .changeElsewhere(frameId, act)
            .then(() => null),
        );
    },

    async changeElsewhere(frameId, act) {
      if (works.get(frameId) && (await works.saveNow(frameId)) === null)
        throw new Error(works.get(frameId)?.saveError ?? 'This frame was changed in another window; open it first.');
      const frame = await api<FrameDetail>(`/api/frames/${frameId}`);
      works.open(frame);
      const before = works.get(frameId)!.prescription;
      get().changeIn(frameId, act);
      const after = works.get(frameId)!.prescription;
      if ((await works.saveNow(frameId)) === null)
        throw new Error(works.get(frameId)?.saveError ?? 'This frame was changed in another window meanwhile.');
      return { before, after };
    },

    did: (elsewhere) => update((work) => actedElsewhere(work, elsewhere)),
    begin: (act) => update((work) => begun(work, act(work.prescription))),

    undo() {
      const elsewhere = get().work?.past.at(-1)?.elsewhere;
      update(undone);
      if (elsewhere) tellOf(current(), undoElsewhere(elsewhere, get().changeElsewhere));
    },

    redo() {
      const elsewhere = get().work?.future[0]?.elsewhere;
      update(redone);
      if (elsewhere) tellOf(current(), redoElsewhere(elsewhere, get().changeElsewhere));
    },

    loadNewer: () => update((work) => (work.newer ? adopted(work, work.newer) : work)),
    keepMine: () => update(keptMine),
    takeLeftBehind: () =>
      update((work) =>
        work.leftBehind ? { ...changed(work, work.leftBehind, '', Date.now()), leftBehind: null } : work,
      ),
    throwLeftBehind: () => update((work) => ({ ...work, leftBehind: null })),
    dismissNotice: () => set({ notice: null }),

    saveNow: (frameId = current()) => works.saveNow(frameId),

    forgetPage() {
      works.forget();
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
