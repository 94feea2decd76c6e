import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { withCorrections, type Corrections } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { tileEngine } from '../surfaces/tileEngine';
import { CorrectionSlider } from './CorrectionSlider';
import { lensSentences, withLens } from './measuredLens';

/** Lens: fall-off, distortion under a grid and colour fringes, by hand or as the picture itself tells. */
export function LensTools({ frame, corrections }: { frame: FrameDetail; corrections: Corrections }) {
  const changeIn = useFrameStore((state) => state.changeIn);
  const [note, setNote] = useState<string | null>(null);
  const measure = () => {
    setNote('Measuring …');
    tileEngine.light
      .measureLens(frame)
      .then((found) => {
        setNote(lensSentences(found));
        changeIn(frame.id, (old) => withCorrections(old, (now) => withLens(now, found)));
      })
      .catch((error: Error) => setNote(`That failed: ${error.message}`));
  };
  return (
    <>
      <div className="tray-sliders two">
        <CorrectionSlider name="fallOffPercent" corrections={corrections} />
        <CorrectionSlider name="distortionPercent" corrections={corrections} />
        {frame.channels === 3 && (
          <>
            <CorrectionSlider name="redFringePercent" corrections={corrections} />
            <CorrectionSlider name="blueFringePercent" corrections={corrections} />
          </>
        )}
      </div>
      <div className="tray-block">
        <Button size="sm" variant="outline-primary" disabled={note === 'Measuring …'} onClick={measure}>
          Measure the lens
        </Button>
        <p className="hint" role="status">
          {note ?? 'Lay a line of the grid along what should be straight.'}
        </p>
      </div>
    </>
  );
}
