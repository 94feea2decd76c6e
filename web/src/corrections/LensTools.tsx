import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { withCorrections, type Corrections } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { tileEngine } from '../surfaces/tileEngine';
import { CorrectionSlider } from './CorrectionSlider';

/** Smaller fringes than this are not worth resampling the picture, %. */
const LEAST_FRINGE = 0.008;

/** Lens: fall-off, distortion under a grid, and colour fringes measured at edges. */
export function LensTools({ frame, corrections }: { frame: FrameDetail; corrections: Corrections }) {
  const changeIn = useFrameStore((state) => state.changeIn);
  const [note, setNote] = useState<string | null>(null);
  const measure = () => {
    setNote('Measuring …');
    tileEngine.light
      .measureFringes(frame)
      .then(({ red, blue }) => {
        const worth = (percent: number) => (Math.abs(percent) < LEAST_FRINGE ? 0 : Math.round(200 * percent) / 200);
        const found = { red: worth(red), blue: worth(blue) };
        setNote(
          found.red === 0 && found.blue === 0
            ? 'No fringes worth resampling were found.'
            : `Red ${found.red.toFixed(3)} %, blue ${found.blue.toFixed(3)} %.`,
        );
        changeIn(frame.id, (old) =>
          withCorrections(old, (now) => ({
            ...now,
            redFringePercent: { value: found.red, auto: true },
            blueFringePercent: { value: found.blue, auto: true },
          })),
        );
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
      {frame.channels === 3 && (
        <div className="tray-block">
          <Button size="sm" variant="outline-primary" disabled={note === 'Measuring …'} onClick={measure}>
            Measure the fringes
          </Button>
          <p className="hint" role="status">
            {note ?? 'Lay a line of the grid along what should be straight.'}
          </p>
        </div>
      )}
    </>
  );
}
