import type { StrongestSafe } from '@vitrocept/core';
import { create } from 'zustand';

interface SafestState {
  /** What was found for a trial, by its id; kept as long as the page is. */
  readonly found: Readonly<Record<string, StrongestSafe>>;
  /** Trials whose amount is being looked for. */
  readonly underway: readonly string[];
  begin(trialId: string): void;
  end(trialId: string, found: StrongestSafe | null): void;
}

/** Strongest safe amounts and why they are no stronger. */
export const useSafestStore = create<SafestState>()((set) => ({
  found: {},
  underway: [],
  begin: (trialId) => set(({ underway }) => ({ underway: [...underway, trialId] })),
  end: (trialId, answer) =>
    set(({ found, underway }) => ({
      underway: underway.filter((id) => id !== trialId),
      found: answer ? { ...found, [trialId]: answer } : found,
    })),
}));
