import { useEffect } from 'react';
import {
  changeTrial,
  isProposed,
  recoveryOf,
  type Prescription,
  type StrongestSafe,
  type Trial,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore, type Act } from '../stores/frameStore';
import { useSafestStore } from '../stores/safestStore';
import { tileEngine } from '../surfaces/tileEngine';

/** Looks for a trial's strongest safe amount at its probes, and sets it as the automatic one where `isTaken`. */
async function takeStrongestSafe(
  frame: FrameDetail,
  prescription: Prescription,
  trial: Trial,
  apply: (act: Act) => void,
  isTaken: (found: StrongestSafe) => boolean = () => true,
): Promise<void> {
  const { begin, end } = useSafestStore.getState();
  const places = prescription.probes.length > 0 ? prescription.probes : [middleOf(frame)];
  begin(trial.id);
  let found: StrongestSafe | null = null;
  try {
    const wanted = { ...prescription, recovery: recoveryOf(trial) };
    found = await tileEngine.strongestSafe({ frame, prescription: wanted, places });
    if (!isTaken(found)) return;
    const amount = { value: found.amount, auto: true };
    // It may have been removed meanwhile.
    apply((old) => (old.trials.some(({ id }) => id === trial.id) ? changeTrial(old, trial.id, { amount }) : old));
  } finally {
    end(trial.id, found);
  }
}

const middleOf = ({ width, height }: FrameDetail) => ({ x: Math.round(width / 2), y: Math.round(height / 2) });

/** On a press. */
export function pressStrongestSafe(frame: FrameDetail, prescription: Prescription, trial: Trial): Promise<void> {
  const { changeIn } = useFrameStore.getState();
  return takeStrongestSafe(frame, prescription, trial, (act) => changeIn(frame.id, act));
}

/**
 * Where nothing is safe a proposal keeps the amount it began with: four pictures of the original would show nothing.
 */
const showsSomething = ({ amount }: StrongestSafe) => amount > 0;

/** Trials that are proposed only get their strongest safe amount by themselves, one after the other. */
export function useProposedAmounts(frame: FrameDetail, prescription: Prescription): void {
  const { found, failed, underway } = useSafestStore();
  const next = isProposed(prescription, 'trials')
    ? prescription.trials.find(
        ({ id, amount }) =>
          amount.auto &&
          !failed.includes(id) &&
          (!found[id] || (showsSomething(found[id]) && found[id].amount !== amount.value)),
      )
    : undefined;
  const isFree = underway.length === 0;
  useEffect(() => {
    if (!next || !isFree) return;
    const begin = (act: Act) => {
      const { frame: shown, begin: set } = useFrameStore.getState();
      if (shown?.id === frame.id) set(act);
    };
    const known = found[next.id];
    // The page was left before it was saved.
    if (known) {
      begin((old) => changeTrial(old, next.id, { amount: { value: known.amount, auto: true } }));
      return;
    }
    // Where it fails the trial keeps the amount it has, until somebody asks by a press.
    takeStrongestSafe(frame, prescription, next, begin, showsSomething).catch(() => undefined);
    // Only another trial begins another search.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [next?.id, isFree, frame.id]);
}
