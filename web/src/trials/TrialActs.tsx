import Button from 'react-bootstrap/Button';
import {
  addAllMethods,
  addTrial,
  differsFromChoice,
  duplicateTrial,
  narrowDown,
  removeTrial,
  steppedSetting,
  type Prescription,
  type Trial,
} from '@vitrocept/core';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';

interface TrialActsProps {
  readonly trial: Trial;
  readonly index: number;
  readonly prescription: Prescription;
  readonly canAdd: boolean;
  onChoose(): void;
  onStrip(): void;
  onWhich(): void;
}

/** What can be done with the trial: chosen, stepped, compared, copied, removed. */
export function TrialActs({ trial, index, prescription, canAdd, onChoose, onStrip, onWhich }: TrialActsProps) {
  const change = useFrameStore((state) => state.change);
  const letter = trialLetter(index);
  const stepped = steppedSetting(prescription.trials, trial.id);
  const isChosen = prescription.recovery?.trialId === trial.id && !differsFromChoice(prescription, trial);
  return (
    <div className="tray-acts">
      <Button size="sm" disabled={isChosen} onClick={onChoose}>
        {isChosen ? `${letter} is chosen` : `Choose ${letter}`} <kbd>Enter</kbd>
      </Button>
      <div className="tray-buttons">
        <Button size="sm" variant="outline-primary" onClick={onStrip}>
          Test strip … <kbd>S</kbd>
        </Button>
        {stepped && (
          <Button size="sm" variant="outline-primary" onClick={() => change((old) => narrowDown(old, trial.id, newId))}>
            Narrow down
          </Button>
        )}
        {prescription.trials.length > 1 && (
          <Button size="sm" variant="outline-primary" onClick={onWhich}>
            Which is better? <kbd>W</kbd>
          </Button>
        )}
      </div>
      <AddAndRemove trial={trial} canAdd={canAdd} />
    </div>
  );
}

function AddAndRemove({ trial, canAdd }: Pick<TrialActsProps, 'trial' | 'canAdd'>) {
  const change = useFrameStore((state) => state.change);
  const select = useWallStore((state) => state.select);
  return (
    <div className="tray-buttons">
      <Button
        size="sm"
        variant="outline-primary"
        disabled={!canAdd}
        onClick={() => change((old) => addTrial(old, old.reading?.method ?? 'missed-focus', newId))}
      >
        Add <kbd>N</kbd>
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={!canAdd}
        onClick={() => change((old) => duplicateTrial(old, trial.id, newId))}
      >
        Duplicate
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={!canAdd}
        title="Every method that is not there yet, on Automatic"
        onClick={() => change((old) => addAllMethods(old, newId))}
      >
        All methods
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          change((old) => removeTrial(old, trial.id));
          select(null);
        }}
      >
        Remove
      </Button>
    </div>
  );
}
