import { contentKey } from '../contentKey';
import { boxMean } from '../picture/boxMean';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import type { Region, Size } from '../picture/region';
import type { Extent } from './extent';
import { quickLog2 } from './quickPower';

/**
 * The whole frame, small, in its own linear light: from it comes what is broad in the picture, so that no tile has to look
 * farther than itself.
 */
export interface FrameGuide {
  readonly channels: Channels;
  readonly frame: Size;
}

/** Long side of a guide, px. */
export const GUIDE_SIDE = 512;
/** Light below this counts as this; two to the −14. */
const LEAST_LIGHT = 2 ** -14;

export const logLight = (light: number): number => quickLog2(light > LEAST_LIGHT ? light : LEAST_LIGHT);

/** How the broad part of log₂ brightness follows from a place's own brightness: slope · own + offset, on the guide's grid. */
export interface Broad {
  readonly slope: Plane;
  readonly offset: Plane;
}

/**
 * Edge-keeping: in squares of the guide what varies much less than `spreadEv` is broken down to its mean, what varies much
 * more is kept.
 *
 * @param share - Half side of the squares, of the guide's long side.
 * Source: He, Sun, "Fast guided filter", arXiv:1505.00996 (2015), after He, Sun, Tang (2010).
 */
export function broadOf(guide: FrameGuide, lumaWeights: readonly number[], share: number, spreadEv: number): Broad {
  return keptWith(guide.channels[0], contentKey(['broad', lumaWeights, share, spreadEv]), () => {
    const light = logOf(guide, lumaWeights);
    const reach = Math.max(1, Math.round(share * Math.max(light.width, light.height)));
    const mean = boxMean(light, reach);
    const squares = boxMean({ ...light, data: light.data.map((value) => value * value) }, reach);
    const slope = createPlane(light.width, light.height);
    const offset = createPlane(light.width, light.height);
    for (let i = 0; i < slope.data.length; i++) {
      const variance = Math.max(0, squares.data[i] - mean.data[i] ** 2);
      slope.data[i] = variance / (variance + spreadEv * spreadEv);
      offset.data[i] = (1 - slope.data[i]) * mean.data[i];
    }
    return { slope: boxMean(slope, reach), offset: boxMean(offset, reach) };
  });
}

/** log₂ brightness of the guide. */
export function logOf({ channels }: FrameGuide, lumaWeights: readonly number[]): Plane {
  const luma = lumaOf(channels, lumaWeights);
  return { ...luma, data: luma.data.map(logLight) };
}

/**
 * A plane of the guide's grid over a region of the frame.
 *
 * @param scale - Samples of the result per px of the frame.
 */
export function spreadOver(plane: Plane, frame: Size, region: Region, scale: number, size: Size): Plane {
  const out = createPlane(size.width, size.height);
  const { width, height, data } = plane;
  const across = placesOf(region.x, size.width, scale, width / frame.width, width);
  const down = placesOf(region.y, size.height, scale, height / frame.height, height);
  for (let y = 0, i = 0; y < size.height; y++) {
    const [upper, lower] = [down.first[y] * width, down.second[y] * width];
    const v = down.share[y];
    for (let x = 0; x < size.width; x++, i++) {
      const [left, right, u] = [across.first[x], across.second[x], across.share[x]];
      const above = data[upper + left] + u * (data[upper + right] - data[upper + left]);
      const below = data[lower + left] + u * (data[lower + right] - data[lower + left]);
      out.data[i] = above + v * (below - above);
    }
  }
  return out;
}

/** log₂ of what is broad of a brightness, over an extent of the frame. */
export function broadOver(luma: Plane, { slope, offset }: Broad, frame: Size, { region, scale }: Extent): Plane {
  const [own, base] = [slope, offset].map((plane) => spreadOver(plane, frame, region, scale, luma));
  for (let i = 0; i < base.data.length; i++) base.data[i] += own.data[i] * logLight(luma.data[i]);
  return base;
}

function placesOf(start: number, count: number, scale: number, ratio: number, length: number) {
  const first = new Int32Array(count);
  const second = new Int32Array(count);
  const share = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const place = Math.min(length - 1, Math.max(0, (start + (i + 0.5) / scale) * ratio - 0.5));
    first[i] = Math.floor(place);
    second[i] = Math.min(length - 1, first[i] + 1);
    share[i] = place - first[i];
  }
  return { first, second, share };
}
