import type { Channels } from '../picture/picture';
import { nthOf } from '../picture/nthOf';
import type { Plane } from '../picture/plane';
import { squaredImmerkaer } from './localNoise';

/**
 * ln of how far the four places of a square of 2 × 2 px differ in what is finest there: 0.06 at most without a mosaic,
 * 0.5 to 2.3 in the clearest channel with one (20 scenes, sharp and blurred, 0.2 and 1 % noise).
 */
const TRACE = 0.2;

/**
 * Whether channels were filled in from a colour mosaic: at places that were filled in a channel is smoother than at
 * those that were measured. JPEG and shrinking wipe the trace out.
 * Source: Gallagher & Chen, "Image authentication by detecting traces of demosaicing", CVPR Workshops 2008.
 */
export function isFilledIn(channels: Channels): boolean {
  return channels.length === 3 && channels.some((plane) => traceOf(plane) >= TRACE);
}

function traceOf(plane: Plane): number {
  const power = squaredImmerkaer(plane);
  const medians = [0, 1, 2, 3].map((place) => medianAt(power, place & 1, place >> 1));
  const [low, high] = [Math.min(...medians), Math.max(...medians)];
  return low > 0 ? Math.log(high / low) : 0;
}

/** Over every second sample of every second row. */
function medianAt({ width, height, data }: Plane, left: number, top: number): number {
  const values = new Float32Array(Math.ceil((width - left) / 2) * Math.ceil((height - top) / 2));
  let count = 0;
  for (let y = top; y < height; y += 2) {
    for (let i = y * width + left, end = (y + 1) * width; i < end; i += 2) values[count++] = data[i];
  }
  return count > 0 ? nthOf(values, count >> 1) : 0;
}
