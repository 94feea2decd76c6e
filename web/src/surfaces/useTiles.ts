import { useEffect, useId, useSyncExternalStore } from 'react';
import { tileEngine } from './tileEngine';
import type { Layered } from './tileKeys';

/** Asks for tiles as long as the caller stands; returns a number that changes whenever pixels arrive. */
export function useTiles(parts: readonly Layered[]): number {
  const owner = useId();
  const version = useSyncExternalStore(tileEngine.subscribe, tileEngine.getVersion);
  const keys = parts.map(({ key }) => key).join('|');
  useEffect(() => {
    tileEngine.want(
      owner,
      parts.map(({ want }) => want),
    );
    return () => tileEngine.forget(owner);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- equal keys, equal tiles
  }, [keys, owner]);
  return version;
}

/** Draws tiles unsmoothed; `left`, `top` of the frame stand at the canvas's corner. Returns whether all were there. */
export function drawTiles(
  context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  parts: readonly Layered[],
  left: number,
  top: number,
  scale: number,
): boolean {
  let complete = true;
  context.imageSmoothingEnabled = false;
  for (const { key, tile } of parts) {
    const picture = tileEngine.pictureOf(key);
    if (!picture) complete = false;
    else {
      context.drawImage(
        picture,
        (tile.x - left) * scale,
        (tile.y - top) * scale,
        tile.width * scale,
        tile.height * scale,
      );
    }
  }
  return complete;
}

/** The sRGB codes of one pixel, 0..255; null while its tile is not there. */
export function pixelOf(parts: readonly Layered[], x: number, y: number): [number, number, number] | null {
  for (const { key, tile } of parts) {
    if (x < tile.x || y < tile.y || x >= tile.x + tile.width || y >= tile.y + tile.height) continue;
    const context = tileEngine.pictureOf(key)?.getContext('2d');
    if (!context) return null;
    const { data } = context.getImageData(x - tile.x, y - tile.y, 1, 1);
    return [data[0], data[1], data[2]];
  }
  return null;
}
