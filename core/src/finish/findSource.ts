import { drawMask } from '../mask/drawMask';
import type { Channels } from '../picture/picture';
import type { Point, Region, Size } from '../picture/region';
import { grow, intersect, wholeOf } from '../picture/region';
import type { Mend } from '../prescription/finishing';
import { regionOfMend, SEAM_PX } from './mend';

/** A source lies at most so many times as far as the place is large. */
const REACH = 3;
const LEAST_REACH_PX = 48;
const MOST_REACH_PX = 320;
/** So many samples around a place are compared at most. */
const MOST_SAMPLES = 500;
/** Width of what is compared around a place, px. */
const RING_PX = 7;
/** Coarse steps of the search, px; around the best every px is tried. */
const STEP = 3;
/** A source twice as far must be so much more alike. */
const FAR_COST = 0.02;

export const reachOfSearch = (stroke: Mend['stroke']): number => {
  const { width, height } = regionOfMend({ stroke });
  return Math.round(Math.min(MOST_REACH_PX, Math.max(LEAST_REACH_PX, REACH * Math.max(width, height))));
};

/** What a search for a source looks at, within the frame. */
export const regionOfSearch = (stroke: Mend['stroke'], frame: Size): Region =>
  intersect(grow(regionOfMend({ stroke }), reachOfSearch(stroke) + RING_PX), wholeOf(frame));

interface Ring {
  readonly x: Int32Array;
  readonly y: Int32Array;
}

/**
 * Where a place is best covered from: what surrounds the source is most like what surrounds the place, whatever their
 * brightness, and the source itself is neither the place nor one that is covered.
 *
 * @param planes - Encoded or linear, over `region`, as `regionOfSearch` gives it.
 * @param avoid - Strokes that are no source either.
 * @returns Null where the frame is too small for any.
 * Source: the best match of the surroundings as in Criminisi, Pérez, Toyama, "Region filling and object removal by
 * exemplar-based image inpainting", IEEE TIP 13 (2004), for the whole place at once.
 */
export function findSource(
  planes: Channels,
  region: Region,
  stroke: Mend['stroke'],
  avoid: readonly Mend['stroke'][],
): Point | null {
  const place = regionOfMend({ stroke });
  const ring = ringAround(stroke, region);
  if (ring.x.length === 0) return null;
  const taken = [stroke, ...avoid].map((one) => regionOfMend({ stroke: one }));
  const reach = reachOfSearch(stroke);
  const cost = costOf(planes, region, ring);
  const mayBe = (dx: number, dy: number): boolean => {
    const source = { ...place, x: place.x + dx, y: place.y + dy };
    const inside = intersect(source, region);
    if (inside.width < source.width || inside.height < source.height) return false;
    return taken.every((one) => {
      const common = intersect(shrunk(source), shrunk(one));
      return common.width <= 0 || common.height <= 0;
    });
  };
  let best: { dx: number; dy: number; cost: number } | null = null;
  const look = (dx: number, dy: number) => {
    if (!mayBe(dx, dy)) return;
    const own = cost(dx, dy) * (1 + (FAR_COST * Math.hypot(dx, dy)) / reach);
    if (!best || own < best.cost) best = { dx, dy, cost: own };
  };
  for (let dy = -reach; dy <= reach; dy += STEP) for (let dx = -reach; dx <= reach; dx += STEP) look(dx, dy);
  const coarse = best as { dx: number; dy: number } | null;
  if (!coarse) return null;
  for (let dy = -STEP + 1; dy < STEP; dy++) {
    for (let dx = -STEP + 1; dx < STEP; dx++) look(coarse.dx + dx, coarse.dy + dy);
  }
  const { dx, dy } = best!;
  return { x: dx, y: dy };
}

/** Without its seam. */
const shrunk = (region: Region): Region => grow(region, -SEAM_PX);

/** Samples just outside of what is covered, px of the frame. */
function ringAround(stroke: Mend['stroke'], region: Region): Ring {
  const place = intersect(grow(regionOfMend({ stroke }), RING_PX), region);
  const base = { kind: 'stroke', mode: 'add', featherPercent: 0, points: stroke.points } as const;
  const inner = drawMask([{ ...base, sizePx: stroke.sizePx + 2 }], place);
  const outer = drawMask([{ ...base, sizePx: stroke.sizePx + 2 * RING_PX }], place);
  const places: number[] = [];
  for (let i = 0; i < inner.data.length; i++) if (inner.data[i] === 0 && outer.data[i] > 0.5) places.push(i);
  const every = Math.max(1, Math.floor(places.length / MOST_SAMPLES));
  const picked = places.filter((_, i) => i % every === 0);
  return {
    x: Int32Array.from(picked, (i) => place.x + (i % place.width)),
    y: Int32Array.from(picked, (i) => place.y + Math.floor(i / place.width)),
  };
}

/** Variance of the difference between the ring and the ring moved, over all channels. */
function costOf(planes: Channels, region: Region, { x, y }: Ring): (dx: number, dy: number) => number {
  const { width, height } = planes[0];
  return (dx, dy) => {
    let total = 0;
    for (const { data } of planes) {
      let [sum, squares, count] = [0, 0, 0];
      for (let i = 0; i < x.length; i++) {
        const [u, v] = [x[i] - region.x, y[i] - region.y];
        const [p, q] = [u + dx, v + dy];
        if (p < 0 || q < 0 || p >= width || q >= height) continue;
        const off = data[v * width + u] - data[q * width + p];
        sum += off;
        squares += off * off;
        count++;
      }
      if (count < x.length / 2) return Infinity;
      // A seam hides a difference in brightness, but the less of it the better.
      const mean = sum / count;
      total += squares / count - 0.7 * mean * mean;
    }
    return total;
  };
}
