import { createPlane, type Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { halvedPsf } from '../psf/halvedPsf';
import type { Psf } from '../psf/psf';
import type { RecoveryInput, RecoverySettings } from './recovery';

/**
 * A badly soft picture is recovered at half its size: what it shows is no finer, and there noise is half and blur half
 * as wide.
 */
export const REDUCED = 2;
/**
 * Of the variance of noise, what the mean of four samples leaves: of white noise a quarter, of noise that neighbours
 * share more.
 */
const WHITE_LEFT = 0.25;
const SHARED_LEFT = 0.5;

/** px more around a tile, so that its blocks and what is brought up from them are the frame's. */
export const REACH_OF_REDUCING = 8;

export function reducedSettings(settings: RecoverySettings): RecoverySettings {
  const left = settings.hidesNoise || settings.grain ? SHARED_LEFT : WHITE_LEFT;
  return {
    ...settings,
    badlySoft: false,
    grainKeptPercent: 0,
    grain: undefined,
    blurSizePx: settings.blurSizePx / REDUCED,
    noiseFloor: settings.noiseFloor.map((variance) => left * variance),
    noise: settings.noise.map(({ a, b }) => ({ a: left * a, b: left * b })),
  };
}

/** Means of blocks of 2 × 2 px of the frame, whatever the tile; beyond its ends the last samples go on. */
export function reducedInput(input: RecoveryInput, psf: Psf): RecoveryInput {
  const { channels, known, clipped, originX, originY, shown } = input;
  const blocks = blocksOf(channels[0], originX, originY);
  const means = (planes: readonly Plane[]) => planes.map((plane) => reducedBy(plane, blocks, meanOfFour));
  const flags = { ...known, data: Float32Array.from(clipped) };
  const anyClipped = reducedBy(flags, blocks, Math.max);
  return {
    ...input,
    channels: means(channels),
    clean: input.clean && means(input.clean),
    known: reducedBy(known, blocks, Math.min),
    clipped: Uint8Array.from(anyClipped.data),
    originX: Math.floor(originX / REDUCED),
    originY: Math.floor(originY / REDUCED),
    psf: reducedPsf(psf),
    shown: shown && reducedRegion(shown, blocks),
  };
}

interface Blocks {
  readonly width: number;
  readonly height: number;
  /** Of the first sample within its block, 0 or 1. */
  readonly offX: number;
  readonly offY: number;
}

function blocksOf({ width, height }: Plane, originX: number, originY: number): Blocks {
  const odd = (value: number) => value - REDUCED * Math.floor(value / REDUCED);
  const [offX, offY] = [odd(originX), odd(originY)];
  return { offX, offY, width: Math.ceil((width + offX) / REDUCED), height: Math.ceil((height + offY) / REDUCED) };
}

const meanOfFour = (a: number, b: number, c: number, d: number) => (a + b + c + d) / 4;

function reducedBy(
  plane: Plane,
  { width, height, offX, offY }: Blocks,
  of: (a: number, b: number, c: number, d: number) => number,
): Plane {
  const out = createPlane(width, height);
  const { data } = plane;
  const within = (value: number, length: number) => Math.min(length - 1, Math.max(0, value));
  for (let y = 0, i = 0; y < height; y++) {
    const upper = within(REDUCED * y - offY, plane.height) * plane.width;
    const lower = within(REDUCED * y - offY + 1, plane.height) * plane.width;
    for (let x = 0; x < width; x++, i++) {
      const left = within(REDUCED * x - offX, plane.width);
      const right = within(REDUCED * x - offX + 1, plane.width);
      out.data[i] = of(data[upper + left], data[upper + right], data[lower + left], data[lower + right]);
    }
  }
  return out;
}

function reducedRegion({ x, y, width, height }: Region, { offX, offY }: Blocks): Region {
  const from = (value: number, off: number) => Math.floor((value + off) / REDUCED) - AROUND;
  const to = (value: number, off: number) => Math.ceil((value + off) / REDUCED) + AROUND;
  const [left, top] = [from(x, offX), from(y, offY)];
  return { x: left, y: top, width: to(x + width, offX) - left, height: to(y + height, offY) - top };
}

/** Samples beyond a region that bringing it up looks at. */
const AROUND = 2;

export function reducedPsf(psf: Psf): Psf {
  const side = (length: number) => 2 * (Math.ceil((length - 1) / 2 / REDUCED) + 1) + 1;
  return halvedPsf(psf, side(psf.width), side(psf.height));
}

/** Catmull–Rom's cubic a quarter of a sample before and after one. */
const BEFORE = [-0.0234375, 0.2265625, 0.8671875, -0.0703125];
const AFTER = [-0.0703125, 0.8671875, 0.2265625, -0.0234375];

/** Brings a plane of blocks up to the tile they were made of. */
export function broughtUp(small: Plane, tile: Plane, originX: number, originY: number): Plane {
  const { offX, offY } = blocksOf(tile, originX, originY);
  const rows = createPlane(tile.width, small.height);
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < tile.width; x++) {
      rows.data[y * tile.width + x] = between(small.data, y * small.width, 1, small.width, x + offX);
    }
  }
  const out = createPlane(tile.width, tile.height);
  for (let y = 0; y < tile.height; y++) {
    for (let x = 0; x < tile.width; x++) {
      out.data[y * tile.width + x] = between(rows.data, x, tile.width, small.height, y + offY);
    }
  }
  return out;
}

/** The value at half-size place (at − 0.5) / 2 of a line of `length` samples, `step` apart from `from`. */
function between(data: Float32Array, from: number, step: number, length: number, at: number): number {
  const block = at >> 1;
  const isSecond = (at & 1) === 1;
  const first = block - (isSecond ? 1 : 2);
  const weights = isSecond ? AFTER : BEFORE;
  let sum = 0;
  for (let k = 0; k < 4; k++) sum += weights[k] * data[from + step * Math.min(length - 1, Math.max(0, first + k))];
  return sum;
}
