import { useRef, useState } from 'react';
import { halfPx, withOperations, type Stroke } from '@vitrocept/core';
import { useBrushStore } from '../stores/brushStore';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import type { MaskPainter } from './MaskPainter';
import { useMaskChange } from './useMaskChange';
import type { Areas } from './useAreas';
import type { useMaskVeil } from './useMaskVeil';

interface StrokeBegun {
  readonly points: number[];
  readonly pressures: number[] | null;
  readonly painter: MaskPainter | null;
}

/** Painting with the brush: the stroke shows at once and is kept when it ends. */
export function usePainting(areas: Areas, veil: ReturnType<typeof useMaskVeil>) {
  const change = useMaskChange();
  const [isPainting, setPainting] = useState(false);
  const stroke = useRef<StrokeBegun | null>(null);
  const lastEnd = useRef<{ x: number; y: number } | null>(null);

  /** Returns whether the pointer's own place still belongs to the stroke. */
  const begin = ({ x, y, isShiftDown, pressure }: SurfacePointer): boolean => {
    const painter = veil.painter.current;
    const { brush: mode, sizePx, featherPercent, opacityPercent } = useBrushStore.getState();
    // With Shift a straight line from where the last stroke ended.
    const from = isShiftDown && lastEnd.current ? lastEnd.current : { x: halfPx(x), y: halfPx(y) };
    stroke.current = { points: [from.x, from.y], pressures: pressure === null ? null : [pressure], painter };
    setPainting(true);
    const brush = { mode, sizePx, featherPercent, opacityPercent };
    if (painter) veil.repaint(painter.begin(brush, from.x, from.y, pressure ?? 1));
    return from.x !== halfPx(x) || from.y !== halfPx(y);
  };

  const end = ({ points, pressures, painter: begun }: StrokeBegun) => {
    const { brush: mode, sizePx, featherPercent, opacityPercent, followsEdges } = useBrushStore.getState();
    stroke.current = null;
    setPainting(false);
    lastEnd.current = { x: points[points.length - 2], y: points[points.length - 1] };
    const own: Stroke = {
      kind: 'stroke',
      mode,
      sizePx,
      featherPercent,
      ...(opacityPercent < 100 ? { opacityPercent } : {}),
      points,
      ...(pressures ? { pressures } : {}),
    };
    if (followsEdges) {
      void areas.add({ kind: 'edges', stroke: own }, mode).then(() => {
        if (!stroke.current) begun?.cancel();
      });
      return;
    }
    begun?.end();
    change((old) =>
      withOperations(old, (list) => {
        const next = [...list, own];
        // The mask was drawn anew meanwhile: then the stroke is drawn with it once more.
        if (begun && veil.painter.current === begun) veil.claim(next);
        return next;
      }),
    );
  };

  const paint = (pointer: SurfacePointer) => {
    const { kind, x, y, pressure } = pointer;
    if (kind === 'down') {
      if (!begin(pointer)) return;
    } else if (!stroke.current) return;
    else if (kind !== 'move') {
      end(stroke.current);
      return;
    }
    const { points, pressures } = stroke.current!;
    const { sizePx } = useBrushStore.getState();
    const moved = Math.hypot(x - points[points.length - 2], y - points[points.length - 1]);
    // Closer points would not show but would make the mask heavier.
    if (kind === 'move' && moved < Math.max(1, sizePx / 16)) return;
    points.push(halfPx(x), halfPx(y));
    pressures?.push(pressure ?? 1);
    // A mask that is still being drawn takes the stroke all the same; it shows as soon as both are there.
    const painter = veil.painter.current;
    if (painter) veil.repaint(painter.extend(halfPx(x), halfPx(y), pressure ?? 1));
  };
  return { paint, isPainting };
}
