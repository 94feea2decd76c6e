import { installedFilters } from '../picture/filters';
import { createPlane, type Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { CODE_MAX } from '../picture/toneCurve';
import { mosaicColour, shiftedPattern, type BayerPattern } from './cfa';

/**
 * So far one sample's colour reaches into the colours of others, px; even, so that a shifted tile keeps its pattern.
 */
export const DEMOSAIC_REACH = 10;
const TILE = 256;

/**
 * Interleaved 16-bit codes of red, green and blue at every sample of a mosaic, tile by tile, so that a large frame is
 * never held twice. Green is filled in along rows and along columns, both are mixed by how smooth their colour
 * differences are, then all three are refined in that mixture. Borders are mirrored. What was measured stays as it is.
 *
 * Source: Menon, Andriani, Calvagno, "Demosaicing with directional filtering and a posteriori decision", IEEE
 * Transactions on Image Processing 16 (2007), with its refining step; mixed by the inverse squares of its two
 * classifiers where the paper takes the better one.
 *
 * @param mosaic - Light; what lies outside 0..1 is clipped in the codes: 65535 · light.
 * @param becomes - What each code is in the end.
 */
export function demosaic(
  mosaic: Plane,
  pattern: BayerPattern,
  becomes: Uint16Array,
  take: (tile: Region, codes: Uint16Array) => void,
): void {
  const { width, height } = mosaic;
  const fill = installedFilters({ width: TILE, height: TILE })?.demosaicTile ?? plainDemosaicTile;
  for (let y = 0; y < height; y += TILE) {
    for (let x = 0; x < width; x += TILE) {
      const tile = { x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) };
      take(tile, fill(mirroredTile(mosaic, tile), shiftedPattern(pattern, x, y), becomes));
    }
  }
}

/** A tile with the reach round it; beyond the border the picture is mirrored, which keeps every colour in its place. */
function mirroredTile({ width, height, data }: Plane, tile: Region): Plane {
  const out = createPlane(tile.width + 2 * DEMOSAIC_REACH, tile.height + 2 * DEMOSAIC_REACH);
  const left = tile.x - DEMOSAIC_REACH;
  const isInside = left >= 0 && left + out.width <= width;
  const columns = Int32Array.from({ length: out.width }, (_, i) => mirrored(left + i, width));
  for (let row = 0, to = 0; row < out.height; row++, to += out.width) {
    const from = mirrored(tile.y - DEMOSAIC_REACH + row, height) * width;
    if (isInside) out.data.set(data.subarray(from + left, from + left + out.width), to);
    else for (let i = 0; i < columns.length; i++) out.data[to + i] = data[from + columns[i]];
  }
  return out;
}

/** A picture that is smaller than the reach is mirrored again and again. */
function mirrored(at: number, length: number): number {
  if (length < 2) return 0;
  const period = 2 * (length - 1);
  const within = ((at % period) + period) % period;
  return within < length ? within : period - within;
}

const { abs, fround } = Math;
const half = fround(0.5);
const third = fround(1 / 3);
/** Flat places are both ways alike. */
const LEAST = fround(1e-12);

/**
 * One tile with its reach round it, which is left away. In single precision step by step, as the twin in
 * kernels/assembly/demosaic.ts.
 */
