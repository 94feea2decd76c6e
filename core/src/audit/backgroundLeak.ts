import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { PLACE_REACH } from './contradiction';

const LEAST_SIGMA = 2;
/** Structure over noise up to which a background is out of focus. */
const SOFTNESS = 2;
/** Structure under this is not seen: half an 8-bit level. */
const UNSEEN = (0.5 / 255) ** 2;

/**
 * Structure that a recovery has added to what lies beyond the mask's edge, where the background is out of focus: worms
 * and crust. √ of the mean square over 9 px of what is finer than a third of the blur, less what was there; −1 where
 * that does not apply. Null: nowhere. Grain that was taken away does not count.
 *
 * @param before, after - Brightness, sRGB-encoded 0..1.
 * @param noise - Noise variance of `before`, encoded.
 * @param beyond - 1 beyond the edge.
 */
export function backgroundLeak(
  before: Plane,
  after: Plane,
  noise: Plane,
  beyond: Uint8Array,
  blurPx: number,
): Plane | null {
  if (!beyond.includes(1)) return null;
  const sigma = Math.max(LEAST_SIGMA, blurPx / 3);
  const was = structureOf(before, sigma).data;
  const leak = structureOf(after, sigma);
  const { data } = leak;
  let any = false;
  for (let i = 0; i < data.length; i++) {
    const applies = beyond[i] === 1 && was[i] <= SOFTNESS * noise.data[i] + UNSEEN;
    data[i] = applies ? Math.sqrt(Math.max(0, data[i] - was[i])) : -1;
    any ||= applies;
  }
  return any ? leak : null;
}

function structureOf(plane: Plane, sigma: number): Plane {
  const coarse = gaussianBlur(plane, sigma).data;
  const fine = createPlane(plane.width, plane.height);
  for (let i = 0; i < coarse.length; i++) fine.data[i] = (plane.data[i] - coarse[i]) ** 2;
  return boxMean(fine, PLACE_REACH);
}
