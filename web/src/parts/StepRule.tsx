import Form from 'react-bootstrap/Form';
import { NavLink } from 'react-router';
import { isRecovered, keyOfOperations, plansOf, type Prescription } from '@vitrocept/core';
import { useLightStore } from '../stores/lightStore';

type StepState = 'done' | 'open' | 'stale';

const STEPS = [
  ['measure', 'Measure'],
  ['corrections', 'Corrections'],
  ['noise', 'Noise'],
  ['mask', 'Mask'],
  ['trials', 'Trials'],
  ['finishing', 'Finishing'],
  ['hand-over', 'Hand over'],
] as const;

/** The mask has changed since the reading that was taken over it. */
export function isReadingStale({ reading, mask }: Prescription): boolean {
  return reading?.measured.over.kind === 'mask' && reading.measured.over.key !== keyOfOperations(mask.operations);
}

function stateOf(step: (typeof STEPS)[number][0], prescription: Prescription, isRendered: boolean): StepState {
  switch (step) {
    case 'measure':
      return isReadingStale(prescription) ? 'stale' : prescription.reading ? 'done' : 'open';
    case 'corrections':
      return prescription.corrections ? 'done' : 'open';
    case 'finishing':
      return prescription.finishing || prescription.geometry || prescription.mends?.length ? 'done' : 'open';
    case 'noise':
      return prescription.cleaning ? 'done' : 'open';
    case 'mask':
      return plansOf(prescription).some(({ mask }) => mask.operations.length > 0) ? 'done' : 'open';
    case 'trials':
      return isRecovered(prescription) ? 'done' : 'open';
    case 'hand-over':
      return isRendered ? 'done' : 'open';
  }
}

const STATE_WORDS: Record<StepState, string> = { done: 'done', open: '', stale: 'out of date' };

export function StepRule({ prescription, isRendered }: { prescription: Prescription; isRendered: boolean }) {
  const { isLit, set } = useLightStore();
  return (
    <nav className="step-rule" aria-label="Steps">
      {STEPS.map(([path, name]) => {
        const state = stateOf(path, prescription, isRendered);
        return (
          <NavLink key={path} to={path} className={`step is-${state}`}>
            <span className="step-square" aria-hidden />
            {name} {STATE_WORDS[state] && <span className="step-state">{STATE_WORDS[state]}</span>}
          </NavLink>
        );
      })}
      {prescription.corrections && (
        <Form.Check
          type="switch"
          id="with-corrections"
          label="with corrections"
          checked={isLit}
          onChange={(event) => set({ isLit: event.target.checked })}
        />
      )}
    </nav>
  );
}
