import { useSyncExternalStore } from 'react';
import type { Prescription, Recovery, Trial } from '@vitrocept/core';
import { tileEngine } from '../surfaces/tileEngine';
import { duration } from '../words';

interface BadlySoftProps {
  readonly trial: Trial;
  readonly prescription: Prescription;
  set(part: Partial<Recovery>, merge: string): void;
}

const HELP =
  'For a blur so wide that nothing fine is left: recovered at half the size, where noise and blur are half as strong, ' +
  'and brought up again. Nothing finer than two px comes out of it.';
/** Up to here full size is better, px: docs/methods/badlySoft.md. */
const USUAL_FROM_PX = 35;

/** Whether the trial is recovered at half size. */
export function BadlySoft({ trial, prescription, set }: BadlySoftProps) {
  const isOn = trial.badlySoft === true;
  const seconds = useSyncExternalStore(tileEngine.subscribe, () => tileEngine.secondsForWhole(trial.id));
  const hasFace = (prescription.faces ?? []).length > 0;
  return (
    <label className="setting" title={HELP}>
      <span className="setting-head">
        <span>Badly soft</span>
        <input type="checkbox" checked={isOn} onChange={(event) => set({ badlySoft: event.target.checked }, '')} />
      </span>
      <small className={isOn && hasFace ? 'text-check' : 'text-muted'}>
        {isOn
          ? `${noteOn(trial, hasFace)}${seconds === null ? '' : `; all of it ${duration(seconds)}`}`
          : 'recovered at full size'}
      </small>
    </label>
  );
}

function noteOn({ blurSizePx }: Trial, hasFace: boolean): string {
  if (hasFace) return 'there is a face: look at its likeness (P) before you believe it';
  return blurSizePx.value < USUAL_FROM_PX
    ? `at half size; under ${USUAL_FROM_PX} px of blur full size mostly shows more`
    : 'recovered at half size, brought up';
}
