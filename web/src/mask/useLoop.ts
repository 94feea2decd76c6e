import { useRef, useState } from 'react';
import { halfPx, MOST_LOOP_POINTS } from '@vitrocept/core';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import type { Areas } from './useAreas';

/** Nearer points do not make a loop truer, px of the frame as the picture lies. */
const LEAST_STEP_SHARE = 1 / 300;
const LEAST_CORNERS = 4;

/** A loop drawn round what is meant: it shows while it is drawn, and when it ends the thing inside is found. */
export function useLoop(areas: Areas, frame: { readonly width: number; readonly height: number }) {
  const [loop, setLoop] = useState<readonly number[]>([]);
  const drawn = useRef<number[] | null>(null);
  const step = Math.max(2, LEAST_STEP_SHARE * Math.max(frame.width, frame.height));
  const draw = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down') drawn.current = [halfPx(x), halfPx(y)];
    const points = drawn.current;
    if (!points) return;
    if (kind === 'move' && Math.hypot(x - points[points.length - 2], y - points[points.length - 1]) >= step)
      points.push(halfPx(x), halfPx(y));
    setLoop([...points]);
    if (kind === 'down' || kind === 'move') return;
    drawn.current = null;
    setLoop([]);
    if (points.length >= 2 * LEAST_CORNERS) void areas.findSubject([], thinned(points));
  };
  return { draw, loop };
}

/** Every so many corners of a long loop. */
function thinned(points: readonly number[]): number[] {
  const every = Math.ceil(points.length / 2 / MOST_LOOP_POINTS);
  return points.filter((_, i) => (i >> 1) % every === 0);
}
