import { contours } from 'd3-contour';
import { geoPath } from 'd3-geo';
import { boxMean, sizeAt, type Plane, type Size, type SizePlace } from '@vitrocept/core';

/** Lines of equal blur are drawn at these sizes, px. */
const LEVELS = [3, 6, 12];
/** Side of the squares in which sizes are spread, px of the frame. */
export const CELL_PX = 24;
/**
 * Sizes are smoothed over this many squares on each side of one, and islands of fewer squares than that fill are left
 * out.
 */
const CALM_REACH = 2;
const LEAST_ISLAND = 24;
/** Farther than this from every measured place nothing is known. */
const KNOWN_PX = 56;

/** The measured places nearest the middles of squares of `step` px of the frame. */
export function thinned(places: readonly SizePlace[], step: number): SizePlace[] {
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
export function equalLines({ width, height }: Size, places: readonly SizePlace[]) {
  const columns = Math.ceil(width / CELL_PX);
  const rows = Math.ceil(height / CELL_PX);
  const known: { x: number; y: number }[] = [];
  const read = Array.from({ length: columns * rows }, (_, i) => {
    const left = (i % columns) * CELL_PX;
    const top = Math.floor(i / columns) * CELL_PX;
    const [x, y] = [left + CELL_PX / 2, top + CELL_PX / 2];
    if (places.some((place) => Math.hypot(place.x - x, place.y - y) < KNOWN_PX)) known.push({ x: left, y: top });
    return sizeAt({ places, ladder: [] }, x, y);
  });
  const sizes = calmed(read, columns);
  const draw = geoPath();
  const lines = LEVELS.map((level) => {
    const [ring] = contours().size([columns, rows]).smooth(true).thresholds([level])(sizes);
    const coordinates = ring.coordinates
      .map((shape) => shape.filter((line) => areaOf(line) >= LEAST_ISLAND))
      .filter((shape) => shape.length > 0)
      .map((shape) => shape.map((line) => line.map(([x, y]) => [x * CELL_PX, y * CELL_PX])));
    return { level, path: draw({ ...ring, coordinates }) ?? '' };
  });
  return { known, lines: lines.filter(({ path }) => path !== '') };
}

/** The geometric mean around each square, twice: two passes of a box fall off softly. */
function calmed(sizes: readonly number[], columns: number): number[] {
  const plane: Plane = {
    width: columns,
    height: sizes.length / columns,
    data: Float32Array.from(sizes, (size) => Math.log(Math.max(0.1, size))),
  };
  return Array.from(boxMean(boxMean(plane, CALM_REACH), CALM_REACH).data, Math.exp);
}

/** Of a closed line, in squares. */
function areaOf(line: readonly (readonly number[])[]): number {
  let twice = 0;
  for (let i = 1; i < line.length; i++) twice += line[i - 1][0] * line[i][1] - line[i][0] * line[i - 1][1];
  return Math.abs(twice) / 2;
}
