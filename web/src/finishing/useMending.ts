import { useRef, useState } from 'react';
import { addMend, changeMend, halfPx, removeMend, type Mend, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';
import type { SurfacePointer } from '../surfaces/FrameSurface';
import { tileEngine } from '../surfaces/tileEngine';

/** A press this near to a source, px of the frame, takes hold of it. */
const GRIP_SHARE = 0.6;
const LEAST_GRIP = 8;

/** The middle of what a mend covers. */
export function middleOfMend({ stroke: { points } }: Pick<Mend, 'stroke'>) {
  const xs = points.filter((_, i) => i % 2 === 0);
  const ys = points.filter((_, i) => i % 2 === 1);
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 };
}

/** Pressing or painting on what is to be covered; its source is found, and can be moved by its ring. */
export function useMending(frame: FrameDetail, prescription: Prescription) {
  const { change, changeIn } = useFrameStore();
  const [sizePx, setSizePx] = useState(24);
  const [pickedId, setPickedId] = useState<string | null>(null);
  const [points, setPoints] = useState<readonly number[]>([]);
  const [note, setNote] = useState<string | null>(null);
  const drawn = useRef<number[] | null>(null);
  const dragged = useRef<{ id: string; x: number; y: number } | null>(null);
  const mends = prescription.mends ?? [];
  const picked = mends.find(({ id }) => id === pickedId) ?? null;

  const sourceUnder = (x: number, y: number): Mend | undefined => {
    if (!picked) return undefined;
    const middle = middleOfMend(picked);
    const grip = Math.max(LEAST_GRIP, GRIP_SHARE * picked.stroke.sizePx);
    return Math.hypot(x - middle.x - picked.dx, y - middle.y - picked.dy) < grip ? picked : undefined;
  };
  const cover = async (stroke: Mend['stroke']) => {
    setNote('Looking for what covers it …');
    try {
      const found = await tileEngine.light.findSource({ frame, stroke, avoid: mends.map((mend) => mend.stroke) });
      if (!found) {
        setNote('There is no place around that could cover it: make it smaller.');
        return;
      }
      const id = newId();
      changeIn(frame.id, (old) => addMend(old, { id, stroke, dx: found.x, dy: found.y, turnDeg: 0 }));
      setPickedId(id);
      setNote(null);
    } catch (error) {
      setNote(`That failed: ${(error as Error).message}`);
    }
  };
  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down') {
      const under = sourceUnder(x, y);
      if (under) dragged.current = { id: under.id, x: x - under.dx, y: y - under.dy };
      else {
        drawn.current = [halfPx(x), halfPx(y)];
        setPoints(drawn.current);
      }
    } else if (dragged.current) {
      const { id, x: fromX, y: fromY } = dragged.current;
      if (kind === 'move')
        change((old) => changeMend(old, id, { dx: Math.round(x - fromX), dy: Math.round(y - fromY) }), `mend ${id}`);
      else dragged.current = null;
    } else if (drawn.current) {
      if (kind === 'move') {
        const [lastX, lastY] = drawn.current.slice(-2);
        if (Math.hypot(x - lastX, y - lastY) < Math.max(1, sizePx / 6)) return;
        drawn.current = [...drawn.current, halfPx(x), halfPx(y)];
        setPoints(drawn.current);
      } else {
        const own = drawn.current;
        drawn.current = null;
        setPoints([]);
        if (kind === 'up') void cover({ points: own, sizePx });
      }
    }
  };
  return {
    sizePx,
    setSizePx,
    picked,
    pick: setPickedId,
    points,
    note,
    onPointer,
    remove: (id: string) => change((old) => removeMend(old, id)),
    turn: (id: string, turnDeg: number) => change((old) => changeMend(old, id, { turnDeg }), `mend turn ${id}`),
    again: (mend: Mend) => {
      change((old) => removeMend(old, mend.id));
      void cover(mend.stroke);
    },
  };
}

export type Mending = ReturnType<typeof useMending>;
