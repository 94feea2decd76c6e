import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

/** Panning a cell by pointer or keys, opening it; `perPx` is px of the frame per px of the page. */
export function useCellPointer(perPx: number, onPan: (byX: number, byY: number) => void, onOpen?: () => void) {
  const [isOver, setIsOver] = useState(false);
  const drag = useRef<{ x: number; y: number } | null>(null);
  const letGo = () => {
    drag.current = null;
  };
  const handlers = {
    onKeyDown(event: KeyboardEvent<HTMLCanvasElement>) {
      const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      const step = (event.shiftKey ? 80 : 8) * perPx;
      if (event.altKey && by) onPan(by[0] * step, by[1] * step);
      else if (event.key === 'Enter' && onOpen) onOpen();
      else return;
      event.preventDefault();
      event.stopPropagation();
    },
    onPointerDown(event: PointerEvent<HTMLCanvasElement>) {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, y: event.clientY };
    },
    onPointerMove(event: PointerEvent<HTMLCanvasElement>) {
      if (!drag.current) return;
      onPan((drag.current.x - event.clientX) * perPx, (drag.current.y - event.clientY) * perPx);
      drag.current = { x: event.clientX, y: event.clientY };
    },
    onPointerEnter: () => setIsOver(true),
    onPointerLeave: () => setIsOver(false),
    onDoubleClick: onOpen,
    onPointerUp: letGo,
    onPointerCancel: letGo,
  };
  return { isOver, handlers };
}
