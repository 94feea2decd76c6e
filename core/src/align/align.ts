import { minus } from '../picture/arithmetic';
import { createComplex } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import { gaussianBlur } from '../picture/gaussianBlur';
import { type Plane } from '../picture/plane';
import type { Kernels } from '../kernels';
import { patchMovement } from './patchMovement';
import { resampled, type Placement } from './resample';

/** How well two pictures lie over each other at one place of the grid. */
export interface GridPlace {
  /** px of the frame. */
  readonly x: number;
  readonly y: number;
  /** What is left to move, px of the frame; null where nothing there can be told. */
  readonly left: { readonly x: number; readonly y: number } | null;
}

export interface Alignment {
  readonly placement: Placement;
  readonly grid: readonly GridPlace[];
  readonly medianPx: number;
  readonly worstPx: number;
  readonly isAligned: boolean;
}

const GRID = 7;
/** Aligned means: the median of what is left, and 95 % of it, at most this, px. */
export const MOST_MEDIAN_PX = 0.25;
export const MOST_WORST_PX = 0.7;
const LEAST_PLACES = 8;

const COARSE_SIDE = 128;
const SCALE_STEP = 1.03;
/** Long sides at which patches are followed, ever finer; the last is the frame's own. */
const LEVELS = [160, 320, 640, 1280, Infinity];
const PATCH_REACH = 40;
/** Smoothing before patches are followed. */
const SMOOTHING_PX = 1.5;

/**
 * Finds where another version of a frame lies on it: its scale (0.2 to 4 times), crop and sub-pixel shift. Coarsely by
 * normalised correlation over a ladder of scales, then by the movement of patches on a 7 × 7 grid, fitted by one scale
 * and shift an axis.
 *
 * @param original, version - Encoded luma 0..1.
 * Sources: Kuglin & Hines (1975) for correlation by transforms; Lucas & Kanade (1981) for the patches.
 */
export function align(original: Plane, version: Plane, kernels: Kernels): Alignment {
  const versions = halved(version);
  let placement = coarse(original, versions, kernels);
  let grid: GridPlace[] = [];
  const longSide = Math.max(original.width, original.height);
  for (const side of LEVELS) {
    const scale = Math.min(1, side / longSide);
    const still = scale < 1 ? shrunkTo(original, scale) : original;
    for (let round = 0; round < 2; round++) {
      const level = atLevel(placement, scale);
      grid = movements(still, laidOn(versions, level, still), version, level, round === 0 ? 10 : 4);
      const isLast = scale === 1 && round === 1;
      if (!isLast) placement = fromLevel(refined(level, grid), scale);
    }
    if (scale === 1) break;
  }
  const left = grid.flatMap(({ left: move }) => (move ? [Math.hypot(move.x, move.y)] : [])).sort((p, q) => p - q);
  const medianPx = left.length > 0 ? left[left.length >> 1] : Infinity;
  const worstPx = left.length > 0 ? left[Math.min(left.length - 1, Math.floor(0.95 * left.length))] : Infinity;
  return {
    placement,
    grid,
    medianPx,
    worstPx,
    isAligned: left.length >= LEAST_PLACES && medianPx <= MOST_MEDIAN_PX && worstPx <= MOST_WORST_PX,
  };
}

/** The same placement for a frame shrunk to `scale` of its size: sample middles move with it. */
function atLevel({ scaleX, scaleY, shiftX, shiftY }: Placement, scale: number): Placement {
  const middle = 0.5 / scale - 0.5;
  return {
    scaleX: scaleX / scale,
    scaleY: scaleY / scale,
    shiftX: shiftX + scaleX * middle,
    shiftY: shiftY + scaleY * middle,
  };
}

function fromLevel(level: Placement, scale: number): Placement {
  const [scaleX, scaleY] = [level.scaleX * scale, level.scaleY * scale];
  const middle = 0.5 / scale - 0.5;
  return { scaleX, scaleY, shiftX: level.shiftX - scaleX * middle, shiftY: level.shiftY - scaleY * middle };
}

