import { useMemo, useState } from 'react';
import { neutralCorrections, withCorrections } from '@vitrocept/core';
import { useWorkspace } from '../parts/useWorkspace';
import { useFrameStore } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import { FrameSurface, type SurfacePointer } from '../surfaces/FrameSurface';
import { tileEngine } from '../surfaces/tileEngine';
import { onlyCorrected } from '../surfaces/useShownLight';
import { GreyMark } from './GreyMark';
import { LensGrid } from './LensGrid';
import { LightTray } from './LightTray';
import './corrections.css';

/** Light, colour and lens put right; computed after recovery, shown everywhere from then on. */
export function CorrectionsStep() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { group, isLit, marksClipping } = useLightStore();
  const [isPicking, setPicking] = useState(false);
  const [note, setNote] = useState<string | null>(null);
  const corrections = useMemo(() => prescription.corrections ?? neutralCorrections(), [prescription.corrections]);
  const shown = useMemo(() => (isLit ? onlyCorrected(prescription) : null), [isLit, prescription]);

  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind !== 'down' || !isPicking) return;
    setNote(null);
    tileEngine.light
      .pickGrey({ frame, x, y })
      .then((gains) => {
        if (!gains) {
          setNote('That place is too dark, or has no colour at all: pick another one that should be grey.');
          return;
        }
        setPicking(false);
        const place = { x: Math.round(x), y: Math.round(y) };
        change((old) => withCorrections(old, (now) => ({ ...now, whiteBalance: { kind: 'picked', ...place, gains } })));
      })
      .catch((error: Error) => setNote(`The place could not be read: ${error.message}`));
  };

  return (
    <>
      <div className="stage">
        <FrameSurface
          frame={frame}
          label="The frame with its corrections"
          cursor={isPicking ? 'crosshair' : undefined}
          onPointer={onPointer}
          shows={shown}
          marksClipping={marksClipping}
          overlay={(placement) => (
            <>
              {group === 'lens' && <LensGrid frame={frame} corrections={corrections} placement={placement} />}
              {group === 'colour' && <GreyMark whiteBalance={corrections.whiteBalance} placement={placement} />}
            </>
          )}
        />
        {(isPicking || note) && (
          <div className="stage-hint" role="status">
            {note ?? 'Press on a place that is grey in truth.'}
          </div>
        )}
      </div>
      <LightTray
        frame={frame}
        prescription={prescription}
        corrections={corrections}
        isPicking={isPicking}
        setPicking={(next) => {
          setNote(null);
          setPicking(next);
        }}
      />
    </>
  );
}
