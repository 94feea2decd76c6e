import { useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import type { Region, Size } from '@vitrocept/core';

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Arrow keys move by so much, px. */
const KEY_STEP = 64;

/** A part of a picture px for px, of at most so many px, that is dragged or moved by arrow keys. */
export function useMovedPart(size: Size, most: Size, start: Point | (() => Point)) {
  const [middle, setMiddle] = useState(start);
  const dragged = useRef<Point | null>(null);
  const region = regionAround(middle, size, most);
  const moveBy = (dx: number, dy: number) => {
    const next = regionAround({ x: middle.x + dx, y: middle.y + dy }, size, most);
    setMiddle({ x: next.x + next.width / 2, y: next.y + next.height / 2 });
  };
  return {
    region,
    handlers: {
      tabIndex: 0,
      onKeyDown(event: KeyboardEvent) {
        const by = {
          ArrowLeft: [-KEY_STEP, 0],
          ArrowRight: [KEY_STEP, 0],
          ArrowUp: [0, -KEY_STEP],
          ArrowDown: [0, KEY_STEP],
        }[event.key];
        if (!by) return;
        event.preventDefault();
        moveBy(by[0], by[1]);
      },
      onPointerDown(event: PointerEvent) {
        dragged.current = { x: event.clientX, y: event.clientY };
      },
      onPointerUp(event: PointerEvent) {
        if (dragged.current) moveBy(dragged.current.x - event.clientX, dragged.current.y - event.clientY);
        dragged.current = null;
      },
    },
  };
}

function regionAround({ x, y }: Point, size: Size, most: Size): Region {
  const width = Math.min(size.width, most.width);
  const height = Math.min(size.height, most.height);
  const within = (at: number, own: number, whole: number) =>
    Math.max(0, Math.min(whole - own, Math.round(at - own / 2)));
  return { x: within(x, width, size.width), y: within(y, height, size.height), width, height };
}

/** Draws a bitmap as large as it is. */
export function useDrawn(canvas: RefObject<HTMLCanvasElement | null>, bitmap: ImageBitmap | null | undefined): void {
  useLayoutEffect(() => {
    const surface = canvas.current;
    if (!surface || !bitmap) return;
    surface.width = bitmap.width;
    surface.height = bitmap.height;
    surface.getContext('2d')!.drawImage(bitmap, 0, 0);
  }, [canvas, bitmap]);
}
