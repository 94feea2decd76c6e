import { createPlane } from '../../picture/plane';
import type { Region } from '../../picture/region';
import type { RecoverySettings } from '../../recover/recovery';
import type { FieldPart } from './fieldPart';
import type { Prescription, SizePlace } from '../prescription';

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

/** The sizes of a prescription, or null where one size holds: measured so, or set by hand. */
export function sizeFieldOf(prescription: Prescription, settings: RecoverySettings): SizeField | null {
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

/** A rung of at most this size is sharp already: there the original stays. */
const SHARP_PX = 2.2;

/** The rungs that hold somewhere in `region` of the frame: between two they share. */
export function rungsOver(field: SizeField, settings: RecoverySettings, region: Region): FieldPart[] {
  const { width, height } = region;
  const rungs = rungMap(field, region.x, region.y, width, height);
  let [low, high] = [Infinity, -Infinity];
  for (const rung of rungs) {
    low = Math.min(low, rung);
    high = Math.max(high, rung);
  }
  return field.ladder.flatMap((blurSizePx, rung) => {
    if (rung <= low - 1 || rung >= high + 1) return [];
    const share = createPlane(width, height);
    for (let i = 0; i < rungs.length; i++) share.data[i] = Math.max(0, 1 - Math.abs(rungs[i] - rung));
    return [{ settings: blurSizePx > SHARP_PX ? { ...settings, blurSizePx } : null, share }];
  });
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
