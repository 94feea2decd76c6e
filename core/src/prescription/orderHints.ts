import type { Size } from '../picture/region';
import { isBlurMethod } from '../methods';
import { noiseToCleanPercent } from './cleaning';
import { isRecovered, plansOf } from './masks';
import type { Prescription } from './prescription';

/** What was done, or is about to be done, in an order that costs quality. */
export type OrderHint =
  | 'sharpened-before'
  | 'cleaned-before'
  | 'blocks'
  | 'cropped-before'
  | 'texture-over-recovery'
  | 'contrast-over-recovery'
  | 'enlarged-far';

/** From here sharp edges overshoot on both sides as only sharpening makes them; see docs/methods/read.md. */
const SHARPENED_FROM_PERCENT = 5;
/** From here JPEG's blocks show in plain places. */
const BLOCKS_FROM = 0.3;
/**
 * Noise at mid-tone that a large sensor leaves at ISO 6400, %; it grows with the root of ISO. Common practice, no
 * source.
 */
const NOISE_AT_6400 = 1.5;
/** Less than this share of it no camera leaves: the file was cleaned, or made smaller. */
const LEAST_SHARE = 0.25;
const LEAST_ISO = 800;
/** Ratios of the sides that cameras make, the long one first. */
const SIDES = [3 / 2, 4 / 3, 16 / 9, 1, 5 / 4];
const SIDES_OFF = 0.01;

export function orderHints(prescription: Prescription, frame: Size, iso: number | null): OrderHint[] {
  const { reading } = prescription;
  const traces = reading?.measured.traces;
  const hints: OrderHint[] = [];
  if ((traces?.overshootPercent ?? 0) >= SHARPENED_FROM_PERCENT) hints.push('sharpened-before');
  if ((traces?.blocking ?? 0) >= BLOCKS_FROM) hints.push('blocks');
  if (reading && iso !== null && iso >= LEAST_ISO) {
    const expected = NOISE_AT_6400 * Math.sqrt(iso / 6400);
    if (noiseToCleanPercent(reading) < LEAST_SHARE * expected) hints.push('cleaned-before');
  }
  const ratio = Math.max(frame.width, frame.height) / Math.min(frame.width, frame.height);
  if (SIDES.every((usual) => Math.abs(ratio / usual - 1) > SIDES_OFF)) hints.push('cropped-before');
  if (isTextureOverRecovery(prescription)) hints.push('texture-over-recovery');
  if (isContrastOverRecovery(prescription)) hints.push('contrast-over-recovery');
  if ((prescription.geometry?.enlarge ?? 1) > MUCH_ENLARGED) hints.push('enlarged-far');
  return hints;
}

/** Enlarged by more, a picture holds no more detail than before. Common practice, no source. */
export const MUCH_ENLARGED = 4;
/** From here local contrast shows at edges that were just recovered. */
const STRONG_CONTRAST = 30;

function isContrastOverRecovery(prescription: Prescription): boolean {
  const { finishing } = prescription;
  if (!finishing || !isRecovered(prescription)) return false;
  return [finishing, ...finishing.localChanges].some(({ localContrast }) => localContrast >= STRONG_CONTRAST);
}

/** Contrast without a blur model lies over a recovery with one: where both act edges are strengthened twice. */
function isTextureOverRecovery(prescription: Prescription): boolean {
  let isRecoveredBelow = false;
  for (const { recovery } of plansOf(prescription)) {
    if (!recovery) continue;
    if (isBlurMethod(recovery.method)) isRecoveredBelow = true;
    else if (isRecoveredBelow) return true;
  }
  return false;
}
