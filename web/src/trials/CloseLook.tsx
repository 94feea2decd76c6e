import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { atStage, type AuditMap, type Prescription, type Probe, type Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { isTyping } from '../input/keys';
import { useWallStore } from '../stores/wallStore';
import { layer, type Column } from '../surfaces/tileKeys';
import { useTiles } from '../surfaces/useTiles';
import { CloseLookAudit } from './CloseLookAudit';
import { CloseLookHead } from './CloseLookHead';
import { DIFFERENCE_GAIN, HEIGHT, WAYS, WIDTH, type Way } from './closeLookWays';
import { drawCloseLook } from './drawCloseLook';
import { PixelNumbers } from './PixelNumbers';
import { figuresAt } from './useAudits';
import { useCloseLookPointer } from './useCloseLookPointer';

const USUAL_BLINKS = 1;

interface CloseLookProps {
  readonly frame: WorkerFrame;
  readonly original: Prescription;
  readonly trial: Column;
  readonly title: string;
  readonly probe: Probe;
  readonly probeName: string;
  onClose(): void;
}

/** One cell large: against the original in five ways, the audit drawn over it, and the numbers under the pointer. */
export function CloseLook({ frame, original, trial, title, probe, probeName, onClose }: CloseLookProps) {
  const { magnification, pans, held } = useWallStore();
  const [way, setWay] = useState<Way>('divider');
  const [blinks, setBlinks] = useState(USUAL_BLINKS);
  const [map, setMap] = useState<AuditMap | null>('unproven');
  const isOff = useBlinking(way === 'blink', blinks);
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = magnification / 100;
  const view = viewAt(probe, pans[probe.id] ?? { x: 0, y: 0 }, scale, way === 'pair' ? WIDTH / 2 : WIDTH);
  const base = layer(frame, held ? atStage(trial, held) : original, view, 'final', 0);
  const finals = layer(frame, trial, view, 'final', 1);
  const version = useTiles([...base, ...finals]);
  const { share, at, handlers } = useCloseLookPointer(probe, view, scale, way);
  useClosedByEscape(onClose);

  useLayoutEffect(() => {
    const context = canvas.current?.getContext('2d', { willReadFrequently: true });
    if (!context) return;
    drawCloseLook(context, { base, finals, view, scale, way, share, map, isBaseOnly: held !== null || isOff });
  });

  return (
    <section className="close-look" aria-label="Close look">
      <CloseLookHead {...{ title, probeName, way, setWay, blinks, setBlinks, map, setMap, onClose }} />
      <div className="close-look-body">
        <div>
          <canvas
            ref={canvas}
            width={WIDTH}
            height={HEIGHT}
            role="img"
            aria-label={`${title} at ${probeName}, ${WAYS[way]}`}
            tabIndex={0}
            {...handlers}
          />
          <PixelNumbers
            at={at}
            before={base}
            after={finals}
            version={version}
            otherwise={
              way === 'difference'
                ? `grey is unchanged; the difference is shown ${DIFFERENCE_GAIN} times as strong`
                : 'point at a pixel for its numbers; drag to pan'
            }
          />
        </div>
        <CloseLookAudit
          trial={trial}
          probe={probe}
          figures={figuresAt(frame, trial, probe)}
          tileKeys={finals.map(({ key }) => key)}
        />
      </div>
    </section>
  );
}

function viewAt(probe: Probe, offset: { x: number; y: number }, scale: number, width: number): Region {
  return {
    x: Math.floor(probe.x + offset.x - width / scale / 2),
    y: Math.floor(probe.y + offset.y - HEIGHT / scale / 2),
    width: Math.ceil(width / scale) + 1,
    height: Math.ceil(HEIGHT / scale) + 1,
  };
}

/** True in every second half of a blink. */
function useBlinking(blinks: boolean, aSecond: number): boolean {
  const [isOff, setIsOff] = useState(false);
  useEffect(() => {
    if (!blinks) return;
    const timer = setInterval(() => setIsOff((off) => !off), 500 / aSecond);
    return () => {
      clearInterval(timer);
      setIsOff(false);
    };
  }, [blinks, aSecond]);
  return isOff;
}

function useClosedByEscape(onClose: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !isTyping(event)) onClose();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onClose]);
}
