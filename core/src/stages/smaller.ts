import { clampIndex } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import { sizeWithin } from '../picture/shrunk';
import type { PictureSize } from '../prescription/prescription';
import type { PictureStage } from './stage';

/**
 * The finished picture made smaller, last of all: every new sample is the mean of the samples it covers, those at its
 * border by the share that lies in it, in linear light. Never larger.
 */
export const smallerStage: PictureStage<PictureSize> = {
  name: 'smaller',

  settingsOf: ({ size }) => size ?? null,

  sizeAfter: ({ longEdgePx }, before) => sizeWithin(before, longEdgePx),

  regionNeeded({ longEdgePx }, { x, y, width, height }, before) {
    const after = sizeWithin(before, longEdgePx);
    const [across, down] = [before.width / after.width, before.height / after.height];
    const [left, top] = [Math.floor(x * across), Math.floor(y * down)];
    return {
      x: left,
      y: top,
      width: Math.ceil((x + width) * across) - left,
      height: Math.ceil((y + height) * down) - top,
    };
  },

  apply(planes, settings, wanted, before) {
    const after = sizeWithin(before, settings.longEdgePx);
    if (after.width === before.width && after.height === before.height) return [...planes];
    const from = this.regionNeeded(settings, wanted, before);
    const across = sharesOver(wanted.x, wanted.width, before.width / after.width, from.x);
    const down = sharesOver(wanted.y, wanted.height, before.height / after.height, from.y);
    return planes.map((plane) => shrunkBy(shrunkBy(plane, across), down));
  },
};

/** Which samples, and by which shares, make each new one. */
interface Shares {
  readonly first: Int32Array;
  /** Of each new one, one after the other; `each` of them a new one. */
  readonly share: Float32Array;
  readonly each: number;
}

function sharesOver(start: number, count: number, ratio: number, offset: number): Shares {
  const each = Math.ceil(ratio) + 1;
  const first = new Int32Array(count);
  const share = new Float32Array(count * each);
  for (let i = 0; i < count; i++) {
    const [low, high] = [(start + i) * ratio, (start + i + 1) * ratio];
    const at = Math.floor(low);
    first[i] = at - offset;
    for (let k = 0; k < each; k++) {
      const covered = Math.min(high, at + k + 1) - Math.max(low, at + k);
      share[i * each + k] = Math.max(0, covered) / ratio;
    }
  }
  return { first, share, each };
}

/** Along x, and turned over, so that twice makes both. */
function shrunkBy({ width, height, data }: Plane, { first, share, each }: Shares): Plane {
  const out = createPlane(height, first.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < first.length; x++) {
      let sum = 0;
      for (let k = 0; k < each; k++) {
        sum += share[x * each + k] * data[y * width + clampIndex(first[x] + k, width)];
      }
      out.data[x * height + y] = sum;
    }
  }
  return out;
}
