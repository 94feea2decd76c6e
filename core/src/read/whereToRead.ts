import { boxMean } from '../picture/boxMean';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import type { Point, Size } from '../picture/region';
import { REC709_WEIGHTS, srgbEncode } from '../picture/toneCurve';
import { findSubject } from '../mask/findSubject';
import { detailOf } from '../mask/subjectFeatures';

/** Where a first Reading looks. */
export interface WhereToRead {
  readonly kind: 'subject' | 'richest' | 'whole';
  /** Over the frame, small, 0 or 1; null: everywhere. */
  readonly coverage: Plane | null;
  /** Of the frame, 0..1. */
  readonly share: number;
  /** Where most detail lies of what is read, px of the frame. */
  readonly place: Point;
}

/** Long side of the picture that is looked at, px. */
export const WHERE_SIDE = 400;
/**
 * A subject stands out where it takes up so much of the frame and holds so many times the detail of what lies around
 * it.
 */
const LEAST_SHARE = 0.03;
const MOST_SHARE = 0.7;
const STANDS_OUT = 3;
/** Nor may the most detailed tenth of its surroundings hold so many times what is usual on it. */
const CALM_AROUND = 1.7;
/** Or the network agrees so much: a subject out of focus holds less detail than the ground before it. */
const MEANT = 0.55;
/** Fewer px of the frame tell less than the whole frame does. */
const LEAST_SUBJECT_PX = 80_000;
/** A frame up to this size is read whole where no subject stands out, of a larger one its richest places. */
const MOST_WHOLE_PX = 4e6;
const RICHEST_PX = 3e6;
/** Side of a place, px of the frame. */
const PLACE_PX = 320;

/**
 * Where a Reading should look when nobody said: the subject where one stands out, else the places richest in detail, of
 * a small frame all of it.
 *
 * @param small - Linear sRGB, the whole frame with a long side of about WHERE_SIDE.
 * @param found - The subject in it.
 */
export function whereToRead(small: Channels, frame: Size, found = findSubject(small)): WhereToRead {
  const detail = detailOf(encodedLuma(small));
  const { labels, agreement, width, height } = found;
  const share = labels.reduce((sum, label) => sum + label, 0) / labels.length;
  const isLarge = share * frame.width * frame.height >= LEAST_SUBJECT_PX;
  if (share >= LEAST_SHARE && share <= MOST_SHARE && isLarge && (standsOut(labels, detail) || agreement >= MEANT)) {
    const coverage = { width, height, data: Float32Array.from(labels) };
    return { kind: 'subject', coverage, share, place: richestPlace(detail, coverage, frame) };
  }
  const everywhere = { width, height, data: detail };
  if (frame.width * frame.height > MOST_WHOLE_PX) return richestPlaces(everywhere, frame);
  const place = richestPlace(detail, filledPlane(width, height, 1), frame);
  return { kind: 'whole', coverage: null, share: 1, place };
}

/** The middle of the square with most detail under the coverage. */
function richestPlace(detail: Float32Array, coverage: Plane, frame: Size): Point {
  const { width, height, data } = coverage;
  const scale = frame.width / width;
  const reach = Math.max(1, Math.round(PLACE_PX / scale) >> 1);
  const sums = boxMean({ width, height, data: detail.map((value, i) => value * data[i]) }, reach).data;
  let best = 0;
  for (let i = 1; i < sums.length; i++) if (sums[i] * data[i] > sums[best] * data[best]) best = i;
  return {
    x: Math.round(((best % width) + 0.5) * scale),
    y: Math.round((Math.floor(best / width) + 0.5) * scale),
  };
}

function encodedLuma(channels: Channels): Plane {
  const luma = lumaOf(channels, channels.length === 3 ? REC709_WEIGHTS : [1]);
  return { ...luma, data: luma.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))) };
}

function standsOut(labels: Uint8Array, detail: Float32Array): boolean {
  const [inside, outside] = [1, 0].map((label) => detail.filter((_, i) => labels[i] === label).sort());
  const meanOf = (values: Float32Array) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const busyAround = outside[Math.floor(0.9 * (outside.length - 1))];
  return (
    meanOf(inside) >= STANDS_OUT * meanOf(outside) && busyAround <= CALM_AROUND * inside[Math.floor(inside.length / 2)]
  );
}

/** Squares with most detail, as many as make up RICHEST_PX of the frame. */
function richestPlaces(detail: Plane, frame: Size): WhereToRead {
  const side = Math.max(3, Math.round((PLACE_PX * detail.width) / frame.width));
  const sums = boxMean(detail, side >> 1).data;
  const places: { x: number; y: number; detail: number }[] = [];
  for (let y = 0; y + side <= detail.height; y += side) {
    for (let x = 0; x + side <= detail.width; x += side) {
      places.push({ x, y, detail: sums[(y + (side >> 1)) * detail.width + x + (side >> 1)] });
    }
  }
  places.sort((a, b) => b.detail - a.detail);
  const coverage = createPlane(detail.width, detail.height);
  const wanted = (RICHEST_PX / (frame.width * frame.height)) * coverage.data.length;
  for (const { x, y } of places.slice(0, Math.max(1, Math.round(wanted / side ** 2)))) {
    for (let row = y; row < y + side; row++)
      coverage.data.fill(1, row * detail.width + x, row * detail.width + x + side);
  }
  const share = coverage.data.reduce((sum, value) => sum + value, 0) / coverage.data.length;
  return { kind: 'richest', coverage, share, place: richestPlace(detail.data, coverage, frame) };
}
