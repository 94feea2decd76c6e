/** A rectangle of whole pixels in the upright picture; x and y may be negative or reach past the frame. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Side of the fixed grid from which all final pixels come, anchored at the frame's origin. */
export const TILE_PX = 256;
/** Side of the finer grid of drafts. */
export const DRAFT_TILE_PX = 128;

export function grow(region: Region, px: number): Region {
  return { x: region.x - px, y: region.y - px, width: region.width + 2 * px, height: region.height + 2 * px };
}

/** The part both share; width or height is 0 where they share none. */
export function intersect(a: Region, b: Region): Region {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(0, Math.min(a.x + a.width, b.x + b.width) - x),
    height: Math.max(0, Math.min(a.y + a.height, b.y + b.height) - y),
  };
}

/** The smallest region that holds both. */
export function joined(a: Region, b: Region): Region {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}

/** The same region, seen from the corner of one that it lies in. */
export function placedIn(region: Region, outer: Region): Region {
  return { ...region, x: region.x - outer.x, y: region.y - outer.y };
}

export function isEmpty(region: Region): boolean {
  return region.width <= 0 || region.height <= 0;
}

export function wholeOf(size: Size): Region {
  return { x: 0, y: 0, width: size.width, height: size.height };
}

/** The tiles of a grid anchored at the frame's origin that `region` touches, clipped to the frame, row by row. */
export function tilesTouching(region: Region, frame: Size, side = TILE_PX): Region[] {
  const inside = intersect(region, wholeOf(frame));
  if (isEmpty(inside)) return [];
  const tiles: Region[] = [];
  const firstX = Math.floor(inside.x / side) * side;
  const firstY = Math.floor(inside.y / side) * side;
  for (let y = firstY; y < inside.y + inside.height; y += side) {
    for (let x = firstX; x < inside.x + inside.width; x += side) {
      tiles.push(intersect({ x, y, width: side, height: side }, wholeOf(frame)));
    }
  }
  return tiles;
}
