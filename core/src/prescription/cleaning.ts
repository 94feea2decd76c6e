import { plansOf } from './masks';
import type { Mask } from '../mask/maskOperation';
import { noiseAtMidTonePercent } from '../noise/noise';
import { REC709_WEIGHTS } from '../picture/toneCurve';
import type { AcceptedReading, Cleaning, Prescription } from './prescription';

const auto = (value: number) => ({ value, auto: true });

/** Grain that is left on Automatic, % of clipping at mid-tone: what a frame at low ISO shows anyway. */
const WANTED_GRAIN_PERCENT = 0.4;
const USUAL_DETAIL_KEPT = 20;
/** Colour noise at twice the scale that stands so far above white noise makes blotches. */
const BLOTCHY = 1.5;

/**
 * Noise of brightness at mid-tone as it is cleaned, % of clipping: grain that is not white is stronger than its finest
 * part.
 */
export function noiseToCleanPercent(reading: AcceptedReading): number {
  const { grain, measured } = reading;
  return grain ? noiseAtMidTonePercent(grain.noise, REC709_WEIGHTS) : measured.noisePercent;
}

/** Every setting on Automatic: as much noise as was measured, a little of it kept. */
export function automaticCleaning(reading: AcceptedReading | null): Cleaning {
  const noise = reading ? noiseToCleanPercent(reading) : 0;
  const kept = noise > 0 ? Math.round((100 * WANTED_GRAIN_PERCENT) / noise) : USUAL_DETAIL_KEPT;
  const isBlotchy = (reading?.grain?.colourByScale[0] ?? 1) > BLOTCHY;
  return {
    luminance: auto(100),
    colour: auto(100),
    blotchPx: auto(isBlotchy ? 16 : 8),
    detailKept: auto(Math.min(50, Math.max(10, kept))),
    channelPercents: (reading?.noise ?? []).map(() => 100),
    band: null,
    maskId: null,
  };
}

/**
 * Share of the noise of brightness that is taken out everywhere, 0..1; where only a part of the frame is cleaned, none.
 */
export function cleanedEverywhere(cleaning: Cleaning | null): number {
  if (!cleaning || cleaning.band || cleaning.maskId) return 0;
  const { luminance, detailKept, channelPercents } = cleaning;
  const least = Math.min(100, ...channelPercents) / 100;
  return Math.min(1, luminance.value / 100) * (1 - detailKept.value / 100) * least;
}

/** The mask that limits the cleaning; null: none does, the whole frame is cleaned. */
export function maskOfCleaning(prescription: Prescription): Mask | null {
  const id = prescription.cleaning?.maskId ?? null;
  const found = id === null ? undefined : plansOf(prescription).find(({ mask }) => mask.id === id);
  return found && found.mask.operations.length > 0 ? found.mask : null;
}
