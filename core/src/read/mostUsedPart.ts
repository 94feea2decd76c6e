import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';

/** Places are tried in steps of so many px: a multiple of JPEG's blocks. */
const STEP_PX = 64;

/**
 * The part of at most `side` × `side` px that holds most of what is used; of several alike the one nearest the middle.
 */
export function mostUsedPart(use: Plane, side: number): Region {
  const width = Math.min(side, use.width);
  const height = Math.min(side, use.height);
  const columns = Math.ceil(use.width / STEP_PX);
  const rows = Math.ceil(use.height / STEP_PX);
  const cells = new Float64Array(columns * rows);
  for (let y = 0, i = 0; y < use.height; y++) {
    const row = Math.floor(y / STEP_PX) * columns;
    for (let x = 0; x < use.width; x++, i++) cells[row + Math.floor(x / STEP_PX)] += use.data[i];
  }
  let best = { x: 0, y: 0, used: -1, away: 0 };
  for (let y = 0; y + height <= use.height; y += STEP_PX) {
    for (let x = 0; x + width <= use.width; x += STEP_PX) {
      let used = 0;
      for (let row = y / STEP_PX; row < (y + height) / STEP_PX; row++) {
        for (let column = x / STEP_PX; column < (x + width) / STEP_PX; column++) used += cells[row * columns + column];
      }
      const away = Math.hypot(x + width / 2 - use.width / 2, y + height / 2 - use.height / 2);
      if (used > best.used || (used === best.used && away < best.away)) best = { x, y, used, away };
    }
  }
  return { x: best.x, y: best.y, width, height };
}
