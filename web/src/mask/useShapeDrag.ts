import { useRef, useState } from 'react';
import {
  added,
  halfPx,
  replacedAt,
  type LinearOperation,
  type MaskOperation,
  type RadialOperation,
} from '@vitrocept/core';
import { useBrushStore } from '../stores/brushStore';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import { selectedShape } from './ShapeTool';
import { useMaskChange } from './useMaskChange';

/** Drawing a shape from its middle or along its fall, or moving the one that is selected. */
export function useShapeDrag(operations: readonly MaskOperation[]) {
  const change = useMaskChange();
  const [drawn, setDrawn] = useState<RadialOperation | LinearOperation | null>(null);
  const drag = useRef<{ x: number; y: number; moved: RadialOperation | null } | null>(null);
  const draw = ({ kind, x, y }: SurfacePointer) => {
    const { shape, shapeFeatherPercent: featherPercent, combine: mode, selected, set } = useBrushStore.getState();
    if (kind === 'down') {
      const own = selectedShape(operations, selected);
      const isInside = own?.kind === 'radial' && Math.hypot((x - own.x) / own.rx, (y - own.y) / own.ry) < 1;
      drag.current = { x: halfPx(x), y: halfPx(y), moved: isInside ? own : null };
    } else if (kind === 'move' && drag.current) {
      const { x: x0, y: y0, moved } = drag.current;
      const [dx, dy] = [halfPx(x) - x0, halfPx(y) - y0];
      if (moved) setDrawn({ ...moved, x: moved.x + dx, y: moved.y + dy });
      else if (Math.hypot(dx, dy) < 3) setDrawn(null);
      else if (shape === 'linear') setDrawn({ kind: 'linear', mode, x0, y0, x1: x0 + dx, y1: y0 + dy });
      else {
        const [rx, ry] = [Math.max(4, Math.abs(dx)), Math.max(4, Math.abs(dy))];
        setDrawn({ kind: 'radial', mode, x: x0, y: y0, rx, ry, featherPercent });
      }
    } else if (drag.current) {
      const isMove = drag.current.moved !== null;
      drag.current = null;
      setDrawn(null);
      if (!drawn) return;
      if (isMove) change(replacedAt(selected!, drawn));
      else {
        set({ selected: operations.length });
        change(added(drawn));
      }
    }
  };
  return { draw, drawn };
}
