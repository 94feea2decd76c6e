import type { StrongestSafe } from '@vitrocept/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface SafestState {
  /**
   * What was found for a trial, by its id, the latest last; this browser remembers it, so nobody waits for it twice.
   */
  readonly found: Readonly<Record<string, StrongestSafe>>;
  /** Trials for which it could not be found. */
  readonly failed: readonly string[];
  /** Trials whose amount is being looked for. */
  readonly underway: readonly string[];
  begin(trialId: string): void;
  /** @param found - Null: it could not be found. */
  end(trialId: string, found: StrongestSafe | null): void;
}

const MOST_REMEMBERED = 200;

/** Strongest safe amounts and why they are no stronger. */
export const useSafestStore = create<SafestState>()(
  persist(
    (set) => ({
      found: {},
      failed: [],
      underway: [],
      begin: (trialId) =>
        set(({ failed, underway }) => ({
          underway: [...underway, trialId],
          failed: failed.filter((id) => id !== trialId),
        })),
      end: (trialId, answer) =>
        set(({ found, failed, underway }) => ({
          underway: underway.filter((id) => id !== trialId),
          ...(answer ? { found: remembered(found, trialId, answer) } : { failed: [...failed, trialId] }),
        })),
    }),
    { name: 'vitrocept-strongest-safe', partialize: ({ found }) => ({ found }) },
  ),
);

function remembered(found: SafestState['found'], trialId: string, answer: StrongestSafe): SafestState['found'] {
  const others = Object.entries(found).filter(([id]) => id !== trialId);
  return Object.fromEntries([...others, [trialId, answer] as const].slice(-MOST_REMEMBERED));
}
