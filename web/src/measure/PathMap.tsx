import { Layer, Shape } from 'react-konva';
import type { PathPlace } from '@vitrocept/core';
import { FIELD_MAGNIFIED } from './BlurMap';
import type { Placement } from '../surfaces/FrameSurface';

interface PathMapProps {
  readonly places: readonly PathPlace[];
  readonly placement: Placement;
}

/**
 * Where the camera turned as well: the path as each place saw it, larger than it is, as dark as a page shows its light.
 */
export function PathMap({ places, placement }: PathMapProps) {
  const { scale, x, y } = placement;
  return (
    <Layer listening={false}>
      {places.map((place) => (
        <Shape
          key={`${place.x} ${place.y}`}
          x={x + place.x * scale}
          y={y + place.y * scale}
          sceneFunc={(context) => {
            const dot = FIELD_MAGNIFIED * scale;
            const half = (place.side * dot) / 2;
            const strongest = Math.max(...place.values);
            context.setAttr('fillStyle', 'rgba(247, 247, 245, 0.75)');
            context.fillRect(-half, -half, 2 * half, 2 * half);
            context.setAttr('strokeStyle', '#1C1F1E');
            context.setAttr('lineWidth', 1);
            context.strokeRect(-half, -half, 2 * half, 2 * half);
            place.values.forEach((value, i) => {
              if (value === 0) return;
              context.setAttr('fillStyle', `rgba(28, 31, 30, ${Math.sqrt(value / strongest)})`);
              const [column, row] = [i % place.side, Math.floor(i / place.side)];
              context.fillRect(column * dot - half, row * dot - half, dot, dot);
            });
          }}
        />
      ))}
    </Layer>
  );
}
