import { Ellipse, Layer } from 'react-konva';
import type { Face, FacePart } from '@vitrocept/core';
import type { Placement } from './FrameSurface';

interface FacesLayerProps {
  readonly placement: Placement;
  readonly faces: readonly Face[];
  /** The face that is looked at; the others are drawn dashed. */
  readonly own: Face | null;
}

/** Outlines of the parts of faces, light on dark so that they show on any ground. */
export function FacesLayer({ placement: { scale, x, y }, faces, own }: FacesLayerProps) {
  return (
    <Layer listening={false}>
      {faces.flatMap((face) =>
        face.parts.flatMap((part) => {
          const shape = {
            x: x + (part.x + 0.5) * scale,
            y: y + (part.y + 0.5) * scale,
            radiusX: Math.max(2, part.rx * scale),
            radiusY: Math.max(2, part.ry * scale),
            dash: face.id === own?.id ? undefined : [4, 4],
          };
          return [
            <Ellipse key={`${face.id} ${part.part} ground`} {...shape} stroke="#1C1F1E" strokeWidth={3} />,
            <Ellipse key={`${face.id} ${part.part}`} {...shape} stroke="#fff" strokeWidth={1.25} />,
          ];
        }),
      )}
    </Layer>
  );
}

/** The smallest part that a place of the frame lies in. */
export function partAt(parts: readonly FacePart[], x: number, y: number): FacePart | null {
  const hit = parts.filter((part) => Math.hypot((x - part.x) / part.rx, (y - part.y) / part.ry) <= 1);
  return hit.sort((p, q) => p.rx * p.ry - q.rx * q.ry)[0] ?? null;
}
