import { between, bilinear } from './bilinear';
import { gaussianBlur } from './gaussianBlur';
import type { Plane } from './plane';

/** What happened to one step edge. Its place is in samples of the planes. */
export interface EdgeChange {
  readonly x: number;
  readonly y: number;
  /** Over- or undershoot beyond the plateau that was added, % of the step. */
  readonly haloPercent: number;
  /** Half the swing beyond the first lobe that was added, % of the step. */
  readonly ringingPercent: number;
  /** 10–90 % width, px. */
  readonly widthBefore: number;
  readonly widthAfter: number;
}

const SPACING = 0.5;
/** A step of 1.5 px along the slope, and the neighbours there. */
const RIM = 3;
/** Samples along the edge that are averaged on each side: less noise, still straight. */
const ALONG = 3;
/** One edge at most per square of this side. */
const CELL_PX = 6;
/** A step counts from here, encoded 0..1. */
const LEAST_STEP = 0.06;
const LEAST_STEP_SIGMAS = 5;
/** How much a plateau may rise or fall, as a share of the step. */
const FLATNESS = 0.15;
const MOST_REACH = 30;

/**
 * Follows the normals of strong step edges that have a plateau on both sides, in the original and in the result.
 *
 * @param before, after - Brightness, sRGB-encoded 0..1: halos are judged as they are seen.
 * @param use - 1 where an edge may lie.
 * @param sigma - Noise of `before`, encoded.
 * The 10–90 % width and the overshoot as read off an edge spread function: ISO 12233 speaks of the same function.
 */
export function edgeChanges(before: Plane, after: Plane, use: Uint8Array, blurPx: number, sigma: number): EdgeChange[] {
  const smooth = gaussianBlur(before, Math.max(0.8, blurPx / 5));
  const half = Math.min(MOST_REACH / 2, blurPx / 2 + 2);
  const reach = Math.min(MOST_REACH, half + Math.max(4, half));
  const changes: EdgeChange[] = [];
  for (const slope of strongest(smooth, use, blurPx)) {
    const change = changeAt(before, after, slope, half, reach, sigma);
    if (change) changes.push(change);
  }
  return changes;
}

interface Slope {
  readonly x: number;
  readonly y: number;
  /** Unit vector towards the bright side. */
  readonly dx: number;
  readonly dy: number;
}

/** The steepest sample of every cell, where it is a ridge of steepness along its own direction. */
function strongest({ width, height, data }: Plane, use: Uint8Array, blurPx: number): Slope[] {
  const slopes: Slope[] = [];
  const least = (0.3 * LEAST_STEP) / Math.max(1, blurPx);
  const steepness = (i: number) => {
    const gx = (data[i + 1] - data[i - 1]) / 2;
    const gy = (data[i + width] - data[i - width]) / 2;
    return gx * gx + gy * gy;
  };
  // Cells keep this far from the border, so that every neighbour asked for is there.
  for (let top = RIM; top + CELL_PX < height - RIM; top += CELL_PX) {
    for (let left = RIM; left + CELL_PX < width - RIM; left += CELL_PX) {
      let [at, most] = [-1, least * least];
      for (let y = top; y < top + CELL_PX; y++) {
        for (let i = y * width + left; i < y * width + left + CELL_PX; i++) {
          if (use[i] === 0) continue;
          const found = steepness(i);
          if (found > most) [at, most] = [i, found];
        }
      }
      if (at < 0) continue;
      const size = Math.sqrt(most);
      const dx = (data[at + 1] - data[at - 1]) / 2 / size;
      const dy = (data[at + width] - data[at - width]) / 2 / size;
      const step = Math.round(1.5 * dy) * width + Math.round(1.5 * dx);
      if (most < steepness(at + step) || most < steepness(at - step)) continue;
      slopes.push({ x: at % width, y: Math.floor(at / width), dx, dy });
    }
  }
  return slopes;
}

function changeAt(
  before: Plane,
  after: Plane,
  slope: Slope,
  half: number,
  reach: number,
  sigma: number,
): EdgeChange | null {
  const found = stepAt(before, slope, half, reach, sigma);
  if (!found) return null;
  const { values: old, dark, bright, step, noise } = found;
  const now = profile(after, slope, reach);
  const widthBefore = width1090(old, dark, step);
  const widthAfter = width1090(now, dark, step);
  if (widthBefore === null || widthAfter === null) return null;
  const middle = (old.length - 1) >> 1;
  const sides = [
    { over: (value: number) => value - bright, from: middle, by: 1 },
    { over: (value: number) => dark - value, from: middle, by: -1 },
  ].map(({ over, from, by }) => sideChange(old, now, over, from, by));
  const halo = Math.max(...sides.map(({ lobe }) => lobe));
  const ringing = Math.max(...sides.map(({ rest }) => rest));
  return {
    x: slope.x,
    y: slope.y,
    haloPercent: (100 * halo) / step,
    ringingPercent: (100 * Math.max(0, ringing - noise)) / step,
    widthBefore,
    widthAfter,
  };
}

interface Step {
  /** Along the normal, from the dark to the bright side. */
  readonly values: Float64Array;
  readonly dark: number;
  readonly bright: number;
  readonly step: number;
  /** Standard deviation of one of the values. */
  readonly noise: number;
}

