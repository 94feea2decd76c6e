import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Probe, Region } from '@vitrocept/core';
import { useWallStore } from '../stores/wallStore';
import { HEIGHT, WIDTH, type Way } from './closeLookWays';

/** Px of the screen within which the divider is taken hold of. */
const NEAR_DIVIDER_PX = 12;
const within01 = (value: number) => Math.min(1, Math.max(0, value));

/** Dragging the divider or the picture, by pointer or arrow keys, and the pixel that is pointed at. */
export function useCloseLookPointer(probe: Probe, view: Region, scale: number, way: Way) {
  const pan = useWallStore((state) => state.pan);
  const [share, setShare] = useState(0.5);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const drag = useRef<'divider' | { x: number; y: number } | null>(null);
  const placeOf = (event: PointerEvent<HTMLCanvasElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect();
    const x = ((event.clientX - bounds.left) / bounds.width) * WIDTH;
    const y = ((event.clientY - bounds.top) / bounds.height) * HEIGHT;
    return { x, y };
  };
  const letGo = () => {
    drag.current = null;
  };
  const handlers = {
    onKeyDown(event: KeyboardEvent<HTMLCanvasElement>) {
      const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!by || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      event.stopPropagation();
      const step = (event.shiftKey ? 80 : 8) / scale;
      if (way === 'divider' && by[0] !== 0 && !event.altKey) {
        setShare(within01(share + by[0] * (event.shiftKey ? 0.1 : 0.01)));
      } else pan(probe.id, by[0] * step, by[1] * step);
    },
    onPointerDown(event: PointerEvent<HTMLCanvasElement>) {
      event.currentTarget.setPointerCapture(event.pointerId);
      const { x, y } = placeOf(event);
      const isDivider = way === 'divider' && Math.abs(x - share * WIDTH) < NEAR_DIVIDER_PX;
      drag.current = isDivider ? 'divider' : { x, y };
    },
    onPointerMove(event: PointerEvent<HTMLCanvasElement>) {
      const { x, y } = placeOf(event);
      if (drag.current === 'divider') setShare(within01(x / WIDTH));
      else if (drag.current) {
        pan(probe.id, (drag.current.x - x) / scale, (drag.current.y - y) / scale);
        drag.current = { x, y };
      }
      const inner = way === 'pair' && x >= WIDTH / 2 ? x - WIDTH / 2 : x;
      setAt({ x: Math.floor(view.x + inner / scale), y: Math.floor(view.y + y / scale) });
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onPointerLeave: () => setAt(null),
  };
  return { share, at, handlers };
}