/** The version and its halves, quarters …: shrinking from a large one by much is slow. */
function halved(version: Plane): Plane[] {
  const planes = [version];
  for (let last = version; Math.max(last.width, last.height) > 2 * COARSE_SIDE;) {
    last = shrunkTo(last, 0.5);
    planes.push(last);
  }
  return planes;
}

/** The smallest of the halves that still holds what `scale` version samples a frame sample ask for. */
function fitting(versions: readonly Plane[], scale: number): Plane {
  const fits = versions.filter((plane) => versions[0].width / plane.width <= Math.max(1, scale));
  return fits[fits.length - 1];
}

function laidOn(versions: readonly Plane[], level: Placement, size: Plane): Plane {
  const plane = fitting(versions, Math.max(level.scaleX, level.scaleY));
  const [kx, ky] = [plane.width / versions[0].width, plane.height / versions[0].height];
  const placement = {
    scaleX: level.scaleX * kx,
    scaleY: level.scaleY * ky,
    shiftX: (level.shiftX + 0.5) * kx - 0.5,
    shiftY: (level.shiftY + 0.5) * ky - 0.5,
  };
  return resampled(plane, placement, size);
}

/** The best of a ladder of scales, at low resolution. */
function coarse(original: Plane, versions: readonly Plane[], kernels: Kernels): Placement {
  const version = versions[0];
  const shrink = Math.min(1, COARSE_SIDE / Math.max(original.width, original.height));
  const small = shrunkTo(original, shrink);
  const whole = version.width / original.width;
  // Most versions are the whole frame at some size, or a crop at the same one: these are tried exactly.
  const scales = [whole, version.height / original.height, 1];
  for (let scale = 0.2; scale <= 4; scale *= SCALE_STEP) scales.push(scale);
  let best = { score: -Infinity, scale: whole, x: 0, y: 0 };
  for (const scale of scales) {
    const wide = (version.width / scale) * shrink;
    const high = (version.height / scale) * shrink;
    if (wide < 24 || high < 24 || wide > 1.6 * small.width || high > 1.6 * small.height) continue;
    const plane = fitting(versions, scale / shrink);
    const found = correlate(small, shrunkTo(plane, ((shrink / scale) * version.width) / plane.width), kernels);
    // A favour for the usual: a whole frame.
    const score = found.score + (scale === whole ? 0.01 : 0);
    if (score > best.score) best = { ...found, score, scale };
  }
  // (x, y): place of the version's first sample on the small original.
  return {
    scaleX: best.scale,
    scaleY: best.scale,
    shiftX: (-best.x / shrink) * best.scale,
    shiftY: (-best.y / shrink) * best.scale,
  };
}

function shrunkTo(plane: Plane, scale: number): Plane {
  const size = {
    width: Math.max(8, Math.round(plane.width * scale)),
    height: Math.max(8, Math.round(plane.height * scale)),
  };
  const [scaleX, scaleY] = [plane.width / size.width, plane.height / size.height];
  return resampled(plane, { scaleX, scaleY, shiftX: (scaleX - 1) / 2, shiftY: (scaleY - 1) / 2 }, size);
}

