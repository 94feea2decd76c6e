import { contentKey } from '../contentKey';
import { keptWith } from '../picture/kept';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { logOf, type FrameGuide } from '../correct/guide';

/** Half side of the patches in which the darkest channel is looked for, of the guide's long side (15 px of 600). */
const PATCH_SHARE = 1 / 80;
const REACH_SHARE = 1 / 20;
/** What varies by less, noise above all, does not tell haze; EV. */
const SPREAD_EV = 0.35;
/** Haze is never taken for all of the light: some must be left for distance to show. */
const MOST_HAZE = 0.95;
/** Where less of the scene's own light comes through, noise is all there is. */
const LEAST_THROUGH = 0.2;
/** The brightest of the haziest samples tell its colour. */
const HAZIEST_SHARE = 0.001;

/** The haze of a frame: its light, and how much of the scene comes through it, as slope · log₂ brightness + offset. */
export interface Haze {
  readonly light: readonly number[];
  readonly slope: Plane;
  readonly offset: Plane;
}

/**
 * Haze after the darkest channel: without haze some channel is dark in every small place out of doors.
 * Source: He, Sun, Tang, "Single image haze removal using dark channel prior", CVPR 2009; refined by a guided filter.
 */
export function hazeOf(guide: FrameGuide, lumaWeights: readonly number[]): Haze {
  return keptWith(guide.channels[0], contentKey(['haze', lumaWeights]), () => {
    const { channels } = guide;
    const long = Math.max(channels[0].width, channels[0].height);
    const patch = Math.max(1, Math.round(PATCH_SHARE * long));
    const light = lightOfHaze(channels, neighbourhoodRange(darkest(channels, null), patch).low);
    const dark = neighbourhoodRange(darkest(channels, light), patch).low;
    const through: Plane = { ...dark, data: dark.data.map((value) => 1 - MOST_HAZE * Math.min(1, Math.max(0, value))) };
    return { light, ...fitted(through, logOf(guide, lumaWeights), Math.max(2, Math.round(REACH_SHARE * long))) };
  });
}

/** The least of the channels, each of the haze's light. */
function darkest(channels: Channels, light: readonly number[] | null): Plane {
  const out = createPlane(channels[0].width, channels[0].height);
  for (let i = 0; i < out.data.length; i++) {
    let least = Infinity;
    for (let c = 0; c < channels.length; c++) least = Math.min(least, channels[c].data[i] / (light ? light[c] : 1));
    out.data[i] = least;
  }
  return out;
}

function lightOfHaze(channels: Channels, dark: Plane): number[] {
  const order = Array.from(dark.data.keys()).sort((p, q) => dark.data[q] - dark.data[p]);
  const haziest = order.slice(0, Math.max(1, Math.round(HAZIEST_SHARE * order.length)));
  return channels.map(({ data }) => Math.max(0.05, haziest.reduce((sum, i) => sum + data[i], 0) / haziest.length));
}

/** `wanted` as a line of the guide, fitted in squares. */
function fitted(wanted: Plane, guide: Plane, reach: number): { slope: Plane; offset: Plane } {
  const product = (p: Plane, q: Plane): Plane => ({ ...p, data: p.data.map((value, i) => value * q.data[i]) });
  const [mean, own] = [boxMean(guide, reach), boxMean(wanted, reach)];
  const [squares, mixed] = [boxMean(product(guide, guide), reach), boxMean(product(guide, wanted), reach)];
  const slope = createPlane(guide.width, guide.height);
  const offset = createPlane(guide.width, guide.height);
  for (let i = 0; i < slope.data.length; i++) {
    const variance = Math.max(0, squares.data[i] - mean.data[i] ** 2);
    slope.data[i] = (mixed.data[i] - mean.data[i] * own.data[i]) / (variance + SPREAD_EV * SPREAD_EV);
    offset.data[i] = own.data[i] - slope.data[i] * mean.data[i];
  }
  return { slope: boxMean(slope, reach), offset: boxMean(offset, reach) };
}

/**
 * One sample's value with haze taken away (amount above 0) or added, −1..1.
 *
 * @param through - How much of the scene's own light comes through, 0..1.
 */
export function withoutHaze(value: number, light: number, through: number, amount: number): number {
  if (amount < 0) return value + -0.5 * amount * (1 - Math.min(through, 0.9)) * (light - value);
  const left = Math.max(LEAST_THROUGH, 1 - amount * (1 - through));
  return (value - light) / left + light;
}
