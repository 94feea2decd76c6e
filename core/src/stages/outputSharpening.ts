import { gaussianWeights } from '../picture/gaussianBlur';
import { clampIndex } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import type { Region, Size } from '../picture/region';
import type { PictureStage } from './stage';

/** px of the copy: what shrinking by area and a printer's dots take away. Common practice, no source. */
const SIGMA_PX = 0.7;
/** From the middle to one side. */
const WEIGHTS = gaussianWeights(SIGMA_PX);
/** px around that a sample is held within. */
const NEAR = 2;
const REACH = Math.max(NEAR, WEIGHTS.length - 1);
/** Beyond its neighbours a sample may go by so much of what they span: under what the audit calls a halo. */
const BEYOND = 0.04;
/** At 100 %, so many times what the blur takes away is added. */
const MOST = 1.5;

/**
 * The finished copy sharpened for paper or a screen: unsharp masking of the mean brightness, on its square root, held
 * to what lies near; the channels keep their ratio. Common practice, no source.
 */
export const outputSharpeningStage: PictureStage<number> = {
  name: 'output sharpening',

  settingsOf: ({ outputSharpeningPercent = 0 }) => (outputSharpeningPercent > 0 ? outputSharpeningPercent : null),

  sizeAfter: (_percent, before) => before,

  regionNeeded: (_percent, wanted, before) => around(wanted, before),

  apply(planes, percent, wanted, before) {
    const from = around(wanted, before);
    const brightness = createPlane(from.width, from.height);
    for (let i = 0; i < brightness.data.length; i++) {
      let sum = 0;
      for (const { data } of planes) sum += Math.max(0, data[i]);
      brightness.data[i] = Math.sqrt(sum / planes.length);
    }
    const blurred = across(across(brightness));
    const [left, top] = [wanted.x - from.x, wanted.y - from.y];
    const out = planes.map(() => createPlane(wanted.width, wanted.height));
    for (let y = 0, i = 0; y < wanted.height; y++) {
      for (let x = 0; x < wanted.width; x++, i++) {
        const at = (y + top) * from.width + x + left;
        const own = brightness.data[at];
        const [low, high] = spanNear(brightness, x + left, y + top);
        const allowed = BEYOND * (high - low);
        const steeper = own + (MOST * percent * (own - blurred.data[at])) / 100;
        const value = Math.min(high + allowed, Math.max(low - allowed, steeper));
        const gain = own > 0 ? (Math.max(0, value) / own) ** 2 : 1;
        planes.forEach(({ data }, c) => (out[c].data[i] = data[at] * gain));
      }
    }
    return out;
  },
};

function around({ x, y, width, height }: Region, before: Size): Region {
  const [left, top] = [Math.max(0, x - REACH), Math.max(0, y - REACH)];
  return {
    x: left,
    y: top,
    width: Math.min(before.width, x + width + REACH) - left,
    height: Math.min(before.height, y + height + REACH) - top,
  };
}

/** Blurred along x, and turned over, so that twice does both; the border goes on as it ends. */
function across({ width, height, data }: Plane): Plane {
  const out = createPlane(height, width);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = WEIGHTS[0] * data[y * width + x];
      for (let k = 1; k < WEIGHTS.length; k++) {
        sum += WEIGHTS[k] * (data[y * width + clampIndex(x - k, width)] + data[y * width + clampIndex(x + k, width)]);
      }
      out.data[x * height + y] = sum;
    }
  }
  return out;
}

function spanNear({ width, height, data }: Plane, x: number, y: number): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (let v = Math.max(0, y - NEAR); v <= Math.min(height - 1, y + NEAR); v++) {
    for (let u = Math.max(0, x - NEAR); u <= Math.min(width - 1, x + NEAR); u++) {
      const value = data[v * width + u];
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  return [low, high];
}
