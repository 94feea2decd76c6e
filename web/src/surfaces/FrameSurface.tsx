import type Konva from 'konva';
import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent as ReactKeyboardEvent,
  type ReactNode,
} from 'react';
import { Image as KonvaImage, Layer, Stage } from 'react-konva';
import type { FrameDetail } from '../api/queries';
import { isPressable, isTyping } from '../input/keys';
import { afterKey, type KeyPoint } from '../input/keyPointer';

/** How the frame lies on the surface: px of the page per px of the frame, and where its corner is. */
export interface Placement {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

export interface SurfacePointer {
  readonly kind: 'down' | 'move' | 'up' | 'leave';
  /** Place in the frame, px; pixel centres at whole numbers. */
  readonly x: number;
  readonly y: number;
  readonly isShiftDown: boolean;
  /** Of a pen, 0..1; null where the pointer knows none. */
  readonly pressure: number | null;
}

interface FrameSurfaceProps {
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

const MOST_SCALE = 8;
/** Px of the page that one press of an arrow moves the keys' point, and the picture. */
const KEY_STEP_PX = 4;
const PAN_PX = 40;
const PAN_FAR_PX = 200;
/** Long sides, px, of the views that are fetched: at once, soon after (the workers look at the same), and from close up only. */
const FIRST_SIDE = 640;
const USUAL_SIDE = 2048;
const LARGEST_SIDE = 6144;

/** One large view of the frame with zoom and moving; unsmoothed above 100 %. */
export function FrameSurface({ frame, label, cursor, onPointer, draws = false, overlay }: FrameSurfaceProps) {
  const room = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [placement, setPlacement] = useState<Placement | null>(null);
  const [isSpaceDown, setSpaceDown] = useState(false);
  const moving = useRef<{ x: number; y: number } | null>(null);
  /** Where the keys point; null until they are used. */
  const [keyPoint, setKeyPoint] = useState<KeyPoint | null>(null);

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width: Math.floor(width), height: Math.floor(height) });
    });
    observer.observe(room.current!);
    return () => observer.disconnect();
  }, []);

  const fitted = useCallback((): Placement | null => {
    if (size.width === 0 || size.height === 0) return null;
    const scale = Math.min(size.width / frame.width, size.height / frame.height, 1);
    return { scale, x: (size.width - frame.width * scale) / 2, y: (size.height - frame.height * scale) / 2 };
  }, [size, frame]);
  const shown = placement ?? fitted();
  const drawnSide = (shown?.scale ?? 0) * Math.max(frame.width, frame.height) * (window.devicePixelRatio || 1);
  const { picture, isComing, again } = useFrameImage(frame, drawnSide > USUAL_SIDE);

  const zoom = useCallback(
    (factor: number, atX = size.width / 2, atY = size.height / 2) => {
      const old = placement ?? fitted();
      const least = fitted()?.scale ?? 0.01;
      if (!old) return;
      const scale = Math.min(MOST_SCALE, Math.max(least, old.scale * factor));
      if (scale <= least * 1.001) return setPlacement(null);
      setPlacement({
        scale,
        x: atX - ((atX - old.x) * scale) / old.scale,
        y: atY - ((atY - old.y) * scale) / old.scale,
      });
    },
    [placement, fitted, size],
  );

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey) return;
      if (event.type === 'keydown' && event.key === ' ') {
        if (isPressable(event)) return;
        setSpaceDown(true);
        event.preventDefault();
      } else if (event.type === 'keyup' && event.key === ' ') setSpaceDown(false);
      else if (event.type === 'keydown' && event.key === '+') zoom(1.5);
      else if (event.type === 'keydown' && event.key === '-') zoom(1 / 1.5);
      else if (event.type === 'keydown' && event.key.toLowerCase() === 'f') setPlacement(null);
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  }, [zoom]);

  const onKeyDown = (event: ReactKeyboardEvent<HTMLDivElement>) => {
    // Buttons on the surface have keys of their own.
    if (event.target !== event.currentTarget || !shown || event.ctrlKey || event.metaKey) return;
    if (event.altKey) {
      const by = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
      if (!by) return;
      const step = event.shiftKey ? PAN_FAR_PX : PAN_PX;
      setPlacement({ ...shown, x: shown.x + by[0] * step, y: shown.y + by[1] * step });
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (!onPointer) return;
    const middle = (length: number, from: number, full: number) =>
      Math.min(full - 1, Math.max(0, Math.round((length / 2 - from) / shown.scale)));
    const from = keyPoint ?? {
      x: middle(size.width, shown.x, frame.width),
      y: middle(size.height, shown.y, frame.height),
      isDown: false,
    };
    const after = afterKey(from, event, frame, Math.max(1, Math.round(KEY_STEP_PX / shown.scale)), draws);
    if (!after) return;
    event.preventDefault();
    event.stopPropagation();
    const { point, act } = after;
    setKeyPoint(point);
    const tell = (kind: SurfacePointer['kind']) =>
      onPointer({ kind, x: point.x, y: point.y, isShiftDown: false, pressure: null });
    if (act !== 'press') tell(act);
    else {
      tell('down');
      tell('up');
    }
  };

  const pointer = (kind: SurfacePointer['kind']) => (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = event.target.getStage()?.getPointerPosition();
    if (!shown) return;
    if (keyPoint) setKeyPoint(null);
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
            {picture && (
              <KonvaImage
                image={picture}
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
      {keyPoint && shown && (
        <span
          className={`key-point ${keyPoint.isDown ? 'is-down' : ''}`}
          style={{
            left: shown.x + (keyPoint.x + 0.5) * shown.scale,
            top: shown.y + (keyPoint.y + 0.5) * shown.scale,
          }}
          role="status"
          aria-label={`At ${Math.round(keyPoint.x)}, ${Math.round(keyPoint.y)} px${keyPoint.isDown ? ', drawing' : ''}`}
        />
      )}
      <div className="surface-tools">
        <button type="button" onClick={() => zoom(1 / 1.5)} aria-label="Zoom out">
          <ZoomOut size={15} aria-hidden />
        </button>
        <span className="figure" aria-label="Magnification">
          {shown ? Math.round(shown.scale * 100) : '–'} %
        </span>
        <button type="button" onClick={() => zoom(1.5)} aria-label="Zoom in">
          <ZoomIn size={15} aria-hidden />
        </button>
        <button type="button" onClick={() => setPlacement(null)} aria-label="Fit the whole frame">
          <Maximize2 size={15} aria-hidden />
        </button>
      </div>
      {again ? (
        <span className="surface-note" role="alert">
          The picture could not be loaded.{' '}
          <button type="button" className="link-button" onClick={again}>
            Try again
          </button>
        </span>
      ) : (
        isComing && (
          <span className="surface-note">
            {picture ? 'its finest pixels are still being loaded …' : 'loading the picture …'}
          </span>
        )
      )}
    </div>
  );
}

interface FrameImage {
  readonly picture: HTMLImageElement | null;
  /** A finer one is on its way. */
  readonly isComing: boolean;
  /** Tries once more what failed; null where nothing did. */
  readonly again: (() => void) | null;
}

/** A small picture at once, a larger one as soon as it is there, all of it where one looks from close up. */
function useFrameImage({ id, width, height }: FrameDetail, isClose: boolean): FrameImage {
  const [images, setImages] = useState<{
    readonly id: string;
    readonly bySide: Readonly<Record<number, HTMLImageElement>>;
  }>();
  const [hasFailed, setFailed] = useState(false);
  const [attempt, setAttempt] = useState(0);
  const wantsAll = isClose && Math.max(width, height) > USUAL_SIDE;
  useEffect(() => {
    let isCurrent = true;
    const load = async (side: number) => {
      const picture = new Image();
      picture.src = `/api/frames/${id}/view.jpg?side=${side}`;
      await picture.decode();
      if (!isCurrent) return;
      setImages((old) => ({ id, bySide: { ...(old?.id === id ? old.bySide : {}), [side]: picture } }));
    };
    setFailed(false);
    const loading = wantsAll ? load(LARGEST_SIDE) : load(FIRST_SIDE).then(() => load(USUAL_SIDE));
    loading.catch(() => isCurrent && setFailed(true));
    return () => {
      isCurrent = false;
    };
  }, [id, wantsAll, attempt]);
  const bySide = images?.id === id ? images.bySide : {};
  const all = bySide[LARGEST_SIDE];
  const picture = all ?? bySide[USUAL_SIDE] ?? bySide[FIRST_SIDE] ?? null;
  const again = hasFailed ? () => setAttempt((count) => count + 1) : null;
  return { picture, isComing: wantsAll ? !all : !picture, again };
}
