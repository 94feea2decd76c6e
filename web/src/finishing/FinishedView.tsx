import { useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { sizeAfter, type Prescription, type Region, type Size } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useLitPicture } from '../surfaces/useLitPicture';
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
const KEY_STEP = 64;

function ClosePart({ frame, prescription, size, space }: PartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [middle, setMiddle] = useState({ x: size.width / 2, y: size.height / 2 });
  const dragged = useRef<{ x: number; y: number } | null>(null);
  const region = regionAround(middle, size, space);
  const { value: bitmap, isComing, failure } = useFinishedPart(frame, prescription, region);
  useLayoutEffect(() => {
    const surface = canvas.current;
    if (!surface || !bitmap) return;
    surface.width = bitmap.width;
    surface.height = bitmap.height;
    surface.getContext('2d')!.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  const moveBy = (dx: number, dy: number) => {
    const next = regionAround({ x: middle.x + dx, y: middle.y + dy }, size, space);
    setMiddle({ x: next.x + next.width / 2, y: next.y + next.height / 2 });
  };
  const onKey = (event: KeyboardEvent) => {
    const by = {
      ArrowLeft: [-KEY_STEP, 0],
      ArrowRight: [KEY_STEP, 0],
      ArrowUp: [0, -KEY_STEP],
      ArrowDown: [0, KEY_STEP],
    }[event.key];
    if (!by) return;
    event.preventDefault();
    moveBy(by[0], by[1]);
  };
  const onUp = (event: PointerEvent) => {
    if (dragged.current) moveBy(dragged.current.x - event.clientX, dragged.current.y - event.clientY);
    dragged.current = null;
  };
  return (
    <div
      className="finished-close"
      role="group"
      aria-label="The finished picture at 100 %"
      tabIndex={0}
      onKeyDown={onKey}
      onPointerDown={(event) => (dragged.current = { x: event.clientX, y: event.clientY })}
      onPointerUp={onUp}
    >
      <canvas ref={canvas} />
      <p className="finished-note" role="status">
        {failure ? `That could not be drawn: ${failure}` : isComing ? 'updating …' : `from ${region.x}, ${region.y}`}
      </p>
    </div>
  );
}

function regionAround({ x, y }: { x: number; y: number }, size: Size, space: Size): Region {
  const width = Math.min(size.width, space.width, MOST_PART.width);
  const height = Math.min(size.height, space.height, MOST_PART.height);
  const within = (at: number, own: number, most: number) => Math.max(0, Math.min(most - own, Math.round(at - own / 2)));
  return { x: within(x, width, size.width), y: within(y, height, size.height), width, height };
}

const MOST_SIDE = 2048;
const LEAST_SIDE = 640;

/** Long side of the whole frame at which the crop of it fills the room. */
function sideFor(frame: Size, size: Size, room: number): number {
  const share = Math.max(size.width, size.height) / Math.max(frame.width, frame.height);
  const wanted = room / Math.max(0.1, Math.min(1, share));
  return Math.round(Math.max(LEAST_SIDE, Math.min(MOST_SIDE, wanted)) / 64) * 64;
}
