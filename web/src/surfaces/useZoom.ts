import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Size } from '@vitrocept/core';
import { isPressable, isTyping } from '../input/keys';
import type { Placement } from './placement';

const MOST_SCALE = 8;

/**
 * How the frame lies in its room: fitted until somebody zooms or moves it; keys `+`, `-`, `F`, and space to move it.
 */
export function useZoom(frame: Size) {
  const room = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [placement, setPlacement] = useState<Placement | null>(null);
  const [isSpaceDown, setSpaceDown] = useState(false);

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

  return { room, size, shown: placement ?? fitted(), setPlacement, zoom, isSpaceDown };
}
