import { cropPlane } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, wholeOf, type Region } from '../picture/region';
import {
  cleanedFirst,
  reachOfRecovery,
  type Recovered,
  type RecoveryEffort,
  type RecoveryInput,
  type RecoverySettings,
} from '../recover/recover';
import { psfOf } from '../recover/blurModel';
import { normalisedPsf } from '../psf/psf';
import type { BlurPart } from '../audit/blurOver';
import type { Prescription, SizePlace } from './prescription';

/**
 * A blur whose size changes over the subject: the sizes measured at places, spread smoothly, and the ladder of sizes
 * that are solved for; between two rungs their answers are blended, so no seam shows.
 */
export interface SizeField {
  readonly places: readonly SizePlace[];
  readonly ladder: readonly number[];
}

const LEAST_SIZE_PX = 1;
const RUNG_RATIO = 1.45;
/** How fast a place's say falls with distance, px. */
const SPREAD_PX = 20;

/** The field of a prescription, or null where one size holds: measured so, or set by hand. */
export function fieldOf(prescription: Prescription, settings: RecoverySettings): SizeField | null {
  const { reading, recovery } = prescription;
  const automatic = recovery?.blurSizePx.auto === true && reading?.auto === true;
  if (!automatic || reading.method !== settings.method || reading.sizes.length < 2) return null;
  // Farther out of focus than the middle of the subject there is little to be had and much to be invented.
  const most = Math.max(LEAST_SIZE_PX, settings.blurSizePx);
  const places = reading.sizes.map((place) => ({
    ...place,
    blurSizePx: Math.min(most, Math.max(LEAST_SIZE_PX, place.blurSizePx)),
  }));
  const sizes = places.map((place) => place.blurSizePx);
  const ladder = [Math.min(...sizes)];
  while (ladder[ladder.length - 1] < Math.max(...sizes) / 1.02) ladder.push(ladder[ladder.length - 1] * RUNG_RATIO);
  return { places, ladder };
}

/** Places farther away than this have no say where nearer ones have. */
const FARTHEST_SAY_PX = 8 * SPREAD_PX;

/**
 * Size at a place of the frame: the geometric mean of the measured ones, weighted by nearness.
 *
 * @param near - All places that may have a say there; the same answer, sooner.
 */
export function sizeAt({ places }: SizeField, x: number, y: number, near = places): number {
  return meanSize(near, x, y, FARTHEST_SAY_PX) ?? meanSize(places, x, y, Infinity)!;
}

function meanSize(places: readonly SizePlace[], x: number, y: number, farthest: number): number | null {
  let sum = 0;
  let weights = 0;
  for (const place of places) {
    const squared = (place.x - x) ** 2 + (place.y - y) ** 2;
    if (squared > farthest * farthest) continue;
    const apart = squared / (SPREAD_PX * SPREAD_PX);
    const weight = 1 / (0.05 + apart * apart);
    sum += weight * Math.log(place.blurSizePx);
    weights += weight;
  }
  return weights > 0 ? Math.exp(sum / weights) : null;
}

type Recover = (input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort) => Recovered;

/** A rung of at most this size is sharp already: there the original stays. */
const SHARP_PX = 2.2;
const POINT = normalisedPsf(1, 1, [1]);

/**
 * Recovers `inner` (a part of the input, in its samples) with one size, or rung by rung, blended px by px. Each rung is
 * solved only where it is needed, with as much around it as its own blur asks for.
 */
export function recoverOverField(
  given: RecoveryInput,
  settings: RecoverySettings,
  field: SizeField | null,
  inner: Region,
  effort: RecoveryEffort,
  recover: Recover,
): Recovered {
  const input = cleanedFirst(given, settings, effort.kernels);
  if (!field) {
    const { answer, free, believed } = recover(input, settings, effort);
    const cut = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, inner));
    return { answer: cut(answer), free: cut(free), believed: cropPlane(believed, inner) };
  }
  const { width, height } = inner;
  const rungs = rungMap(field, input.originX + inner.x, input.originY + inner.y, width, height);
  const empty = () => input.channels.map(() => createPlane(width, height));
  const out = { answer: empty(), free: empty(), believed: createPlane(width, height) };
  field.ladder.forEach((blurSizePx, rung) => {
    const part = boundsOf(rungs, width, height, rung);
    if (!part) return;
    const wanted = { ...part, x: part.x + inner.x, y: part.y + inner.y };
    const sized = { ...settings, blurSizePx };
    const seen = intersect(grow(wanted, reachOfRecovery(sized, undefined, effort)), wholeOf(input.known));
    const solved = blurSizePx > SHARP_PX ? recover(cropInput(input, seen), sized, effort) : null;
    const says = saysOf(rungs, width, part, rung);
    const add = (to: Plane, answer: Plane | undefined, original: Plane) =>
      addWeighted(to, part, says, answer ? [answer, seen] : [original, wholeOf(original)], wanted);
    add(out.believed, solved?.believed, input.known);
    input.channels.forEach((original, c) => {
      add(out.answer[c], solved?.answer[c], original);
      add(out.free[c], solved?.free[c], original);
    });
  });
  return out;
}

