import Button from 'react-bootstrap/Button';
import { addAllMethods, suggestedStart, type Prescription, type Size } from '@vitrocept/core';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';

interface WallEmptyProps {
  readonly frame: Size;
  readonly prescription: Prescription;
  /** The frame is being looked at: probes and trials come by themselves. */
  readonly isComing?: boolean;
}

const COMING = {
  head: 'The subject is being measured',
  text: 'Probes and suggested trials will stand here by themselves, for a large frame within a minute. You need not wait: what you start yourself stays.',
};
const NO_PROBE = {
  head: 'Place a probe first',
  text: 'Press on the Overview at the places you would look at: the eye, fine texture, where the subject meets the background.',
};
const NO_TRIAL = {
  head: 'No trials yet',
  text: 'Start with the cause that was read, its runner-up and Edge contrast, all on Automatic.',
};

/** What the Wall lacks, and how to start. */
export function WallEmpty({ frame, prescription, isComing = false }: WallEmptyProps) {
  const change = useFrameStore((state) => state.change);
  const { probes, trials } = prescription;
  const { head, text } = isComing ? COMING : probes.length === 0 ? NO_PROBE : NO_TRIAL;
  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const start = () => change((old) => suggestedStart(old, middle, newId));
  const withProbe = (old: Prescription): Prescription =>
    old.probes.length > 0 ? old : { ...old, probes: [{ id: newId(), name: '', ...middle }] };
  return (
    <div className="wall-empty">
      <h2>{head}</h2>
      <p role={isComing ? 'status' : undefined}>{text}</p>
      {trials.length === 0 && (
        <div className="wall-starts">
          <Button variant={isComing ? 'outline-primary' : 'primary'} onClick={start}>
            Suggested trials
          </Button>
          <Button variant="outline-primary" onClick={() => change((old) => addAllMethods(withProbe(old), newId))}>
            All methods on Automatic
          </Button>
        </div>
      )}
    </div>
  );
}
