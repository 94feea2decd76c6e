import type { RoundTally } from '../db/rounds';

type Paced = Pick<RoundTally, 'left' | 'openMegapixels' | 'doneMegapixels' | 'doneSeconds'>;

/** Seconds until a round is through, from how long its done frames took by size; null before the first is done. */
export function secondsLeft({ left, openMegapixels, doneMegapixels, doneSeconds }: Paced): number | null {
  if (left === 0) return 0;
  return doneMegapixels > 0 ? (doneSeconds / doneMegapixels) * openMegapixels : null;
}
