import { useMutation } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { acceptReading, keyOfOperations, withReading, type Prescription, type Reading } from '@vitrocept/core';
import { send } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { FIELD_MAGNIFIED } from './BlurMap';
import { useMeasureView } from './measureView';

interface MeasureHereProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** The blur was measured place by place. */
  readonly hasPlaces: boolean;
}

/** Where it is measured, and the press that measures. */
export function MeasureHere({ frame, prescription, hasPlaces }: MeasureHereProps) {
  const { change, changeIn } = useFrameStore();
  const { showsMap, setShowsMap } = useMeasureView();
  const { mask } = prescription;
  const hasMask = mask.operations.length > 0;
  const path = `/api/frames/${frame.id}/reading`;
  const measure = useMutation({
    mutationFn: async () => {
      // The answer may come when another frame, mask or box is on screen: it stays with what was measured.
      const kind = hasMask ? 'mask' : prescription.box ? 'box' : 'centre';
      const key = hasMask ? keyOfOperations(mask.operations) : '';
      const wish = hasMask ? { box: null, mask: mask.operations } : { box: prescription.box, mask: null };
      const found = await send<Reading>('POST', path, wish);
      changeIn(frame.id, (old) => withReading(old, acceptReading(found, { kind, key })));
    },
  });
  return (
    <div className="tray-block">
      <strong>{hasMask ? `Over the mask “${mask.name}”` : 'Over the box'}</strong>
      <p className="hint">
        {hasMask
          ? 'Only what is masked is measured; the background is out of focus by design.'
          : 'Drag the box onto the subject. With a mask the reading can be surer; without one it never says more than 50 %.'}
      </p>
      <div className="tray-buttons">
        <Button size="sm" onClick={() => measure.mutate()} disabled={measure.isPending}>
          {measure.isPending ? 'Measuring …' : 'Measure here'}
        </Button>
        {!hasMask && prescription.box && (
          <Button size="sm" variant="outline-primary" onClick={() => change((old) => ({ ...old, box: null }))}>
            Box to the centre
          </Button>
        )}
      </div>
      {hasPlaces && (
        <Form.Check
          type="switch"
          id="show-blur-map"
          label={`show the blur, ${FIELD_MAGNIFIED} × larger`}
          checked={showsMap}
          onChange={(event) => setShowsMap(event.target.checked)}
        />
      )}
      {measure.error && (
        <p className="text-damaged" role="alert">
          {measure.error.message}
        </p>
      )}
    </div>
  );
}
