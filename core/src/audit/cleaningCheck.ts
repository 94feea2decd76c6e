import { minus, product } from '../picture/arithmetic';
import { distanceOf } from '../fourier/slidingDct';
import { DCT_SIDE } from '../fourier/dct8';
import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { boxMean } from '../picture/boxMean';
import { levelOf, LIMITS, verdictOf, type Verdict } from './limits';

/** What cleaning took along, by square of CHECK_STRIDE px. Bytes: steps of 1/200, or NOT_CHECKED. */
export interface CleaningCheck {
  readonly region: Region;
  /** How far what was removed runs along the picture's edges, 0..1. */
  readonly edges: Uint8Array<ArrayBuffer>;
  /** Texture that is left, over what was there besides the noise, 0..1. */
  readonly texture: Uint8Array<ArrayBuffer>;
  /** Grain that is left in plain places, over the original's, 0..1. */
  readonly grain: Uint8Array<ArrayBuffer>;
}

export const CHECK_STRIDE = 8;
const NOT_CHECKED = 255;
const STEPS = 200;

/** Half side, px, of the square that is looked at: small enough for the room between hairs. */
const REACH = 6;
const FINE_SIGMA = 2;
/** px around a region that its check depends on. */
export const CHECK_MARGIN = REACH + Math.ceil(3 * FINE_SIGMA) + 1;

/** A direction is clear from here: how much more the gradients point one way than the other, 0..1. */
const LEAST_DIRECTION = 0.3;
/** Variance of what was removed, in units of the noise, below which nothing was done. */
const LEAST_REMOVED = 0.02;
const LEAST_TAKEN = 0.1;
/** Power of texture over that of noise from which it is seen beside it. */
const LEAST_TEXTURE = 0.35;

/**
 * Holds what was removed against the picture.
 *
 * *Edges*: noise has no direction. Where the picture has one, the gradients of the removed part across it and along it
 * are compared, (across − along) / both: about 0 and below for noise, positive where edges and hairs were removed with
 * it. This needs no word about how strong the noise is. *Texture*: fine power of the original less that of its noise is
 * texture; what the cleaned picture shares with the original of it is left.
 *
 * @param before, after - Brightness of the original and of what is published, variance stabilised: noise has variance
 * 1.
 * @param kept - How much of the original is mixed into `after` at each sample, 0..1.
 * @param shape - How the noise stands at each frequency over white noise, as in Grain.
 * @param inner - Samples of the planes that are judged; they lie at `region` in the frame.
 */
export function checkCleaning(
  before: Plane,
  after: Plane,
  kept: Plane,
  shape: readonly number[] | undefined,
  inner: Region,
  region: Region,
): CleaningCheck {
  const removed = minus(before, after);
  // What a band or a mask left half cleaned would draw its own edge into the removed part.
  const whole = { ...removed, data: removed.data.map((value, i) => value / Math.max(LEAST_TAKEN, 1 - kept.data[i])) };
  const along = directionOf(gaussianBlur(before, 1.2));
  const removedAlong = directionOf(gaussianBlur(whole, 0.7));
  const [fineBefore, fineAfter] = [before, after].map((plane) => minus(plane, gaussianBlur(plane, FINE_SIGMA)));
  const power = boxMean(product(fineBefore, fineBefore), REACH);
  const shared = boxMean(product(fineBefore, fineAfter), REACH);
  const left = boxMean(product(fineAfter, fineAfter), REACH);
  const removedPower = boxMean(product(removed, removed), REACH);
  const keptHere = boxMean(kept, REACH);
  const noise = finePowerOf(shape);
  const columns = Math.ceil(region.width / CHECK_STRIDE);
  const rows = Math.ceil(region.height / CHECK_STRIDE);
  const [edges, texture, grain] = [0, 1, 2].map(() => new Uint8Array(columns * rows).fill(NOT_CHECKED));
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const x = Math.min(inner.width - 1, column * CHECK_STRIDE + CHECK_STRIDE / 2) + inner.x;
      const y = Math.min(inner.height - 1, row * CHECK_STRIDE + CHECK_STRIDE / 2) + inner.y;
      const i = y * before.width + x;
      const at = row * columns + column;
      if (removedPower.data[i] < LEAST_REMOVED) continue;
      const [u, v] = [along.u.data[i], along.v.data[i]];
      const clear = Math.hypot(u, v);
      if (clear > LEAST_DIRECTION * along.all.data[i]) {
        const across = (removedAlong.u.data[i] * u + removedAlong.v.data[i] * v) / clear;
        edges[at] = asByte(across / Math.max(1e-9, removedAlong.all.data[i]));
      }
      const fine = power.data[i] - noise;
      if (fine > LEAST_TEXTURE * noise) texture[at] = asByte((shared.data[i] - keptHere.data[i] * noise) / fine);
      else grain[at] = asByte(Math.sqrt(left.data[i] / Math.max(1e-9, power.data[i])));
    }
  }
  return { region, edges, texture, grain };
}