export function plainDemosaicTile(tile: Plane, pattern: readonly number[], becomes: Uint16Array): Uint16Array {
  const { width, height, data: cfa } = tile;
  const isGreen = (x: number, y: number) => mosaicColour(pattern, x, y) === 1;
  const each = (margin: number, does: (i: number, x: number, y: number) => void) => {
    for (let y = margin; y < height - margin; y++) {
      for (let x = margin; x < width - margin; x++) does(y * width + x, x, y);
    }
  };
  const [across, down] = [createPlane(width, height).data, createPlane(width, height).data];
  const along = (i: number, step: number) => {
    const near = fround(half * fround(cfa[i - step] + cfa[i + step]));
    const far = fround(fround(0.25) * fround(cfa[i - 2 * step] + cfa[i + 2 * step]));
    return fround(fround(near + fround(half * cfa[i])) - far);
  };
  // Differences of colour: 0 where green was measured.
  const [overRows, overColumns] = [new Float32Array(cfa.length), new Float32Array(cfa.length)];
  each(2, (i, x, y) => {
    if (isGreen(x, y)) {
      across[i] = down[i] = cfa[i];
      return;
    }
    across[i] = along(i, 1);
    down[i] = along(i, width);
    overRows[i] = fround(cfa[i] - across[i]);
    overColumns[i] = fround(cfa[i] - down[i]);
  });
  const [roughRows, roughColumns] = [new Float32Array(cfa.length), new Float32Array(cfa.length)];
  each(4, (i) => {
    roughRows[i] = abs(fround(overRows[i] - overRows[i + 2]));
    roughColumns[i] = abs(fround(overColumns[i] - overColumns[i + 2 * width]));
  });
  const red = new Float32Array(cfa.length);
  const green = new Float32Array(cfa.length);
  const blue = new Float32Array(cfa.length);
  /** How far the row is believed rather than the column, 0..1. */
  const share = new Float32Array(cfa.length);
  each(6, (i) => {
    const rows = roughness(roughRows, i, 1, width);
    const columns = roughness(roughColumns, i, width, 1);
    share[i] = columns / fround(rows + columns);
    green[i] = fround(down[i] + fround(share[i] * fround(across[i] - down[i])));
  });
  const mean = (plane: Float32Array, i: number, step: number) =>
    fround(half * fround(plane[i - step] + plane[i + step]));
  const planes = [red, green, blue];
  each(6, (i, x, y) => (planes[mosaicColour(pattern, x, y)][i] = cfa[i]));
  each(7, (i, x, y) => {
    if (!isGreen(x, y)) return;
    const beside = mosaicColour(pattern, x + 1, y);
    const [h, v] = [planes[beside], planes[2 - beside]];
    h[i] = fround(fround(green[i] + mean(h, i, 1)) - mean(green, i, 1));
    v[i] = fround(fround(green[i] + mean(v, i, width)) - mean(green, i, width));
  });
  each(8, (i, x, y) => {
    const own = mosaicColour(pattern, x, y);
    if (own === 1) return;
    const [mine, other] = [planes[own], planes[2 - own]];
    const h = fround(mean(other, i, 1) - mean(mine, i, 1));
    const v = fround(mean(other, i, width) - mean(mine, i, width));
    other[i] = fround(mine[i] + fround(v + fround(share[i] * fround(h - v))));
  });
  refine(planes, pattern, share, width, each);
  const codes = new Uint16Array((width - 2 * DEMOSAIC_REACH) * (height - 2 * DEMOSAIC_REACH) * 3);
  let to = 0;
  each(DEMOSAIC_REACH, (i) => planes.forEach((plane) => (codes[to++] = becomes[lightCode(plane[i])])));
  return codes;
}

/** Linear light as a code. */
export const lightCode = (light: number): number => Math.round(Math.min(1, Math.max(0, light)) * CODE_MAX);

/** How much a colour difference changes along a direction and beside it, squared; never 0. */
function roughness(rough: Float32Array, i: number, step: number, other: number): number {
  const near = fround(rough[i] + rough[i - 2 * step]);
  const beside = fround(rough[i - 2 * other] + rough[i + 2 * other]);
  const before = fround(rough[i - 2 * step - 2 * other] + rough[i - 2 * step + 2 * other]);
  const corner = fround(rough[i - step - other] + rough[i - step + other]);
  const sum = fround(fround(fround(3 * near) + fround(beside + before)) + corner);
  return fround(fround(sum * sum) + LEAST);
}

type Each = (margin: number, does: (i: number, x: number, y: number) => void) => void;

function refine(
  planes: readonly Float32Array[],
  pattern: readonly number[],
  share: Float32Array,
  width: number,
  each: Each,
): void {
  const green = planes[1];
  /** The mean of p − q over three samples along the direction. */
  const smooth = (p: Float32Array, q: Float32Array, i: number) => {
    const ends = (step: number) => fround(fround(p[i - step] - q[i - step]) + fround(p[i + step] - q[i + step]));
    const [h, v] = [ends(1), ends(width)];
    return fround(third * fround(fround(v + fround(share[i] * fround(h - v))) + fround(p[i] - q[i])));
  };
  const between = (p: Float32Array, i: number, step: number) => {
    const ends = fround(fround(p[i - step] - green[i - step]) + fround(p[i + step] - green[i + step]));
    return fround(green[i] + fround(half * ends));
  };
  each(8, (i, x, y) => {
    const own = mosaicColour(pattern, x, y);
    if (own !== 1) green[i] = fround(planes[own][i] - smooth(planes[own], green, i));
  });
  each(9, (i, x, y) => {
    if (mosaicColour(pattern, x, y) !== 1) return;
    const beside = mosaicColour(pattern, x + 1, y);
    planes[beside][i] = between(planes[beside], i, 1);
    planes[2 - beside][i] = between(planes[2 - beside], i, width);
  });
  each(10, (i, x, y) => {
    const own = mosaicColour(pattern, x, y);
    if (own === 1) return;
    const [mine, other] = [planes[own], planes[2 - own]];
    other[i] = fround(mine[i] + smooth(other, mine, i));
  });
}