/** A step with a plateau on both sides; null where there is none. */
function stepAt(plane: Plane, slope: Slope, half: number, reach: number, sigma: number): Step | null {
  const { x, y } = slope;
  if (x < reach || y < reach || x >= plane.width - reach || y >= plane.height - reach) return null;
  const values = profile(plane, slope, reach);
  const near = Math.round((reach - half) / SPACING);
  const dark = mean(values, 0, near);
  const bright = mean(values, values.length - near, values.length);
  const step = bright - dark;
  const noise = sigma / Math.sqrt(2 * ALONG + 1);
  if (step < LEAST_STEP || step < LEAST_STEP_SIGMAS * sigma) return null;
  const flat = FLATNESS * step + 2 * noise;
  if (swing(values, 0, near) > flat || swing(values, values.length - near, values.length) > flat) return null;
  return { values, dark, bright, step, noise };
}

/** How wide an edge is looked at where nothing is known of its blur, px. */
const USUAL_EDGE_PX = 4;
const SHARP_EDGE_PX = 3.5;

/**
 * How far step edges of a picture overshoot already, % of the step: what a file that was sharpened before shows.
 *
 * @param plane - Brightness, sRGB-encoded 0..1. @param sigma - Its noise, encoded.
 */
export function overshoots(plane: Plane, use: Uint8Array, sigma: number): number[] {
  const half = USUAL_EDGE_PX;
  return strongest(gaussianBlur(plane, 0.8), use, USUAL_EDGE_PX).flatMap((slope) => {
    const found = stepAt(plane, slope, half, 2 * half + 2, sigma);
    if (!found) return [];
    const { values, dark, bright, step, noise } = found;
    const width = width1090(values, dark, step);
    // Sharpening shows at edges that were sharp.
    if (width === null || width > SHARP_EDGE_PX) return [];
    // A bright line beside an edge lies on one side; sharpening draws both.
    const lobe = Math.min(Math.max(...values) - bright, dark - Math.min(...values));
    return [(100 * Math.max(0, lobe - 2 * noise)) / step];
  });
}

/** Height of the first lobe beyond the plateau, and half the swing after it, less what the original had there. */
function sideChange(
  old: Float64Array,
  now: Float64Array,
  over: (value: number) => number,
  from: number,
  by: number,
): { lobe: number; rest: number } {
  let [lobe, peak, oldLobe] = [0, from, 0];
  for (let i = from; i >= 0 && i < now.length; i += by) {
    if (over(now[i]) > lobe) [lobe, peak] = [over(now[i]), i];
    oldLobe = Math.max(oldLobe, over(old[i]));
  }
  let start = peak;
  while (start >= 0 && start < now.length && over(now[start]) > 0) start += by;
  let [low, high] = [0, 0];
  for (let i = start; i >= 0 && i < now.length; i += by) {
    const added = over(now[i]) - over(old[i]);
    low = Math.min(low, added);
    high = Math.max(high, added);
  }
  return { lobe: Math.max(0, lobe - oldLobe), rest: (high - low) / 2 };
}

/** Values along the normal from the dark to the bright side, averaged along the edge. */
function profile(plane: Plane, { x, y, dx, dy }: Slope, reach: number): Float64Array {
  const count = 2 * Math.round(reach / SPACING) + 1;
  const values = new Float64Array(count);
  const room = reach + ALONG + 2;
  const isInside = x >= room && y >= room && x < plane.width - room && y < plane.height - room;
  const at = isInside ? between : bilinear;
  for (let i = 0; i < count; i++) {
    const t = (i - (count - 1) / 2) * SPACING;
    let sum = 0;
    for (let s = -ALONG; s <= ALONG; s++) sum += at(plane, x + t * dx - s * dy, y + t * dy + s * dx);
    values[i] = sum / (2 * ALONG + 1);
  }
  return values;
}

/** Distance between the places nearest the middle where a rise passes 10 and 90 %; null where it does not. */
function width1090(values: Float64Array, dark: number, step: number): number | null {
  const middle = (values.length - 1) >> 1;
  const cross = (share: number, by: 1 | -1) => {
    const level = dark + share * step;
    for (let i = middle; i + by >= 0 && i + by < values.length; i += by) {
      const [here, next] = [values[i], values[i + by]];
      if ((here - level) * (next - level) <= 0 && here !== next) return i + (by * (level - here)) / (next - here);
    }
    return null;
  };
  // An edge may have slid a little: the middle itself may lie on a plateau already.
  const at = values[middle] - dark;
  const low = at < 0.1 * step ? cross(0.1, 1) : cross(0.1, -1);
  const high = at > 0.9 * step ? cross(0.9, -1) : cross(0.9, 1);
  return low === null || high === null ? null : Math.max(SPACING / 2, (high - low) * SPACING);
}

function mean(values: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += values[i];
  return sum / (to - from);
}

function swing(values: Float64Array, from: number, to: number): number {
  let [low, high] = [Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    low = Math.min(low, values[i]);
    high = Math.max(high, values[i]);
  }
  return high - low;
}
