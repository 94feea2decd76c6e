import type { RoundPace } from '../db/rounds';

/**
 * Seconds until a round is through, from how long its done frames took by size, less what was spent already on those
 * under way; null before the first is done.
 *
 * @param left - Frames.
 * @param paces - Of each kind of frames; one of which none is done takes as long as all others.
 */
export function secondsLeft(left: number, paces: readonly RoundPace[]): number | null {
  if (left === 0) return 0;
  const total = (pick: (pace: RoundPace) => number) => paces.reduce((sum, pace) => sum + pick(pace), 0);
  const doneMegapixels = total((pace) => pace.doneMegapixels);
  if (doneMegapixels === 0) return null;
  const usual = total((pace) => pace.doneSeconds) / doneMegapixels;
  return total((pace) => {
    const each = pace.doneMegapixels > 0 ? pace.doneSeconds / pace.doneMegapixels : usual;
    // Where the clock was put back nothing was spent.
    const spent = Math.max(0, Math.min(pace.underwaySeconds, each * pace.underwayMegapixels));
    return each * pace.openMegapixels - spent;
  });
}
