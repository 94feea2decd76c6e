import { useMemo, useRef } from 'react';
import { atStage, type Prescription, type Region, type Size } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFinishedPart } from '../finishing/useFinishedPart';
import { useDrawn, useMovedPart } from '../surfaces/useMovedPart';

interface BeforeAfterProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** Of the copy. */
  readonly size: Size;
}

const PART: Size = { width: 220, height: 200 };

/** The same place of the copy and of the original, px for px; both move together. */
export function BeforeAfter({ frame, prescription, size }: BeforeAfterProps) {
  const { region, handlers } = useMovedPart(size, PART, () => placeOfInterest(prescription, frame, size));
  const { geometry, size: smaller } = prescription;
  const before = useMemo(
    () => ({ ...atStage(prescription, 'original'), geometry, size: smaller }),
    [prescription, geometry, smaller],
  );
  return (
    <section className="card-plain before-after" aria-label="Original and copy at 100 %, arrow keys move" {...handlers}>
      <Part {...{ frame, region }} prescription={before} name="original" />
      <Part {...{ frame, region, prescription }} name="copy" />
    </section>
  );
}

interface PartProps extends Omit<BeforeAfterProps, 'size'> {
  readonly region: Region;
  readonly name: string;
}

function Part({ frame, prescription, region, name }: PartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { value: bitmap, isComing, failure } = useFinishedPart(frame, prescription, region);
  useDrawn(canvas, bitmap);
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
