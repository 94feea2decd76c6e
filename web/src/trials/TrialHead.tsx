import { differsFromChoice, followsPlaces, isProposed, type Prescription, type Trial } from '@vitrocept/core';
import { trialLetter, trialName } from '../words';

interface TrialHeadProps {
  readonly trial: Trial;
  readonly index: number;
  readonly width: number;
  readonly prescription: Prescription;
  readonly isSelected: boolean;
  onSelect(): void;
}

/** Head of a column of the Wall: the trial's letter, name and main numbers; pressing it selects the trial. */
export function TrialHead({ trial, index, width, prescription, isSelected, onSelect }: TrialHeadProps) {
  const isChosen = prescription.recovery?.trialId === trial.id;
  const isChanged = differsFromChoice(prescription, trial);
  const figures = [
    trial.amount.value.toFixed(0),
    followsPlaces(prescription, trial) ? 'by place' : `${trial.blurSizePx.value.toFixed(1)} px`,
  ];
  if (trial.method === 'straight-movement') figures.push(`${trial.directionDeg.value.toFixed(0)}°`);
  return (
    <div role="columnheader" style={{ width }}>
      <button
        type="button"
        className={`trial-head ${isSelected ? 'is-selected' : ''} ${isProposed(prescription, 'trials') ? 'is-proposed' : ''}`}
        aria-pressed={isSelected}
        onClick={onSelect}
      >
        <span className="trial-method">
          <strong>{trialLetter(index)}</strong> {trialName(trial)}
        </span>
        <span className="figure">
          {figures.join(' · ')} {isChosen && <em className="chosen-mark">{isChanged ? 'was chosen' : 'chosen'}</em>}
        </span>
      </button>
    </div>
  );
}
