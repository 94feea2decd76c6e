import type { Plane } from '../picture/plane';
import type { RecoveryEffort, RecoveryInput, RecoverySettings } from '../recover/recover';
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
const RUNG_RATIO = 1.35;
/** How fast a place's say falls with distance, px. */
const SPREAD_PX = 140;

/** The field of a prescription, or null where one size holds: measured so, or set by hand. */
export function fieldOf(prescription: Prescription, settings: RecoverySettings): SizeField | null {
  const { reading, recovery } = prescription;
  const automatic = recovery?.blurSizePx.auto === true && reading?.auto === true;
  if (!automatic || reading.method !== settings.method || reading.sizes.length < 2) return null;
  const sizes = reading.sizes.map((place) => Math.max(LEAST_SIZE_PX, place.blurSizePx));
  const ladder = [Math.min(...sizes)];
  while (ladder[ladder.length - 1] < Math.max(...sizes) / 1.02) ladder.push(ladder[ladder.length - 1] * RUNG_RATIO);
  return { places: reading.sizes, ladder };
}

/** Size at a place of the frame: the geometric mean of the measured ones, weighted by nearness. */
export function sizeAt({ places }: SizeField, x: number, y: number): number {
  let sum = 0;
  let weights = 0;
  for (const place of places) {
    const squared = ((x - place.x) ** 2 + (y - place.y) ** 2) / (SPREAD_PX * SPREAD_PX);
    const weight = 1 / (0.05 + squared * squared);
    sum += weight * Math.log(Math.max(LEAST_SIZE_PX, place.blurSizePx));
    weights += weight;
  }
  return Math.exp(sum / weights);
}

type Recover = (input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort) => Plane[];

/** Recovers with one size, or with the rungs that the area needs, blended px by px. */
export function recoverOverField(
  input: RecoveryInput,
  settings: RecoverySettings,
  field: SizeField | null,
  effort: RecoveryEffort,
  recover: Recover,
): Plane[] {
  if (!field) return recover(input, settings, effort);
  const { width, height } = input.known;
  const rungs = rungMap(field, input.originX, input.originY, width, height);
  const out = input.channels.map((channel) => ({ ...channel, data: new Float32Array(channel.data.length) }));
  field.ladder.forEach((blurSizePx, rung) => {
    if (!rungs.some((value) => Math.abs(value - rung) < 1)) return;
    const answer = recover(input, { ...settings, blurSizePx }, effort);
    answer.forEach((plane, c) => {
      for (let i = 0; i < rungs.length; i++) {
        const weight = 1 - Math.abs(rungs[i] - rung);
        if (weight > 0) out[c].data[i] += weight * plane.data[i];
      }
    });
  });
  return out;
}

const STEP = 16;

/** Place on the ladder (0 first rung, fractions between) of every sample; sizes are taken every 16 px of the frame. */
function rungMap(field: SizeField, originX: number, originY: number, width: number, height: number): Float32Array {
  const rungAt = (x: number, y: number) => {
    const rung = Math.log(sizeAt(field, x, y) / field.ladder[0]) / Math.log(RUNG_RATIO);
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
