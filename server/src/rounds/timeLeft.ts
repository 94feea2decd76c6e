import type { RoundJob } from '../db/rounds';

const isOpen = ({ state }: RoundJob) => ['waiting', 'measuring', 'judging', 'rendering'].includes(state);

/** Seconds until a round is through, from how long its done frames took by size; null before the first is done. */
export function secondsLeft(jobs: readonly RoundJob[]): number | null {
  const done = jobs.filter(({ state, seconds }) => state === 'done' && seconds !== null);
  const open = jobs.filter(isOpen);
  if (open.length === 0) return 0;
  if (done.length === 0) return null;
  const sum = (of: readonly RoundJob[], pick: (job: RoundJob) => number) =>
    of.reduce((total, job) => total + pick(job), 0);
  const perMegapixel = sum(done, ({ seconds }) => seconds!) / sum(done, ({ megapixels }) => megapixels);
  return perMegapixel * sum(open, ({ megapixels }) => megapixels);
}
