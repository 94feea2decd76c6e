import Button from 'react-bootstrap/Button';
import { useNavigate } from 'react-router';
import { centreBox, type AcceptedReading } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { METHOD_NAMES } from '../words';
import { tryBoth, unsureBetween } from './trialActs';

/** Says so where the cause is in doubt, and offers both causes as trials. */
export function UnsureNotice({ reading, frame }: { reading: AcceptedReading; frame: FrameDetail }) {
  const change = useFrameStore((state) => state.change);
  const navigate = useNavigate();
  const methods = unsureBetween(reading);
  if (!methods) return null;
  const centre = centreBox(frame);
  const place = { x: Math.round(centre.x + centre.width / 2), y: Math.round(centre.y + centre.height / 2) };
  return (
    <div className="unsure" role="note">
      <p className="hint">
        Not sure: it may also be {METHOD_NAMES[methods[1]]}.
        {reading.measured.over.kind !== 'mask' && ' Measured over a mask of the subject it can be surer.'}
      </p>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          change((old) => tryBoth(old, methods, place));
          void navigate('trials');
        }}
      >
        Try both
      </Button>
    </div>
  );
}
