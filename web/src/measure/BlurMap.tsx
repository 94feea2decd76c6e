import { useMemo } from 'react';
import { Circle, Group, Layer, Path, Text } from 'react-konva';
import type { SizePlace } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { CELL_PX, equalLines, thinned } from './blurLines';
import type { Placement } from '../surfaces/FrameSurface';

const DASHES: Record<number, number[]> = { 3: [2, 4], 6: [8, 4], 12: [] };
/** Discs of neighbouring places would overlap: one in every square of this side, on the page. */
const FIELD_STEP = 74;
/** A disc to scale would be a dot: they are drawn this many times larger. */
export const FIELD_MAGNIFIED = 4;

interface BlurMapProps {
  readonly frame: FrameDetail;
  readonly places: readonly SizePlace[];
  readonly placement: Placement;
}

/** Where the blur changes over the subject: lines of equal size, and the blur itself drawn at places. */
export function BlurMap({ frame, places, placement }: BlurMapProps) {
  const { known, lines } = useMemo(() => equalLines(frame, places), [frame, places]);
  const { scale, x, y } = placement;
  const field = thinned(places, FIELD_STEP / scale);
  return (
    <Layer listening={false}>
      <Group
        x={x}
        y={y}
        scaleX={scale}
        scaleY={scale}
        clipFunc={(context) => known.forEach((square) => context.rect(square.x, square.y, CELL_PX, CELL_PX))}
      >
        {lines.map(({ level, path }) => (
          <Path key={`under ${level}`} data={path} {...UNDER} />
        ))}
        {lines.map(({ level, path }) => (
          <Path key={level} data={path} {...OVER} dash={DASHES[level]} />
        ))}
      </Group>
      {field.map((place) => (
        <Circle
          key={`${place.x} ${place.y}`}
          x={x + place.x * scale}
          y={y + place.y * scale}
          radius={Math.max(1, (FIELD_MAGNIFIED * place.blurSizePx * scale) / 2)}
          stroke="#1C1F1E"
          strokeWidth={1}
          fill="rgba(247, 247, 245, 0.55)"
        />
      ))}
      {field.map((place) => (
        <Text
          key={`size ${place.x} ${place.y}`}
          x={x + place.x * scale - 20}
          y={y + place.y * scale + (FIELD_MAGNIFIED * place.blurSizePx * scale) / 2 + 2}
          width={40}
          align="center"
          text={place.blurSizePx.toFixed(place.blurSizePx < 10 ? 1 : 0)}
          fontFamily="IBM Plex Mono"
          fontSize={10.5}
          fill="#F7F7F5"
          shadowColor="#1C1F1E"
          shadowBlur={3}
          shadowOpacity={1}
        />
      ))}
    </Layer>
  );
}

const UNDER = { stroke: '#1C1F1E', strokeWidth: 2.6, strokeScaleEnabled: false, opacity: 0.55 };
const OVER = { stroke: '#F7F7F5', strokeWidth: 1.2, strokeScaleEnabled: false };
