import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { pathPsf, type PathPoint } from '../psf/pathPsf';
import type { Psf } from '../psf/psf';
import type { SeededRandom } from '../seededRandom';
import { shakePath } from './shakePath';

/**
 * A moment of an exposure: where the camera pointed, px, and how far it was turned about the middle of the frame,
 * radians.
 */
export interface Moment extends PathPoint {
  readonly angle: number;
}

const EVERY = 5;

/**
 * A hand-held camera that turns while it wanders: the turn wanders as the path does, independently of it.
 *
 * @param extentPx - Longer side of the path's box in the middle of the frame.
 * @param turn - Whole range of the turn, radians.
 */
export function turningPath(random: SeededRandom, extentPx: number, turn: number): Moment[] {
  const path = shakePath(random, extentPx).filter((_, i) => i % EVERY === 0);
  const wander = shakePath(random, 1)
    .filter((_, i) => i % EVERY === 0)
    .map(({ x }) => x);
  const range = Math.max(...wander) - Math.min(...wander);
  return path.map((point, i) => ({ ...point, angle: (turn * wander[i]) / range }));
}

/** Where a place that lies so far from the middle of the frame is carried at a moment; small angles. */
function carried({ x, y, angle }: Moment, awayX: number, awayY: number): PathPoint {
  return { x: x - angle * awayY, y: y + angle * awayX };
}

/** The path as a place sees it, px from the middle of the frame. */
export function psfOfTurning(moments: readonly Moment[], awayX: number, awayY: number): Psf {
  return pathPsf(moments.map((moment) => carried(moment, awayX, awayY)));
}

/**
 * "Photographs" a known sharp picture with a camera that turns while it moves: the mean of the scene as every moment
 * saw it, between samples by bilinear interpolation. The picture shrinks by the border on each side.
 *
 * @throws RangeError Where a moment carries a corner farther than the border.
 */
export function blurredTurning(scene: Channels, moments: readonly Moment[], border: number): Plane[] {
  const [{ width, height }] = scene;
  const [wide, high] = [width - 2 * border, height - 2 * border];
  const corner = Math.hypot(wide, high) / 2;
  if (moments.some(({ x, y, angle }) => Math.hypot(x, y) + Math.abs(angle) * corner > border - 1)) {
    throw new RangeError('the border must hold every place that a moment sees');
  }
  return scene.map(({ data }) => {
    const out = createPlane(wide, high);
    for (const moment of moments) {
      for (let row = 0; row < high; row++) {
        for (let column = 0; column < wide; column++) {
          const by = carried(moment, column - wide / 2, row - high / 2);
          const [x, y] = [column + border - by.x, row + border - by.y];
          const [left, top] = [Math.floor(x), Math.floor(y)];
          const [right, down] = [x - left, y - top];
          const at = top * width + left;
          const upper = data[at] + right * (data[at + 1] - data[at]);
          const lower = data[at + width] + right * (data[at + width + 1] - data[at + width]);
          out.data[row * wide + column] += (upper + down * (lower - upper)) / moments.length;
        }
      }
    }
    return out;
  });
}
