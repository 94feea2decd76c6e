import { useLayoutEffect, useState, type RefObject } from 'react';

/** No cell is smaller: less shows nothing. */
export const LEAST_CELL = { width: 177, height: 124 };

/** What the Wall needs beside its cells, px: names at the left, heads above, a foot under each cell, gaps between. */
const SIDE = 34;
const HEADS = 54;
const FOOT = 24;
const GAP = 6;
const RIM = 10;

export interface CellSize {
  readonly width: number;
  readonly height: number;
}

/** Cells grow until so many columns and rows fill the room; where they do not fit the Wall scrolls. */
export function cellSizeIn(room: CellSize, columns: number, rows: number): CellSize {
  const across = Math.floor((room.width - SIDE - RIM) / columns) - GAP;
  const down = Math.floor((room.height - HEADS - RIM) / rows) - FOOT - GAP;
  return { width: Math.max(LEAST_CELL.width, across), height: Math.max(LEAST_CELL.height, down) };
}

/** The same for the element the Wall stands in, whatever its size becomes. */
export function useCellSize(place: RefObject<HTMLElement | null>, columns: number, rows: number): CellSize {
  const [room, setRoom] = useState<CellSize>({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = place.current;
    if (!element) return;
    const look = () => setRoom({ width: element.clientWidth, height: element.clientHeight });
    look();
    const observer = new ResizeObserver(look);
    observer.observe(element);
    return () => observer.disconnect();
  }, [place]);
  return cellSizeIn(room, columns, rows);
}
