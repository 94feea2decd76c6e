import { useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { atStage } from '@vitrocept/core';
import { HoldButtons } from '../parts/HoldButtons';
import { isTyping } from '../input/keys';
import { MagnificationChoice } from '../parts/MagnificationChoice';
import { OrderHints } from '../parts/OrderHints';
import { useFrameStore } from '../stores/frameStore';
import { MAGNIFICATIONS, useWallStore } from '../stores/wallStore';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { CleaningRows } from './CleaningRows';
import { NoiseTray } from './NoiseTray';
import { SettingsWall } from './SettingsWall';
import { useHeldStage } from '../parts/useHeldStage';
import { newId } from '../input/newId';
import './noise.css';

/** Noise is cleaned first, on all pixels, and what was removed is looked at. */
export function NoiseStep() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { magnification, setMagnification } = useWallStore();
  const [compares, setCompares] = useState(false);
  const held = useHeldStage();
  const beneath = useMemo(() => atStage(prescription, held ?? 'original'), [prescription, held]);
  const { probes } = prescription;

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const level = MAGNIFICATIONS.indexOf(magnification);
      if (event.key.toLowerCase() === 'c') setCompares((was) => !was);
      else if (event.key === '+' || event.key === '=')
        setMagnification(MAGNIFICATIONS[Math.min(level + 1, MAGNIFICATIONS.length - 1)]);
      else if (event.key === '-') setMagnification(MAGNIFICATIONS[Math.max(level - 1, 0)]);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [magnification, setMagnification]);

  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const rows = { frame, prescription, probes, beneath, isHeld: held !== null };
  return (
    <>
      <LeftCard>
        <OrderHints frame={frame} prescription={prescription} />
      </LeftCard>
      <div className="stage wall-stage">
        {probes.length === 0 ? (
          <div className="wall-empty">
            <h2>Place a probe first</h2>
            <p>
              Press on the Overview at the places you would look at: a plain dark one, where noise is seen first, and
              fine texture, where it must not go too far.
            </p>
            <div className="wall-starts">
              <Button onClick={() => change((old) => ({ ...old, probes: [{ id: newId(), name: '', ...middle }] }))}>
                A probe in the middle
              </Button>
            </div>
          </div>
        ) : (
          <>
            {compares ? <SettingsWall {...rows} /> : <CleaningRows {...rows} />}
            <div className="wall-tools">
              <Button size="sm" variant="outline-primary" onClick={() => setCompares(!compares)}>
                {compares ? 'Back to the one setting' : 'Compare settings'} <kbd>C</kbd>
              </Button>
              <MagnificationChoice />
              <HoldButtons prescription={prescription} />
            </div>
          </>
        )}
      </div>
      <NoiseTray frame={frame} prescription={prescription} />
    </>
  );
}