/** The blurs over `region` of the frame, each with its share at every sample: as `recoverOverField` blends them. */
export function blurPartsOver(field: SizeField, settings: RecoverySettings, region: Region): BlurPart[] {
  const { width, height } = region;
  const rungs = rungMap(field, region.x, region.y, width, height);
  return field.ladder.flatMap((blurSizePx, rung) => {
    if (!boundsOf(rungs, width, height, rung)) return [];
    const share = createPlane(width, height);
    for (let i = 0; i < rungs.length; i++) share.data[i] = Math.max(0, 1 - Math.abs(rungs[i] - rung));
    return [{ psf: blurSizePx > SHARP_PX ? psfOf({ ...settings, blurSizePx }) : POINT, share }];
  });
}

/** How far a rung counts at every sample of `part`: between two rungs they share. */
function saysOf(rungs: Float32Array, width: number, part: Region, rung: number): Float32Array {
  const says = new Float32Array(part.width * part.height);
  for (let y = 0, i = 0; y < part.height; y++) {
    const from = (part.y + y) * width + part.x;
    for (let x = 0; x < part.width; x++, i++) says[i] = Math.max(0, 1 - Math.abs(rungs[from + x] - rung));
  }
  return says;
}

/** Adds `says` times a plane to the part of `to`. The plane covers a region in whose samples `wanted`, of the part's size, is given. */
function addWeighted(
  to: Plane,
  part: Region,
  says: Float32Array,
  [plane, covered]: readonly [Plane, Region],
  wanted: Region,
): void {
  const [sums, values] = [to.data, plane.data];
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = (part.y + y) * to.width + part.x;
    const from = (wanted.y + y - covered.y) * plane.width + wanted.x - covered.x;
    for (let x = 0; x < part.width; x++, i++) if (says[i] > 0) sums[row + x] += says[i] * values[from + x];
  }
}

/** Where a rung has a say; null where nowhere. */
function boundsOf(rungs: Float32Array, width: number, height: number, rung: number): Region | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (Math.abs(rungs[i] - rung) >= 1) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  }
  return right < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

function cropInput(input: RecoveryInput, seen: Region): RecoveryInput {
  const clipped = new Uint8Array(seen.width * seen.height);
  for (let row = 0; row < seen.height; row++) {
    const from = (seen.y + row) * input.known.width + seen.x;
    clipped.set(input.clipped.subarray(from, from + seen.width), row * seen.width);
  }
  return {
    ...input,
    channels: input.channels.map((channel) => cropPlane(channel, seen)),
    clean: input.clean?.map((channel) => cropPlane(channel, seen)),
    known: cropPlane(input.known, seen),
    clipped,
    originX: input.originX + seen.x,
    originY: input.originY + seen.y,
  };
}

const STEP = 16;

/** Place on the ladder (0 first rung, fractions between) of every sample; sizes are taken every 16 px of the frame. */
function rungMap(field: SizeField, originX: number, originY: number, width: number, height: number): Float32Array {
  const reach = FARTHEST_SAY_PX + STEP;
  const near = field.places.filter(
    ({ x, y }) =>
      x > originX - reach && x < originX + width + reach && y > originY - reach && y < originY + height + reach,
  );
  const rungAt = (x: number, y: number) => {
    const rung = Math.log(sizeAt(field, x, y, near) / field.ladder[0]) / Math.log(RUNG_RATIO);
    return Math.min(field.ladder.length - 1, Math.max(0, rung));
  };
  const left = Math.floor(originX / STEP);
  const top = Math.floor(originY / STEP);
  const columns = Math.ceil((originX + width) / STEP) - left + 1;
  const rows = Math.ceil((originY + height) / STEP) - top + 1;
  const knots = Float64Array.from({ length: columns * rows }, (_, i) =>
    rungAt((left + (i % columns)) * STEP, (top + Math.floor(i / columns)) * STEP),
  );
  const map = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = (originY + y) / STEP - top;
    const row = Math.floor(v);
    for (let x = 0; x < width; x++) {
      const u = (originX + x) / STEP - left;
      const column = Math.floor(u);
      const at = row * columns + column;
      const upper = knots[at] + (knots[at + 1] - knots[at]) * (u - column);
      const lower = knots[at + columns] + (knots[at + columns + 1] - knots[at + columns]) * (u - column);
      map[y * width + x] = upper + (lower - upper) * (v - row);
    }
  }
  return map;
}
