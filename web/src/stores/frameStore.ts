import { create } from 'zustand';
import type { Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { ApiError, send } from '../api/client';
import type { SavedPrescription } from '@vitrocept/server';

type SaveState = 'saved' | 'saving' | 'failed' | 'stale';

interface FrameState {
  readonly frame: FrameDetail | null;
  readonly prescription: Prescription | null;
  readonly revision: number;
  readonly past: readonly Prescription[];
  readonly future: readonly Prescription[];
  readonly saveState: SaveState;
  readonly saveError: string | null;
  /** What another window saved meanwhile. */
  readonly newer: SavedPrescription | null;
  open(frame: FrameDetail): void;
  /** One act of the person. Acts in a row with the same `merge` (a slider being dragged) are undone together. */
  change(act: (prescription: Prescription) => Prescription, merge?: string): void;
  /** What the program sets by itself, such as the first reading: saved, but not a step to undo. */
  begin(act: (prescription: Prescription) => Prescription): void;
  undo(): void;
  redo(): void;
  loadNewer(): void;
  keepMine(): void;
  saveNow(leaving?: boolean): Promise<void>;
}

const SAVE_DELAY_MS = 250;
const MERGE_MS = 1200;
const MOST_STEPS_BACK = 200;
let saveTimer: ReturnType<typeof setTimeout> | undefined;
let lastMerge = { key: '', at: 0 };
let saving = false;

/** The prescription of the frame on screen: every change can be undone and is saved at once. */
export const useFrameStore = create<FrameState>()((set, get) => {
  const saveSoon = () => {
    clearTimeout(saveTimer);
    saveTimer = setTimeout(() => void get().saveNow(), SAVE_DELAY_MS);
  };
  const place = (prescription: Prescription, more: Partial<FrameState>) => {
    set({ prescription, saveState: get().newer ? 'stale' : 'saving', ...more });
    saveSoon();
  };
  return {
    frame: null,
    prescription: null,
    revision: 0,
    past: [],
    future: [],
    saveState: 'saved',
    saveError: null,
    newer: null,

    open(frame) {
      if (get().frame?.id === frame.id) {
        set({ frame });
        return;
      }
      lastMerge = { key: '', at: 0 };
      const { prescription, revision } = frame.saved;
      set({ frame, prescription, revision, past: [], future: [], saveState: 'saved', saveError: null, newer: null });
    },

    change(act, merge = '') {
      const { prescription, past } = get();
      if (!prescription) return;
      const next = act(prescription);
      if (next === prescription) return;
      const joins = merge !== '' && merge === lastMerge.key && Date.now() - lastMerge.at < MERGE_MS;
      lastMerge = { key: merge, at: Date.now() };
      place(next, { past: joins ? past : [...past, prescription].slice(-MOST_STEPS_BACK), future: [] });
    },

    begin(act) {
      const { prescription } = get();
      if (prescription) place(act(prescription), {});
    },

    undo() {
      const { prescription, past, future } = get();
      if (!prescription || past.length === 0) return;
      lastMerge = { key: '', at: 0 };
      place(past[past.length - 1], { past: past.slice(0, -1), future: [prescription, ...future] });
    },

    redo() {
      const { prescription, past, future } = get();
      if (!prescription || future.length === 0) return;
      lastMerge = { key: '', at: 0 };
      place(future[0], { past: [...past, prescription], future: future.slice(1) });
    },

    loadNewer() {
      const { newer, prescription, past } = get();
      if (!newer || !prescription) return;
      set({
        prescription: newer.prescription,
        revision: newer.revision,
        past: [...past, prescription],
        future: [],
        newer: null,
        saveState: 'saved',
      });
    },

    keepMine() {
      const { newer, past } = get();
      if (!newer) return;
      set({ revision: newer.revision, past: [...past, newer.prescription], newer: null, saveState: 'saving' });
      saveSoon();
    },

    async saveNow(leaving = false) {
      clearTimeout(saveTimer);
      const { frame, prescription, revision, saveState, newer } = get();
      if (!frame || !prescription || newer || saveState === 'saved' || saving) return;
      saving = true;
      try {
        const path = `/api/frames/${frame.id}/prescription`;
        const answer = await send<{ revision: number }>('PUT', path, { revision, prescription }, leaving);
        if (get().frame?.id !== frame.id) return;
        const isNewest = get().prescription === prescription;
        set({ revision: answer.revision, saveError: null, saveState: isNewest ? 'saved' : 'saving' });
        if (!isNewest) saveSoon();
      } catch (error) {
        if (get().frame?.id !== frame.id) return;
        if (error instanceof ApiError && error.status === 409) {
          set({ newer: error.body.saved as SavedPrescription, saveState: 'stale' });
        } else {
          set({ saveState: 'failed', saveError: (error as Error).message });
          saveTimer = setTimeout(() => void get().saveNow(), 3000);
        }
      } finally {
        saving = false;
      }
    },
  };
});

window.addEventListener('pagehide', () => void useFrameStore.getState().saveNow(true));
