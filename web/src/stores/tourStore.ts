import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface TourState {
  /** Of the frame that the tour goes through; null: none is under way. */
  readonly frameId: string | null;
  readonly step: number;
  /** It was gone through or closed: it is not offered again by itself. */
  readonly isClosed: boolean;
  begin(frameId: string): void;
  go(step: number): void;
  close(): void;
}

/** Where the first tour stands; this browser remembers it. */
export const useTourStore = create<TourState>()(
  persist(
    (set) => ({
      frameId: null,
      step: 0,
      isClosed: false,
      begin: (frameId) => set({ frameId, step: 0 }),
      go: (step) => set({ step }),
      close: () => set({ frameId: null, step: 0, isClosed: true }),
    }),
    { name: 'vitrocept-tour' },
  ),
);
