import type Konva from 'konva';
import { useRef, type ReactNode } from 'react';
import type { Prescription } from '@vitrocept/core';
import { Image as KonvaImage, Layer, Stage } from 'react-konva';
import type { FrameDetail } from '../api/queries';
import type { Placement, SurfacePointer } from './placement';
import { KeyPointMark, PictureNote, SurfaceTools } from './SurfaceTools';
import { USUAL_SIDE, useFrameImage } from './useFrameImage';
import { useKeyPoint } from './useKeyPoint';
import { useShownLight } from './useShownLight';
import { useZoom } from './useZoom';

export type { Placement, SurfacePointer } from './placement';

interface FrameSurfaceProps {
  /** What is shown of it; left out: with its corrections, if they are to be shown. */
  readonly shows?: Prescription | null;
  readonly marksClipping?: boolean;
  readonly frame: FrameDetail;
  readonly label: string;
  readonly cursor?: string;
  /** Gets the pointer unless the picture is being moved (space or middle button). */
  onPointer?(pointer: SurfacePointer): void;
  /** By keys Enter begins and ends what is drawn; else it presses once. */
  readonly draws?: boolean;
  /** Drawn over the picture, inside the frame's own coordinates. */
  overlay?(placement: Placement): ReactNode;
}

/** One large view of the frame with zoom and moving; unsmoothed above 100 %. */
export function FrameSurface(props: FrameSurfaceProps) {
  const { frame, label, cursor, onPointer, draws = false, overlay, shows, marksClipping } = props;
  const { room, size, shown, setPlacement, zoom, isSpaceDown } = useZoom(frame);
  const { keyPoint, forget, onKeyDown } = useKeyPoint({ frame, size, shown, setPlacement, onPointer, draws });
  const moving = useRef<{ x: number; y: number } | null>(null);
  const drawnSide = (shown?.scale ?? 0) * Math.max(frame.width, frame.height) * (window.devicePixelRatio || 1);
  const { picture, isComing, again } = useFrameImage(frame, drawnSide > USUAL_SIDE);
  const lit = useShownLight(frame, shows, drawnSide, marksClipping);

  const pointer = (kind: SurfacePointer['kind']) => (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = event.target.getStage()?.getPointerPosition();
    if (!shown) return;
    if (keyPoint) forget();
    if (kind === 'down' && (isSpaceDown || event.evt.button === 1) && at) {
      moving.current = at;
      return;
    }
    if (moving.current) {
      if (kind === 'move' && at) {
        const { x, y } = moving.current;
        setPlacement({ scale: shown.scale, x: shown.x + at.x - x, y: shown.y + at.y - y });
        moving.current = at;
      } else if (kind !== 'move') moving.current = null;
      return;
    }
    if (kind === 'down' && event.evt.button !== 0) return;
    onPointer?.({
      kind,
      isShiftDown: event.evt.shiftKey,
      pressure: event.evt.pointerType === 'pen' ? event.evt.pressure : null,
      x: at ? (at.x - shown.x) / shown.scale - 0.5 : 0,
      y: at ? (at.y - shown.y) / shown.scale - 0.5 : 0,
    });
  };

  return (
    <div
      ref={room}
      className="surface"
      role="region"
      aria-label={label}
      style={{ cursor: isSpaceDown ? 'grab' : cursor }}
      tabIndex={0}
      onKeyDown={onKeyDown}
    >
      {shown && (
        <Stage
          width={size.width}
          height={size.height}
          onPointerDown={pointer('down')}
          onPointerMove={pointer('move')}
          onPointerUp={pointer('up')}
          onPointerLeave={pointer('leave')}
          onWheel={(event) => {
            event.evt.preventDefault();
            const at = event.target.getStage()!.getPointerPosition()!;
            zoom(event.evt.deltaY < 0 ? 1.2 : 1 / 1.2, at.x, at.y);
          }}
        >
          <Layer imageSmoothingEnabled={shown.scale < 1} listening={false}>
            {(lit ?? picture) && (
              <KonvaImage
                image={lit ?? picture!}
                x={shown.x}
                y={shown.y}
                width={frame.width * shown.scale}
                height={frame.height * shown.scale}
              />
            )}
          </Layer>
          {overlay?.(shown)}
        </Stage>
      )}
      {keyPoint && shown && <KeyPointMark point={keyPoint} placement={shown} />}
      <SurfaceTools scale={shown?.scale ?? null} zoom={zoom} onFit={() => setPlacement(null)} />
      <PictureNote again={again} isComing={isComing} hasPicture={picture !== null} />
    </div>
  );
}
