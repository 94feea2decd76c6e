import { contours, geoPath } from 'd3';
import { useMemo } from 'react';
import { Circle, Group, Layer, Path, Text } from 'react-konva';
import { sizeAt, type SizePlace } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import type { Placement } from './FrameSurface';

/** Lines of equal blur are drawn at these sizes, px. */
const LEVELS = [3, 6, 12];
const DASHES: Record<number, number[]> = { 3: [2, 4], 6: [8, 4], 12: [] };
const CELL_PX = 24;
/** Farther than this from every measured place nothing is known. */
const KNOWN_PX = 56;
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

/** The measured places nearest the middles of squares of `step` px of the frame. */
function thinned(places: readonly SizePlace[], step: number): SizePlace[] {
  const best = new Map<string, { place: SizePlace; distance: number }>();
  for (const place of places) {
    const column = Math.floor(place.x / step);
    const row = Math.floor(place.y / step);
    const distance = Math.hypot(place.x - (column + 0.5) * step, place.y - (row + 0.5) * step);
    const known = best.get(`${column} ${row}`);
    if (!known || distance < known.distance) best.set(`${column} ${row}`, { place, distance });
  }
  return [...best.values()].map(({ place }) => place);
}

/** Lines of equal size over the whole frame, and the squares in which they are known. */
function equalLines({ width, height }: FrameDetail, places: readonly SizePlace[]) {
  const columns = Math.ceil(width / CELL_PX);
  const rows = Math.ceil(height / CELL_PX);
  const known: { x: number; y: number }[] = [];
  const sizes = Array.from({ length: columns * rows }, (_, i) => {
    const left = (i % columns) * CELL_PX;
    const top = Math.floor(i / columns) * CELL_PX;
    const [x, y] = [left + CELL_PX / 2, top + CELL_PX / 2];
    if (places.some((place) => Math.hypot(place.x - x, place.y - y) < KNOWN_PX)) known.push({ x: left, y: top });
    return sizeAt({ places, ladder: [] }, x, y);
  });
  const draw = geoPath();
  const lines = LEVELS.map((level) => {
    const [ring] = contours().size([columns, rows]).smooth(true).thresholds([level])(sizes);
    const coordinates = ring.coordinates.map((shape) =>
      shape.map((line) => line.map(([x, y]) => [x * CELL_PX, y * CELL_PX])),
    );
    return { level, path: draw({ ...ring, coordinates }) ?? '' };
  });
  return { known, lines: lines.filter(({ path }) => path !== '') };
}
