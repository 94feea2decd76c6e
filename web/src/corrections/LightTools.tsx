import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { withAutomaticLight, type Corrections, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { tileEngine } from '../surfaces/tileEngine';
import { CorrectionSlider } from './CorrectionSlider';

interface LightToolsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly corrections: Corrections;
}

/** Too dark or too bright: exposure, shadows and highlights, or all of it by itself. */
export function LightTools({ frame, prescription, corrections }: LightToolsProps) {
  const changeIn = useFrameStore((state) => state.changeIn);
  const [failure, setFailure] = useState<string | null>(null);
  const automatic = () => {
    setFailure(null);
    tileEngine.light
      .automaticLight({ frame, prescription })
      // What was changed of colour and lens meanwhile stays.
      .then((found) => changeIn(frame.id, (old) => withAutomaticLight(old, found)))
      .catch((error: Error) => setFailure(error.message));
  };
  return (
    <>
      <div className="tray-block">
        <Button size="sm" onClick={automatic}>
          All Automatic
        </Button>
        <p className="hint">
          The middle of the subject comes to 18 % grey, half a percent clips at either end; nothing where it is so
          already.
        </p>
        {failure && <p className="hint text-damaged">That failed: {failure}</p>}
      </div>
      <div className="tray-sliders">
        <CorrectionSlider name="exposureEv" corrections={corrections} />
        <CorrectionSlider name="liftShadows" corrections={corrections} />
        <CorrectionSlider name="holdHighlights" corrections={corrections} />
      </div>
    </>
  );
}
