import { useRef, useState } from 'react';
import {
  added,
  dabsOf,
  halfPx,
  replacedAt,
  withOperations,
  withPartTurned,
  type Face,
  type LinearOperation,
  type MaskOperation,
  type RadialOperation,
  type Stroke,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useBrushStore } from '../stores/brushStore';
import { useFrameStore } from '../stores/frameStore';
import { partAt } from '../surfaces/FacesLayer';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import type { MaskPainter } from './MaskPainter';
import { tileEngine } from '../surfaces/tileEngine';
import { selectedRange } from './RangeTool';
import { selectedShape } from './ShapeTool';
import type { Areas } from './useAreas';
import type { useMaskVeil } from './useMaskVeil';

type Shape = RadialOperation | LinearOperation;

interface MaskPointerProps {
  readonly frame: FrameDetail;
  readonly operations: readonly MaskOperation[];
  readonly faces: readonly Face[];
  readonly areas: Areas;
  readonly veil: ReturnType<typeof useMaskVeil>;
}

/** What the pointer does on the mask, tool by tool. */
export function useMaskPointer({ frame, operations, faces, areas, veil }: MaskPointerProps) {
  const [hand, setHand] = useState<{ x: number; y: number } | null>(null);
  const [drawn, setDrawn] = useState<Shape | null>(null);
  const [isPainting, setPainting] = useState(false);
  const stroke = useRef<{ points: number[]; pressures: number[] | null; painter: MaskPainter | null } | null>(null);
  const lastEnd = useRef<{ x: number; y: number } | null>(null);
  const drag = useRef<{ x: number; y: number; moved: RadialOperation | null } | null>(null);
  const change = useFrameStore((state) => state.change);

  const point = ({ kind, x, y }: SurfacePointer) => {
    if (kind !== 'down') return;
    const { sizePx, dab } = useBrushStore.getState();
    const one = { x: halfPx(x), y: halfPx(y), radius: sizePx / 2, isSubject: dab === 'this' };
    void areas.findSubject([...(areas.pending.current ?? dabsOf(operations)), one]);
  };

  const paint = ({ kind, x, y, isShiftDown, pressure }: SurfacePointer) => {
    // A mask that is still being drawn takes the stroke all the same; it shows as soon as both are there.
    const painter = veil.painter.current;
    const { brush: mode, sizePx, featherPercent, opacityPercent, followsEdges } = useBrushStore.getState();
    if (kind === 'down') {
      // With Shift a straight line from where the last stroke ended.
      const from = isShiftDown && lastEnd.current ? lastEnd.current : { x: halfPx(x), y: halfPx(y) };
      stroke.current = { points: [from.x, from.y], pressures: pressure === null ? null : [pressure], painter };
      setPainting(true);
      const brush = { mode, sizePx, featherPercent, opacityPercent };
      if (painter) veil.repaint(painter.begin(brush, from.x, from.y, pressure ?? 1));
      if (from.x === halfPx(x) && from.y === halfPx(y)) return;
    } else if (kind === 'move' && stroke.current) {
      const { points } = stroke.current;
      // Closer points would not show but would make the mask heavier.
      if (Math.hypot(x - points[points.length - 2], y - points[points.length - 1]) < Math.max(1, sizePx / 16)) return;
    } else if (stroke.current) {
      const { points, pressures, painter: begun } = stroke.current;
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
          if (begun && painter === begun) veil.claim(next);
          return next;
        }),
      );
      return;
    } else return;
    stroke.current.points.push(halfPx(x), halfPx(y));
    stroke.current.pressures?.push(pressure ?? 1);
    if (painter) veil.repaint(painter.extend(halfPx(x), halfPx(y), pressure ?? 1));
  };

  const pick = async ({ kind, x, y }: SurfacePointer) => {
    const { range, tolerance, combine, selected, set } = useBrushStore.getState();
    if (kind !== 'down' || range !== 'colour') return;
    let picked: Awaited<ReturnType<typeof tileEngine.pickColour>>;
    try {
      picked = await tileEngine.pickColour({ frame, x, y });
    } catch (error) {
      areas.tell(`That colour could not be read: ${(error as Error).message}`);
      return;
    }
    const { l, a, b } = picked;
    const wish = { kind: 'colour', l, a, b, tolerance } as const;
    const own = selectedRange(operations, selected, 'colour');
    if (own) void areas.replace(selected!, wish, own.mode);
    else void areas.add(wish, combine, (at) => set({ selected: at }));
  };

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

  const turn = ({ kind, x, y }: SurfacePointer) => {
    if (kind !== 'down') return;
    for (const face of faces) {
      const part = partAt(face.parts, x, y);
      if (!part) continue;
      change((old) => withOperations(old, (list) => withPartTurned(list, face, part.part)));
      return;
    }
  };

  const onPointer = (pointer: SurfacePointer) => {
    setHand(pointer.kind === 'leave' ? null : { x: pointer.x, y: pointer.y });
    const { tool } = useBrushStore.getState();
    if (tool === 'subject') point(pointer);
    else if (tool === 'brush') paint(pointer);
    else if (tool === 'ranges') void pick(pointer);
    else if (tool === 'shapes') draw(pointer);
    else if (tool === 'faces') turn(pointer);
  };
  return { onPointer, hand, drawn, isPainting };
}
