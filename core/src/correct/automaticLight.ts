import type { ColourSpace } from '../picture/colourSpace';
import { lumaOf, type Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { wholeOf } from '../picture/region';
import { srgbEncode } from '../picture/toneCurve';
import { CORRECTIONS, neutralCorrections, type Corrections } from '../prescription/corrections';
import { correctLight } from './correctLight';
import type { FrameGuide } from './guide';

/** Share of the samples that the edge of clipping lies at. */
export const EDGE_SHARE = 0.001;
/** All Automatic lets so many clip at either end. Common practice, no source. */
const AUTOMATIC_SHARE = 0.005;
/** Where the middle of the subject's brightness should lie: 18 % grey. Common practice, no source. */
const MID_GREY = 0.18;
const MOST_UP_EV = 3;
const MOST_DOWN_EV = 1;
/** A subject of which less is off than this lies well. */
const LEAST_EV = 0.25;
/** Contrast is stretched no farther than this by itself, %. */
const AUTOMATIC_POINTS = { black: 12, whiteLeast: 70, whiteMost: 130 } as const;
const HALVINGS = 14;

type Space = Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'>;

/** Shares of a frame's samples that are not darker than white in some channel, and not brighter than black in all. */
function clippedShares(guide: FrameGuide, corrections: Corrections, space: Space): { white: number; black: number } {
  const light = lightOfGuide(guide, corrections, space);
  const count = light[0].data.length;
  let [white, black] = [0, 0];
  for (let i = 0; i < count; i++) {
    let [most, least] = [-Infinity, Infinity];
    for (const { data } of light) {
      most = Math.max(most, data[i]);
      least = Math.min(least, data[i]);
    }
    if (most >= 1) white++;
    if (least <= 0) black++;
  }
  return { white: white / count, black: black / count };
}

function lightOfGuide(guide: FrameGuide, corrections: Corrections, space: Space): Channels {
  const scale = guide.channels[0].width / guide.frame.width;
  const extent = { region: wholeOf(guide.frame), scale };
  return correctLight(guide.channels, corrections, space, guide.frame, extent, guide);
}

/**
 * Black and white point moved until so many samples of some channel clip, %.
 *
 * @param share - 0..1 of the samples, at each end.
 */
export function pointsAtClipping(
  guide: FrameGuide,
  corrections: Corrections,
  space: Space,
  share = EDGE_SHARE,
): { readonly blackPercent: number; readonly whitePercent: number } {
  const neutral = { ...corrections, blackPercent: byHand(0), whitePercent: byHand(100) };
  const { blackPercent: black, whitePercent: white } = CORRECTIONS;
  const whitePercent = halved(white.least, white.most, (value) => {
    const tried = { ...neutral, whitePercent: byHand(value) };
    return clippedShares(guide, tried, space).white > share;
  });
  const blackPercent = halved(black.least, Math.min(black.most, whitePercent - 5), (value) => {
    const tried = { ...neutral, whitePercent: byHand(whitePercent), blackPercent: byHand(value) };
    return clippedShares(guide, tried, space).black <= share;
  });
  return { blackPercent: tenths(blackPercent), whitePercent: tenths(whitePercent) };
}

/** The place between two where `isBelow` turns from true to false. */
function halved(least: number, most: number, isBelow: (value: number) => boolean): number {
  let [low, high] = [least, most];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (isBelow(middle)) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const byHand = (value: number) => ({ value, auto: false });
const automatic = (value: number) => ({ value, auto: true });
const tenths = (value: number) => Math.round(10 * value) / 10;

/**
 * All Automatic: exposure that brings the middle of the subject's brightness to 18 % grey (none where it lies within a
 * quarter of a stop), then black and white point where half a percent clips, neither moved far.
 *
 * @param subject - 0..1 on the guide's grid; null: the whole frame counts.
 */
export function automaticLight(
  guide: FrameGuide,
  old: Corrections | undefined,
  space: Space,
  subject: Plane | null,
): Corrections {
  const { whiteBalance, ...lens } = old ?? neutralCorrections();
  const base: Corrections = {
    ...neutralCorrections(),
    whiteBalance,
    fallOffPercent: lens.fallOffPercent,
    distortionPercent: lens.distortionPercent,
    redFringePercent: lens.redFringePercent,
    blueFringePercent: lens.blueFringePercent,
  };
  const middle = medianOver(lumaOf(lightOfGuide(guide, base, space), space.lumaWeights), subject);
  const off = Math.log2(MID_GREY / Math.max(middle, 1e-4));
  const ev = Math.abs(off) < LEAST_EV ? 0 : Math.max(-MOST_DOWN_EV, Math.min(MOST_UP_EV, off));
  const exposed = { ...base, exposureEv: automatic(Math.round(20 * ev) / 20) };
  const points = pointsAtClipping(guide, exposed, space, AUTOMATIC_SHARE);
  const { black, whiteLeast, whiteMost } = AUTOMATIC_POINTS;
  return {
    ...exposed,
    blackPercent: automatic(Math.max(0, Math.min(black, points.blackPercent))),
    whitePercent: automatic(Math.max(whiteLeast, Math.min(whiteMost, points.whitePercent))),
  };
}

function medianOver(luma: Plane, subject: Plane | null): number {
  const values: number[] = [];
  for (let i = 0; i < luma.data.length; i++) if (!subject || subject.data[i] > 0.5) values.push(luma.data[i]);
  if (values.length === 0) return subject ? medianOver(luma, null) : MID_GREY;
  values.sort((a, b) => a - b);
  return values[Math.floor(values.length / 2)];
}

/** Encoded brightness, counted in so many steps, after corrections: per channel. For showing. */
export function toneCountsAfter(
  guide: FrameGuide,
  corrections: Corrections | undefined,
  space: Space,
  steps: number,
): number[][] {
  const light = corrections ? lightOfGuide(guide, corrections, space) : guide.channels;
  return light.map(({ data }) => {
    const counts = new Array<number>(steps).fill(0);
    for (const value of data) {
      counts[Math.max(0, Math.min(steps - 1, Math.floor(srgbEncode(Math.max(0, value)) * steps)))]++;
    }
    return counts;
  });
}
