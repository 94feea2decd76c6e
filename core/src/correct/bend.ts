import { contentKey } from '../contentKey';
import { lookedUp } from '../picture/arithmetic';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { broadOf, broadOver, type FrameGuide } from './guide';
import type { Extent } from './extent';

/** Of the long side: what is broader counts as light, what is finer as detail. */
const SHARE = 1 / 40;
/** What varies by less counts as detail, EV. */
const SPREAD_EV = 0.12;
/** log₂ of light from which highlights are held, and where they are held wholly: from mid-grey to twice white. */
const HIGHLIGHTS = { from: -2.5, to: 1, most: -1.5 } as const;
const SHADOWS = { from: -2, to: -6, most: 2 } as const;

/** 0 at `from`, 1 at `to`, level at both. */
function rise(value: number, { from, to }: { readonly from: number; readonly to: number }): number {
  const t = Math.min(1, Math.max(0, (value - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** By how many EV broad light of this many is moved; never so unevenly that what was brighter becomes darker. */
export const bentBy = (broadEv: number, holdHighlights: number, liftShadows: number): number =>
  (HIGHLIGHTS.most * holdHighlights * rise(broadEv, HIGHLIGHTS) + SHADOWS.most * liftShadows * rise(broadEv, SHADOWS)) /
  100;

/** Gains are looked up: so finely that the line between two is right to a part in a hundred thousand. */
const PER_EV = 128;
const TABLES = {};
const LEAST_EV = -20;
const MOST_EV = 12;

/**
 * What every sample is multiplied by so that broad light is held and lifted, and detail stays.
 *
 * @param planes - Linear, before any correction.
 * @param exposureEv - What will be added before it is bent.
 */
export function bendGains(
  planes: Channels,
  { holdHighlights, liftShadows }: { readonly holdHighlights: number; readonly liftShadows: number },
  exposureEv: number,
  lumaWeights: readonly number[],
  guide: FrameGuide,
  extent: Extent,
): Plane {
  const luma = lumaOf(planes, lumaWeights);
  const broad = broadOver(luma, broadOf(guide, lumaWeights, SHARE, SPREAD_EV), guide.frame, extent);
  const values = keptWith(TABLES, contentKey([holdHighlights, liftShadows]), () =>
    Float32Array.from(
      { length: (MOST_EV - LEAST_EV) * PER_EV + 1 },
      (_, i) => 2 ** bentBy(LEAST_EV + i / PER_EV, holdHighlights, liftShadows),
    ),
  );
  return lookedUp(broad, { low: LEAST_EV - exposureEv, perUnit: PER_EV, values });
}
