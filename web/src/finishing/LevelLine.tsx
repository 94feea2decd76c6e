import { Layer, Line } from 'react-konva';
import type { Placement } from '../surfaces/FrameSurface';
import type { DrawnLine } from './useLevelling';

/** The line that is being drawn along a horizon or a trunk. */
export function LevelLine({ line, placement }: { line: DrawnLine | null; placement: Placement }) {
  if (!line) return null;
  const at = (u: number, v: number) => [
    placement.x + (u + 0.5) * placement.scale,
    placement.y + (v + 0.5) * placement.scale,
  ];
  const points = [...at(line.x0, line.y0), ...at(line.x1, line.y1)];
  return (
    <Layer listening={false}>
      <Line points={points} stroke="#1C1F1E" strokeWidth={3} />
      <Line points={points} stroke="#fff" strokeWidth={1.25} />
    </Layer>
  );
}
