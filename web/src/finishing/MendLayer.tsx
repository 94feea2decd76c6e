import { Circle, Layer, Line } from 'react-konva';
import type { Mend } from '@vitrocept/core';
import type { Placement } from '../surfaces/FrameSurface';
import { middleOfMend, type Mending } from './useMending';

interface MendLayerProps {
  readonly mends: readonly Mend[];
  readonly mending: Mending;
  readonly placement: Placement;
}

/** What is mended, as outlines; of the one in hand also where it is covered from. */
export function MendLayer({ mends, mending, placement: { scale, x, y } }: MendLayerProps) {
  const at = (u: number, v: number) => [x + (u + 0.5) * scale, y + (v + 0.5) * scale] as const;
  const path = (points: readonly number[]) =>
    Array.from({ length: points.length / 2 }, (_, i) => at(points[2 * i], points[2 * i + 1])).flat();
  const stroke = (key: string, points: readonly number[], sizePx: number, opacity: number) => (
    <Line
      key={key}
      points={points.length === 2 ? [...path(points), ...path(points)] : path(points)}
      stroke="#F7F7F5"
      opacity={opacity}
      strokeWidth={Math.max(2, sizePx * scale)}
      lineCap="round"
      lineJoin="round"
    />
  );
  const { picked, points, sizePx } = mending;
  return (
    <Layer listening={false}>
      {mends.map((mend) => {
        const { points: covered, sizePx: width } = mend.stroke;
        if (covered.length > 2) return stroke(mend.id, covered, width, mend === picked ? 0.45 : 0.25);
        const [u, v] = at(covered[0], covered[1]);
        return (
          <Circle
            key={mend.id}
            x={u}
            y={v}
            radius={Math.max(4, (mend.stroke.sizePx / 2) * scale)}
            stroke={mend === picked ? '#17695F' : '#1C1F1E'}
            strokeWidth={mend === picked ? 2 : 1}
          />
        );
      })}
      {picked && <Source mend={picked} at={at} scale={scale} />}
      {points.length > 0 && stroke('drawn', points, sizePx, 0.5)}
    </Layer>
  );
}

interface SourceProps {
  readonly mend: Mend;
  at(u: number, v: number): readonly [number, number];
  readonly scale: number;
}

function Source({ mend, at, scale }: SourceProps) {
  const middle = middleOfMend(mend);
  const [fromX, fromY] = at(middle.x + mend.dx, middle.y + mend.dy);
  const [toX, toY] = at(middle.x, middle.y);
  const radius = Math.max(6, (mend.stroke.sizePx / 2) * scale);
  const angle = (-mend.turnDeg * Math.PI) / 180;
  return (
    <>
      <Line points={[fromX, fromY, toX, toY]} stroke="#17695F" strokeWidth={1} dash={[3, 3]} />
      <Circle x={fromX} y={fromY} radius={radius} stroke="#fff" strokeWidth={3} />
      <Circle x={fromX} y={fromY} radius={radius} stroke="#17695F" strokeWidth={1.5} dash={[4, 3]} />
      <Line
        points={[fromX, fromY, fromX + radius * Math.cos(angle), fromY + radius * Math.sin(angle)]}
        stroke="#17695F"
        strokeWidth={1.5}
      />
    </>
  );
}
