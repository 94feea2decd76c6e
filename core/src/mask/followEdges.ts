import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { brushProfile, distanceToSegment } from './brush';
import { geodesicDistance } from './geodesic';
import { guidedFilter } from './guidedFilter';
import type { Stroke } from './maskOperation';
import { FEATURES, featuresOf, smoothed } from './subjectFeatures';

/** Crossed ground, in the features' units, up to which paint flows, and from where it has stopped. */
const FLOWS = 0.45;
const STOPPED = 0.7;
const STEP = 0.002;
const FREE_TIMES = 2.5;
/** Share of the brush that paints whatever is there: what the person drew over. */
const CORE = 0.15;
const STIFFNESS = 5e-4;

/**
 * Coverage of a stroke that stops at strong edges: from its middle line paint flows as far as the brush reaches, but
 * not over what differs.
 *
 * @param picture - Linear sRGB, a piece of the frame round the stroke.
 * @param stroke - In px of `picture`.
 */
export function followEdges(picture: Channels, stroke: Stroke): Plane {
  const { width, height } = picture[0];
  const radius = stroke.sizePx / 2;
  const away = distancesFrom(stroke, width, height);
  const seeds = Uint8Array.from(away, (value) => (value <= Math.max(0.71, CORE * radius) ? 1 : 0));
  const features = smoothed(featuresOf(picture), width, height);
  const crossed = geodesicDistance(features, FEATURES, width, seeds, STOPPED, STEP, FREE_TIMES);
  const flowed = createPlane(width, height);
  for (let i = 0; i < crossed.length; i++) {
    if (away[i] <= radius + 1) flowed.data[i] = Math.min(1, Math.max(0, (STOPPED - crossed[i]) / (STOPPED - FLOWS)));
  }
  const [red, green = red, blue = red] = picture;
  const guide = [red, green, blue].map((plane) => ({
    ...plane,
    data: plane.data.map((value) => Math.sqrt(Math.max(0, value))),
  }));
  const laid = guidedFilter(flowed, guide, 2, STIFFNESS);
  const opacity = (stroke.opacityPercent ?? 100) / 100;
  for (let i = 0; i < laid.data.length; i++) {
    const steep = Math.min(1, Math.max(0, 1.5 * (laid.data[i] - 0.5) + 0.5));
    laid.data[i] = opacity * steep * brushProfile(away[i], radius, stroke.featherPercent, 1);
  }
  return laid;
}

/** Px from the stroke's line, as far as the brush reaches; beyond, infinity. */
function distancesFrom({ points, sizePx }: Stroke, width: number, height: number): Float32Array {
  const away = new Float32Array(width * height).fill(Infinity);
  const reach = sizePx / 2 + 2;
  for (let k = 0; k < points.length; k += 2) {
    const next = Math.min(k + 2, points.length - 2);
    if (k > 0 && next === k) break;
    const [x0, y0, x1, y1] = [points[k], points[k + 1], points[next], points[next + 1]];
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + reach));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + reach));
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - reach)); y <= bottom; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(x0, x1) - reach)); x <= right; x++) {
        const i = y * width + x;
        away[i] = Math.min(away[i], distanceToSegment(x, y, x0, y0, x1, y1));
      }
    }
  }
  return away;
}
