import { useState } from 'react';
import { angleOfLine, straighten } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import type { SurfacePointer } from '../surfaces/FrameSurface';

export interface DrawnLine {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** A shorter line tells no angle, px of the frame. */
const LEAST_PX = 20;

/** Drawing along what should be level or upright. */
export function useLevelling(frame: FrameDetail) {
  const change = useFrameStore((state) => state.change);
  const [isOn, setOn] = useState(false);
  const [line, setLine] = useState<DrawnLine | null>(null);
  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down') setLine({ x0: x, y0: y, x1: x, y1: y });
    else if (kind === 'move' && line) setLine({ ...line, x1: x, y1: y });
    else if (line) {
      setLine(null);
      if (kind === 'leave' || Math.hypot(line.x1 - line.x0, line.y1 - line.y0) < LEAST_PX) return;
      setOn(false);
      change((old) => straighten(old, frame, angleOfLine(line.x0, line.y0, line.x1, line.y1)));
    }
  };
  return { isOn, setOn, line, onPointer };
}

export type LevellingByLine = ReturnType<typeof useLevelling>;
