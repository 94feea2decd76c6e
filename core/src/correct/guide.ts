import { contentKey } from '../contentKey';
import { logLights } from '../picture/arithmetic';
import { boxMean } from '../picture/boxMean';
import { drawnOver } from '../picture/drawnOver';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';
import type { Extent } from './extent';

/**
 * The whole frame, small, in its own linear light: from it comes what is broad in the picture, so that no tile has to
 * look farther than itself.
 */
export interface FrameGuide {
  readonly channels: Channels;
  readonly frame: Size;
}

/** Long side of a guide, px. */
export const GUIDE_SIDE = 512;
/**
 * How the broad part of log₂ brightness follows from a place's own brightness: slope · own + offset, on the guide's
 * grid.
 */
export interface Broad {
  readonly slope: Plane;
  readonly offset: Plane;
}

/**
 * Edge-keeping: in squares of the guide what varies much less than `spreadEv` is broken down to its mean, what varies
 * much more is kept.
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
  return logLights(lumaOf(channels, lumaWeights));
}

/**
 * A plane of the guide's grid over a region of the frame.
 *
 * @param scale - Samples of the result per px of the frame.
 */
function spreadOver(plane: Plane, frame: Size, { region, scale }: Extent, { width, height }: Size): Plane {
  const [across, down] = [plane.width / frame.width, plane.height / frame.height];
  const corner = { x: region.x * across, y: region.y * down };
  return drawnOver(plane, { ...corner, stepX: across / scale, stepY: down / scale, width, height });
}

/** log₂ of what is broad of a brightness, over an extent of the frame, EV. */
export function broadOver(luma: Plane, { slope, offset }: Broad, frame: Size, extent: Extent): Plane {
  const [own, base] = [slope, offset].map((plane) => spreadOver(plane, frame, extent, luma));
  const light = logLights(luma);
  for (let i = 0; i < base.data.length; i++) base.data[i] += own.data[i] * light.data[i];
  return base;
}
