import Button from 'react-bootstrap/Button';
import { useNavigate } from 'react-router';
import { centreBox, tryBoth, unsureBetween, type Prescription, METHOD_DESCRIPTIONS } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { newId } from '../input/newId';

/** Says so where the cause is in doubt, and offers both causes as trials until they are. */
export function UnsureNotice({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const change = useFrameStore((state) => state.change);
  const navigate = useNavigate();
  const { reading, trials } = prescription;
  const methods = reading && unsureBetween(reading);
  if (!methods || methods.every((method) => trials.some((trial) => trial.method === method))) return null;
  const centre = centreBox(frame);
  const place = { x: Math.round(centre.x + centre.width / 2), y: Math.round(centre.y + centre.height / 2) };
  return (
    <div className="unsure" role="note">
      <p className="hint">
        Not sure: it may also be {METHOD_DESCRIPTIONS[methods[1]].name}.
        {reading.measured.over.kind !== 'mask' && ' Measured over a mask of the subject it can be surer.'}
      </p>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          change((old) => tryBoth(old, methods, place, newId));
          void navigate('trials');
        }}
      >
        Try both
      </Button>
    </div>
  );
}
