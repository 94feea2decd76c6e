import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { withCorrections, type Corrections, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import { tileEngine } from '../surfaces/tileEngine';
import { CorrectionSlider } from './CorrectionSlider';

interface PointToolsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly corrections: Corrections;
}

/** Contrast: black and white point; the curve is drawn over the tones. */
export function PointTools({ frame, prescription, corrections }: PointToolsProps) {
  const { change, changeIn } = useFrameStore();
  const { marksClipping, set } = useLightStore();
  const [failure, setFailure] = useState<string | null>(null);
  const toTheEdge = () => {
    setFailure(null);
    tileEngine.light
      .pointsAtClipping({ frame, prescription })
      .then(({ blackPercent, whitePercent }) => {
        set({ marksClipping: true });
        changeIn(frame.id, (old) =>
          withCorrections(old, (now) => ({
            ...now,
            blackPercent: { value: blackPercent, auto: true },
            whitePercent: { value: whitePercent, auto: true },
          })),
        );
      })
      .catch((error: Error) => setFailure(error.message));
  };
  return (
    <>
      <div className="tray-block">
        <Button size="sm" variant="outline-primary" onClick={toTheEdge}>
          To the edge of clipping
        </Button>
        <Form.Check
          type="switch"
          id="marks-clipping"
          label="hatch what clips"
          checked={marksClipping}
          onChange={(event) => set({ marksClipping: event.target.checked })}
        />
        {failure && <p className="hint text-damaged">That failed: {failure}</p>}
      </div>
      <div className="tray-sliders two">
        <CorrectionSlider name="blackPercent" corrections={corrections} />
        <CorrectionSlider name="whitePercent" corrections={corrections} />
      </div>
      <div className="tray-block">
        <p className="hint">
          Press on the curve for a new point (Insert beside the one in focus), drag it; Delete removes it.
        </p>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={corrections.curve.length < 2}
          onClick={() => change((old) => withCorrections(old, (now) => ({ ...now, curve: [] })))}
        >
          Straight again
        </Button>
      </div>
    </>
  );
}
