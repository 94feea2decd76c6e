import { useState } from 'react';
import { placePart, type Face, type FacePart, type FacePartName } from '@vitrocept/core';
import { useFrameStore } from '../stores/frameStore';
import { partAt } from '../surfaces/FacesLayer';
import type { SurfacePointer } from '../surfaces/FrameSurface';

/** Placing parts of a face by pointer: the armed one is drawn from its middle outward, the others are dragged. */
export function usePlacedParts(face: Face | null, frameWidth: number) {
  const change = useFrameStore((state) => state.change);
  const [armed, setArmed] = useState<FacePartName | null>(null);
  const [drawing, setDrawing] = useState<{ part: FacePart; isMove: boolean; dx: number; dy: number } | null>(null);
  const usualRadius = face?.parts[0] ? Math.max(face.parts[0].rx, 4) : Math.max(6, Math.round(frameWidth / 100));
  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down' && armed) {
      setDrawing({ part: { part: armed, x, y, rx: usualRadius, ry: usualRadius }, isMove: false, dx: 0, dy: 0 });
    } else if (kind === 'down' && face) {
      const hit = partAt(face.parts, x, y);
      if (hit) setDrawing({ part: hit, isMove: true, dx: hit.x - x, dy: hit.y - y });
    } else if (kind === 'move' && drawing) {
      const { part, isMove, dx, dy } = drawing;
      const far = Math.hypot(x - part.x, y - part.y);
      if (isMove) setDrawing({ ...drawing, part: { ...part, x: x + dx, y: y + dy } });
      else if (far > 3) setDrawing({ ...drawing, part: { ...part, rx: far, ry: far } });
    } else if (drawing && face) {
      change((old) => placePart(old, face.id, rounded(drawing.part)));
      setDrawing(null);
      if (!drawing.isMove) setArmed(null);
    }
  };
  return { armed, setArmed, drawn: drawing?.part ?? null, onPointer };
}

const rounded = ({ part, x, y, rx, ry }: FacePart): FacePart => {
  const tenth = (value: number) => Math.round(10 * value) / 10;
  return { part, x: tenth(x), y: tenth(y), rx: tenth(rx), ry: tenth(ry) };
};