/** Highest correlation of the high-passed planes over all shifts, normalised by the energy of the overlap. */
function correlate(still: Plane, moving: Plane, kernels: Kernels): { score: number; x: number; y: number } {
  const [w, h] = [fastLength(still.width + moving.width), fastLength(still.height + moving.height)];
  const spectrum = (plane: Plane, pick: (value: number) => number) => {
    const fine = minus(plane, gaussianBlur(plane, 4));
    const out = createComplex(w, h);
    for (let y = 0; y < plane.height; y++) {
      for (let x = 0; x < plane.width; x++) out.re[y * w + x] = pick(fine.data[y * plane.width + x]);
    }
    kernels.fft2d(out);
    return out;
  };
  const product = (p: ReturnType<typeof spectrum>, q: ReturnType<typeof spectrum>) => {
    const out = createComplex(w, h);
    for (let i = 0; i < out.re.length; i++) {
      out.re[i] = p.re[i] * q.re[i] + p.im[i] * q.im[i];
      out.im[i] = p.im[i] * q.re[i] - p.re[i] * q.im[i];
    }
    kernels.inverseFft2d(out);
    return out.re;
  };
  const ones = { ...moving, data: new Float32Array(moving.data.length).fill(1) };
  const cover = createComplex(w, h);
  for (let y = 0; y < ones.height; y++) cover.re.fill(1, y * w, y * w + ones.width);
  kernels.fft2d(cover);
  const cross = product(
    spectrum(still, (value) => value),
    spectrum(moving, (value) => value),
  );
  const energy = product(
    spectrum(still, (value) => value * value),
    cover,
  );
  const own = minus(moving, gaussianBlur(moving, 4)).data.reduce((sum, value) => sum + value * value, 0);
  const total = minus(still, gaussianBlur(still, 4)).data.reduce((sum, value) => sum + value * value, 0);
  let best = { score: -Infinity, x: 0, y: 0 };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const under = energy[y * w + x];
      // Little overlap correlates by chance.
      if (under < 0.08 * total) continue;
      const score = cross[y * w + x] / Math.sqrt(under * own);
      if (score > best.score) best = { score, x: x > w / 2 ? x - w : x, y: y > h / 2 ? y - h : y };
    }
  }
  return best;
}

/** How far each patch of the grid still has to move. */
function movements(
  original: Plane,
  placed: Plane,
  version: Plane,
  { scaleX, scaleY, shiftX, shiftY }: Placement,
  most: number,
): GridPlace[] {
  const [still, moving] = [original, placed].map((plane) => gaussianBlur(plane, SMOOTHING_PX));
  const places: GridPlace[] = [];
  for (let row = 0; row < GRID; row++) {
    for (let column = 0; column < GRID; column++) {
      const x = Math.round(((column + 0.5) / GRID) * original.width);
      const y = Math.round(((row + 0.5) / GRID) * original.height);
      const reach = Math.min(PATCH_REACH, x - 3, y - 3, original.width - x - 4, original.height - y - 4);
      const [u, v] = [scaleX * x + shiftX, scaleY * y + shiftY];
      const covered =
        u - scaleX * reach >= 0 &&
        v - scaleY * reach >= 0 &&
        u + scaleX * reach < version.width &&
        v + scaleY * reach < version.height;
      places.push({
        x,
        y,
        left: covered && reach >= 16 ? patchMovement(still, moving, x, y, reach, most, SMOOTHING_PX) : null,
      });
    }
  }
  return places;
}

/** One scale and shift an axis through the movements, outliers weighed down. */
function refined(placement: Placement, grid: readonly GridPlace[]): Placement {
  const known = grid.filter((place) => place.left !== null);
  if (known.length < 3) return placement;
  const along = (position: (place: GridPlace) => number, move: (place: GridPlace) => number) => {
    let [slope, offset] = [0, 0];
    for (let round = 0; round < 8; round++) {
      let [w, p, m, pp, pm] = [0, 0, 0, 0, 0];
      for (const place of known) {
        const weight = 1 / (0.1 + Math.abs(move(place) - slope * position(place) - offset));
        w += weight;
        p += weight * position(place);
        m += weight * move(place);
        pp += weight * position(place) ** 2;
        pm += weight * position(place) * move(place);
      }
      const spread = w * pp - p * p;
      slope = spread > 1e-6 * w * pp ? (w * pm - p * m) / spread : 0;
      offset = (m - slope * p) / w;
    }
    return { slope, offset };
  };
  const x = along(
    (place) => place.x,
    (place) => place.left!.x,
  );
  const y = along(
    (place) => place.y,
    (place) => place.left!.y,
  );
  return {
    scaleX: placement.scaleX * (1 + x.slope),
    scaleY: placement.scaleY * (1 + y.slope),
    shiftX: placement.shiftX + placement.scaleX * x.offset,
    shiftY: placement.shiftY + placement.scaleY * y.offset,
  };
}
