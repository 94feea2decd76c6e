import Button from 'react-bootstrap/Button';
import { addAllMethods, suggestedStart, type Prescription, type Size } from '@vitrocept/core';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';

/** What the Wall lacks, and how to start. */
export function WallEmpty({ frame, prescription }: { frame: Size; prescription: Prescription }) {
  const change = useFrameStore((state) => state.change);
  const { probes, trials } = prescription;
  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const start = () => change((old) => suggestedStart(old, middle, newId));
  const withProbe = (old: Prescription): Prescription =>
    old.probes.length > 0 ? old : { ...old, probes: [{ id: newId(), name: '', ...middle }] };
  return (
    <div className="wall-empty">
      <h2>{probes.length === 0 ? 'Place a probe first' : 'No trials yet'}</h2>
      <p>
        {probes.length === 0
          ? 'Press on the Overview at the places you would look at: the eye, fine texture, where the subject meets the background.'
          : 'Start with the cause that was read, its runner-up and Edge contrast, all on Automatic.'}
      </p>
      {trials.length === 0 && (
        <div className="wall-starts">
          <Button onClick={start}>Suggested trials</Button>
          <Button variant="outline-primary" onClick={() => change((old) => addAllMethods(withProbe(old), newId))}>
            All methods on Automatic
          </Button>
        </div>
      )}
    </div>
  );
}
