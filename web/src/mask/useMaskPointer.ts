import { useState } from 'react';
import { dabsOf, halfPx, onlyOf, withOperations, withPartTurned, type Face, type MaskOperation } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useBrushStore } from '../stores/brushStore';
import { partAt } from '../surfaces/FacesLayer';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import { tileEngine } from '../surfaces/tileEngine';
import { selectedRange } from './RangeTool';
import type { Areas } from './useAreas';
import type { useMaskVeil } from './useMaskVeil';
import { useLoop } from './useLoop';
import { useMaskChange } from './useMaskChange';
import { usePainting } from './usePainting';
import { useShapeDrag } from './useShapeDrag';

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
  const { paint, isPainting } = usePainting(areas, veil);
  const { draw, drawn } = useShapeDrag(operations);
  const loop = useLoop(areas, frame);
  const change = useMaskChange();

  const point = ({ kind, x, y }: SurfacePointer) => {
    if (kind !== 'down') return;
    const { sizePx, dab } = useBrushStore.getState();
    const one = { x: halfPx(x), y: halfPx(y), radius: sizePx / 2, isSubject: dab === 'this' };
    const loop = areas.pending.current ? areas.pendingLoop.current : onlyOf(operations);
    void areas.findSubject([...(areas.pending.current ?? dabsOf(operations)), one], loop);
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
    const { tool, dab } = useBrushStore.getState();
    if (tool === 'subject' && dab === 'loop') loop.draw(pointer);
    else if (tool === 'subject') point(pointer);
    else if (tool === 'brush') paint(pointer);
    else if (tool === 'ranges') void pick(pointer);
    else if (tool === 'shapes') draw(pointer);
    else if (tool === 'faces') turn(pointer);
  };
  return { onPointer, hand, drawn, isPainting, loop: loop.loop };
}
