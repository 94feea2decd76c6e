import { useState, type KeyboardEvent } from 'react';
import type { Size } from '@vitrocept/core';
import { afterKey, type KeyPoint } from '../input/keyPointer';
import type { Placement, SurfacePointer } from './placement';

/** Px of the page that one press of an arrow moves the keys' point, and the picture. */
const KEY_STEP_PX = 4;
const PAN_PX = 40;
const PAN_FAR_PX = 200;

interface KeyPointProps {
  readonly frame: Size;
  readonly size: Size;
  readonly shown: Placement | null;
  setPlacement(placement: Placement): void;
  onPointer?(pointer: SurfacePointer): void;
  readonly draws: boolean;
}

/** Arrow keys move a point on the picture, Enter presses there; with Alt they move the picture. */
export function useKeyPoint({ frame, size, shown, setPlacement, onPointer, draws }: KeyPointProps) {
  /** Where the keys point; null until they are used. */
  const [keyPoint, setKeyPoint] = useState<KeyPoint | null>(null);
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
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
  return { keyPoint, forget: () => setKeyPoint(null), onKeyDown };
}
