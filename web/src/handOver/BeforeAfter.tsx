import { useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { atStage, sizeAfter, type Prescription, type Region, type Size } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFinishedPart } from '../finishing/useFinishedPart';

interface BeforeAfterProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
}

const PART: Size = { width: 220, height: 200 };
const KEY_STEP = 48;

/** The same place of the copy and of the original, px for px; both move together. */
export function BeforeAfter({ frame, prescription }: BeforeAfterProps) {
  const size = sizeAfter(prescription, frame);
  const [middle, setMiddle] = useState(() => placeOfInterest(prescription, frame, size));
  const dragged = useRef<{ x: number; y: number } | null>(null);
  const region = regionAround(middle, size);
  const { geometry, size: smaller } = prescription;
  const before = useMemo(
    () => ({ ...atStage(prescription, 'original'), geometry, size: smaller }),
    [prescription, geometry, smaller],
  );
  const moveBy = (dx: number, dy: number) => {
    const next = regionAround({ x: middle.x + dx, y: middle.y + dy }, size);
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
    <section
      className="card-plain before-after"
      aria-label="Original and copy at 100 %, arrow keys move"
      tabIndex={0}
      onKeyDown={onKey}
      onPointerDown={(event) => (dragged.current = { x: event.clientX, y: event.clientY })}
      onPointerUp={onUp}
    >
      <Part {...{ frame, region }} prescription={before} name="original" />
      <Part {...{ frame, region, prescription }} name="copy" />
    </section>
  );
}

interface PartProps extends BeforeAfterProps {
  readonly region: Region;
  readonly name: string;
}

function Part({ frame, prescription, region, name }: PartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { value: bitmap, isComing, failure } = useFinishedPart(frame, prescription, region);
  useLayoutEffect(() => {
    const surface = canvas.current;
    if (!surface || !bitmap) return;
    surface.width = bitmap.width;
    surface.height = bitmap.height;
    surface.getContext('2d')!.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  return (
    <figure>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${name} at ${region.x}, ${region.y}`}
        width={PART.width}
        height={PART.height}
      />
      <figcaption className={failure ? 'text-damaged' : 'text-soft'}>
        {failure ? `That could not be drawn: ${failure}` : isComing ? `${name}, updating …` : name}
      </figcaption>
    </figure>
  );
}

/** The first probe, where the copy has the frame's own px; else the middle. */
function placeOfInterest({ probes, geometry, size: smaller }: Prescription, frame: Size, size: Size) {
  const isOwnGrid = !geometry && !smaller && size.width === frame.width;
  return probes[0] && isOwnGrid ? { x: probes[0].x, y: probes[0].y } : { x: size.width / 2, y: size.height / 2 };
}

function regionAround({ x, y }: { x: number; y: number }, size: Size): Region {
  const width = Math.min(size.width, PART.width);
  const height = Math.min(size.height, PART.height);
  const within = (at: number, own: number, most: number) => Math.max(0, Math.min(most - own, Math.round(at - own / 2)));
  return { x: within(x, width, size.width), y: within(y, height, size.height), width, height };
}
