import type { RoundTally } from '../db/rounds';

type Paced = Pick<
  RoundTally,
  'left' | 'openMegapixels' | 'doneMegapixels' | 'doneSeconds' | 'underwayMegapixels' | 'underwaySeconds'
>;

/**
 * Seconds until a round is through, from how long its done frames took by size, less what was spent already on those under
 * way; null before the first is done.
 */
export function secondsLeft(round: Paced): number | null {
  const { left, openMegapixels, doneMegapixels, doneSeconds, underwayMegapixels, underwaySeconds } = round;
  if (left === 0) return 0;
  if (doneMegapixels === 0) return null;
  const pace = doneSeconds / doneMegapixels;
  // Where the clock was put back nothing was spent.
  return pace * openMegapixels - Math.max(0, Math.min(underwaySeconds, pace * underwayMegapixels));
}
