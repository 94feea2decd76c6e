import { useState } from 'react';
import type { Prescription, StrongestSafe as Found, Trial } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useSafestStore } from '../stores/safestStore';
import { SAFETY_WORDS } from '../words';
import { pressStrongestSafe } from './useStrongestSafe';

interface StrongestSafeProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly trial: Trial;
}

/** One press sets the strongest amount at which the audit finds nothing, and says why it is no stronger. */
export function StrongestSafe({ frame, prescription, trial }: StrongestSafeProps) {
  const { found, underway } = useSafestStore();
  const [failure, setFailure] = useState<string | null>(null);
  const own = found[trial.id];
  const isUnderway = underway.includes(trial.id);
  const press = () => {
    setFailure(null);
    pressStrongestSafe(frame, prescription, trial).catch((error: Error) => setFailure(error.message));
  };
  return (
    <p className="strongest-safe">
      <button type="button" className="link-button" disabled={isUnderway} onClick={press}>
        {isUnderway ? 'looking at the probes …' : 'Strongest safe amount'}
      </button>
      {own && (own.amount === trial.amount.value || (own.amount === 0 && trial.amount.auto)) && (
        <span className="text-soft"> {reasonOf(own, prescription, trial)}</span>
      )}
      {failure && (
        <span className="text-damaged" role="alert">
          {' '}
          It could not be found: {failure}
        </span>
      )}
    </p>
  );
}

function reasonOf({ amount, limit }: Found, { probes }: Prescription, trial: Trial): string {
  if (!limit) return 'safe even at full amount';
  const near = limit.place && nearest(probes, limit.place);
  const where = near === null || near < 0 ? '' : ` at probe ${near + 1}`;
  const sentence = `${limit.atAmount} %: ${SAFETY_WORDS[limit.figure]}${where}`;
  if (amount > 0) return `at ${sentence}`;
  const shown = trial.amount.value > 0 ? `. Shown at ${trial.amount.value} % all the same, to be judged` : '';
  return `nothing is safe; at ${sentence}${shown}`;
}

function nearest(probes: Prescription['probes'], place: { readonly x: number; readonly y: number }): number {
  const away = probes.map(({ x, y }) => Math.hypot(x - place.x, y - place.y));
  return away.indexOf(Math.min(...away));
}
