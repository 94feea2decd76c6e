import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { sizeAfter, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useLitPicture } from '../surfaces/useLitPicture';

/** The finished picture as it is framed, fitted to the stage. */
export function FinishedView({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const room = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const observer = new ResizeObserver(([{ contentRect }]) => setWidth(Math.round(contentRect.width)));
    observer.observe(room.current!);
    return () => observer.disconnect();
  }, []);
  const size = sizeAfter(prescription, frame);
  const { picture, failure } = useLitPicture(
    frame,
    width > 0 ? { prescription, side: sideFor(frame, size, width), isFramed: true } : null,
  );
  useLayoutEffect(() => {
    if (picture) canvas.current?.getContext('2d')?.drawImage(picture.bitmap, 0, 0);
  }, [picture]);
  return (
    <div ref={room} className="finished-view" role="img" aria-label="The finished picture">
      {picture && <canvas ref={canvas} width={picture.width} height={picture.height} />}
      {failure && <p className="text-damaged">The picture could not be drawn: {failure}</p>}
    </div>
  );
}

const MOST_SIDE = 2048;
const LEAST_SIDE = 640;

/** Long side of the whole frame at which the crop of it fills the room. */
function sideFor(frame: FrameDetail, size: { width: number; height: number }, room: number): number {
  const share = Math.max(size.width, size.height) / Math.max(frame.width, frame.height);
  const wanted = room / Math.max(0.1, Math.min(1, share));
  return Math.round(Math.max(LEAST_SIDE, Math.min(MOST_SIDE, wanted)) / 64) * 64;
}
