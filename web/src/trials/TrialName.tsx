import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import {
  automaticRecovery,
  METHOD_DESCRIPTIONS,
  METHODS,
  moveTrial,
  offered,
  plansOf,
  renameTrial,
  SHAPE_KEYS,
  STARTING_AMOUNT,
  type Method,
  type Prescription,
  type Recovery,
  type Trial,
} from '@vitrocept/core';
import { useFrameStore } from '../stores/frameStore';
import { trialLetter } from '../words';

/** What a change of the method forgets. */
const NO_SHAPE = Object.fromEntries(
  ['path', 'learnedTexture', 'badlySoft', ...SHAPE_KEYS].map((key) => [key, undefined]),
) as Partial<Recovery>;

interface TrialNameProps {
  readonly trial: Trial;
  readonly index: number;
  readonly prescription: Prescription;
  readonly automatic: Recovery;
  /** The trial judged over all of the mask. */
  readonly maskAudit: ReactNode;
  set(part: Partial<Recovery>, merge: string): void;
}

/** Which trial it is: its method, its own name, what it works under, its place among the others. */
export function TrialName({ trial, index, prescription, automatic, maskAudit, set }: TrialNameProps) {
  const change = useFrameStore((state) => state.change);
  const letter = trialLetter(index);
  const isWhole = prescription.mask.operations.length === 0 && plansOf(prescription).length === 1;
  const maskName = isWhole ? 'over the whole frame' : `under mask “${prescription.mask.name}”`;
  return (
    <div className="tray-block trial-name">
      <MethodAndName trial={trial} letter={letter} prescription={prescription} set={set} />
      <span className="text-soft">{maskName}</span>
      {maskAudit}
      <div className="tray-buttons">
        <Button size="sm" variant="outline-primary" onClick={() => set(automatic, '')}>
          all Automatic
        </Button>
        <span className="tray-pair">
          <Button
            size="sm"
            variant="outline-primary"
            aria-label={`Move trial ${letter} to the left`}
            disabled={index === 0}
            onClick={() => change((old) => moveTrial(old, trial.id, -1))}
          >
            ←
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            aria-label={`Move trial ${letter} to the right`}
            disabled={index === prescription.trials.length - 1}
            onClick={() => change((old) => moveTrial(old, trial.id, 1))}
          >
            →
          </Button>
        </span>
      </div>
    </div>
  );
}

interface MethodAndNameProps {
  readonly trial: Trial;
  readonly letter: string;
  readonly prescription: Prescription;
  set(part: Partial<Recovery>, merge: string): void;
}

function MethodAndName({ trial, letter, prescription, set }: MethodAndNameProps) {
  const change = useFrameStore((state) => state.change);
  return (
    <>
      <div className="trial-title">
        <strong className="text-nowrap">{letter} ·</strong>
        <select
          aria-label={`Method of trial ${letter}`}
          title={METHOD_DESCRIPTIONS[trial.method].help}
          value={trial.method}
          onChange={(event) => {
            const method = event.target.value as Method;
            set(
              {
                ...NO_SHAPE,
                ...automaticRecovery(method, prescription.reading, STARTING_AMOUNT, prescription.cleaning),
              },
              '',
            );
          }}
        >
          {offered(METHODS, trial.path ?? prescription.reading?.path).map((method) => (
            <option key={method} value={method}>
              {METHOD_DESCRIPTIONS[method].name}
            </option>
          ))}
        </select>
      </div>
      <input
        className="own-name"
        value={trial.name ?? ''}
        maxLength={60}
        placeholder="its own name"
        aria-label={`Name of trial ${letter}`}
        onChange={(event) => {
          const { value } = event.target;
          change((old) => renameTrial(old, trial.id, value), `name ${trial.id}`);
        }}
      />
    </>
  );
}