const asByte = (value: number) => Math.round(STEPS * Math.min(1, Math.max(0, value)));

export interface CheckedFigure {
  readonly verdict: Verdict;
  readonly value: number;
  /** Where it is worst, px of the frame. */
  readonly x: number;
  readonly y: number;
}

export interface CleaningFigures {
  readonly edges: CheckedFigure;
  readonly texture: CheckedFigure;
  /** Grain left in plain places, 0..1; null where there are none. */
  readonly grain: number | null;
}

/** Squares that lie in the view and can be judged at all. */
const LEAST_SQUARES = 4;
/** One square in twenty may be worse: by chance alone some are. */
const TOLERATED = 0.05;

/** What the checks of some tiles say of a place. */
export function cleaningFigures(checks: readonly CleaningCheck[], place: Region): CleaningFigures {
  const edges = squaresOf(checks, place, 'edges');
  const texture = squaresOf(checks, place, 'texture').map((square) => ({ ...square, value: 1 - square.value }));
  const grain = squaresOf(checks, place, 'grain');
  return {
    edges: figureOf(edges, LIMITS.removedEdges),
    texture: figureOf(texture, LIMITS.textureLost),
    grain: grain.length < LEAST_SQUARES ? null : grain.reduce((sum, { value }) => sum + value, 0) / grain.length,
  };
}

interface Square {
  readonly x: number;
  readonly y: number;
  readonly value: number;
}

function figureOf(squares: readonly Square[], limit: { check: number; damaged: number }): CheckedFigure {
  if (squares.length < LEAST_SQUARES) return { verdict: 'not measurable', value: 0, x: 0, y: 0 };
  const sorted = [...squares].sort((a, b) => b.value - a.value);
  const { value } = sorted[Math.floor(TOLERATED * sorted.length)];
  const { x, y } = sorted[0];
  return { verdict: verdictOf(value, limit), value, x, y };
}

/** Places that are to be looked at, worst first; level 1 is *check*, 2 *damaged*. */
export function placesToCheck(
  checks: readonly CleaningCheck[],
  place: Region,
): (Square & { readonly level: number })[] {
  const squares = [
    ...squaresOf(checks, place, 'edges').map((square) => ({
      ...square,
      level: levelOf(square.value, LIMITS.removedEdges),
    })),
    ...squaresOf(checks, place, 'texture').map((square) => ({
      ...square,
      level: levelOf(1 - square.value, LIMITS.textureLost),
    })),
  ];
  return squares.filter(({ level }) => level >= 1).sort((a, b) => b.level - a.level);
}

function squaresOf(checks: readonly CleaningCheck[], place: Region, measure: 'edges' | 'texture' | 'grain'): Square[] {
  return checks.flatMap((check) => {
    const columns = Math.ceil(check.region.width / CHECK_STRIDE);
    const squares: Square[] = [];
    check[measure].forEach((byte, at) => {
      const x = check.region.x + (at % columns) * CHECK_STRIDE + CHECK_STRIDE / 2;
      const y = check.region.y + Math.floor(at / columns) * CHECK_STRIDE + CHECK_STRIDE / 2;
      const isInside = x >= place.x && y >= place.y && x < place.x + place.width && y < place.y + place.height;
      if (byte !== NOT_CHECKED && isInside) squares.push({ x, y, value: byte / STEPS });
    });
    return squares;
  });
}

interface Direction {
  /** Twice-the-angle vector of the gradients' power, and its length if all pointed one way. */
  readonly u: Plane;
  readonly v: Plane;
  readonly all: Plane;
}

/** Structure tensor over the square: Bigün & Granlund, ICCV (1987). */
function directionOf(plane: Plane): Direction {
  const { width, height, data } = plane;
  const [u, v, all] = [0, 1, 2].map(() => createPlane(width, height));
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const [gx, gy] = [data[i + 1] - data[i - 1], data[i + width] - data[i - width]];
      u.data[i] = gx * gx - gy * gy;
      v.data[i] = 2 * gx * gy;
      all.data[i] = gx * gx + gy * gy;
    }
  }
  return { u: boxMean(u, REACH), v: boxMean(v, REACH), all: boxMean(all, REACH) };
}

/** Power of noise of variance 1 that is finer than FINE_SIGMA, from its spectrum in 8 × 8 blocks. */
function finePowerOf(shape: readonly number[] | undefined): number {
  let sum = 0;
  for (let i = 0; i < DCT_SIDE ** 2; i++) {
    const frequency = Math.hypot(Math.floor(i / DCT_SIDE), i % DCT_SIDE) / (2 * DCT_SIDE);
    const gain = 1 - Math.exp(-2 * (Math.PI * FINE_SIGMA * frequency) ** 2);
    sum += (gain * (shape?.[distanceOf(i)] ?? 1)) ** 2;
  }
  return sum / DCT_SIDE ** 2;
}
