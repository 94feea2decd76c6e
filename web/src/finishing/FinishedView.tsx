import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { sizeAfter, type Prescription, type Size } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useLitPicture } from '../surfaces/useLitPicture';
import { useDrawn, useMovedPart } from '../surfaces/useMovedPart';
import { useFinishedPart } from './useFinishedPart';

interface FinishedViewProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
}

/** The finished picture as it is framed: fitted to the stage, or px for px around a place. */
export function FinishedView({ frame, prescription }: FinishedViewProps) {
  const room = useRef<HTMLDivElement>(null);
  const [space, setSpace] = useState<Size>({ width: 0, height: 0 });
  const [isClose, setClose] = useState(false);
  useEffect(() => {
    const observer = new ResizeObserver(([{ contentRect }]) =>
      setSpace({ width: Math.round(contentRect.width), height: Math.round(contentRect.height) }),
    );
    observer.observe(room.current!);
    return () => observer.disconnect();
  }, []);
  const size = sizeAfter(prescription, frame);
  return (
    <div ref={room} className="finished-view">
      {space.width > 0 && isClose && <ClosePart {...{ frame, prescription, size, space }} />}
      {space.width > 0 && !isClose && <FittedPicture {...{ frame, prescription, size, space }} />}
      <div className="surface-tools">
        <button type="button" aria-pressed={!isClose} onClick={() => setClose(false)}>
          fitted
        </button>
        <button type="button" aria-pressed={isClose} onClick={() => setClose(true)}>
          100 %
        </button>
      </div>
    </div>
  );
}

interface PartProps extends FinishedViewProps {
  readonly size: Size;
  readonly space: Size;
}

function FittedPicture({ frame, prescription, size, space }: PartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const side = sideFor(frame, size, space.width);
  const { picture, failure } = useLitPicture(frame, { prescription, side, isFramed: true });
  useLayoutEffect(() => {
    if (picture) canvas.current?.getContext('2d')?.drawImage(picture.bitmap, 0, 0);
  }, [picture]);
  return (
    <div role="img" aria-label="The finished picture" className="finished-fitted">
      {picture && <canvas ref={canvas} width={picture.width} height={picture.height} />}
      {failure && <p className="text-damaged">The picture could not be drawn: {failure}</p>}
    </div>
  );
}

/** What is made at once, px: more would take longer than anybody waits. */
const MOST_PART = { width: 720, height: 460 };

function ClosePart({ frame, prescription, size, space }: PartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const most = {
    width: Math.min(space.width, MOST_PART.width),
    height: Math.min(space.height, MOST_PART.height),
  };
  const { region, handlers } = useMovedPart(size, most, { x: size.width / 2, y: size.height / 2 });
  const { value: bitmap, isComing, failure } = useFinishedPart(frame, prescription, region);
  useDrawn(canvas, bitmap);
  return (
    <div className="finished-close" role="group" aria-label="The finished picture at 100 %" {...handlers}>
      <canvas ref={canvas} />
      <p className="finished-note" role="status">
        {failure ? `That could not be drawn: ${failure}` : isComing ? 'updating …' : `from ${region.x}, ${region.y}`}
      </p>
    </div>
  );
}

const MOST_SIDE = 2048;
const LEAST_SIDE = 640;

/** Long side of the whole frame at which the crop of it fills the room. */
function sideFor(frame: Size, size: Size, room: number): number {
  const share = Math.max(size.width, size.height) / Math.max(frame.width, frame.height);
  const wanted = room / Math.max(0.1, Math.min(1, share));
  return Math.round(Math.max(LEAST_SIDE, Math.min(MOST_SIDE, wanted)) / 64) * 64;
}
