import type { Reading } from '../read/reading';
import { isBlurMethod, METHOD_DESCRIPTIONS, MOST_BLUR_PX, type Method } from '../methods';
import { cleanedEverywhere } from './cleaning';
import type { AcceptedReading, Cleaning, MeasuredOver, Recovery } from './prescription';

const auto = (value: number) => ({ value, auto: true });

/** The part of a reading that a prescription keeps. */
export function acceptReading(reading: Reading, over: MeasuredOver): AcceptedReading {
  const { cause, runnerUp } = reading;
  const found = {
    method: cause?.method ?? null,
    blurSizePx: cause?.blurSizePx ?? 0,
    directionDeg: cause?.directionDeg ?? 0,
  };
  return {
    ...found,
    auto: true,
    noise: reading.noise,
    noiseFloor: reading.floor,
    // Readings kept from before these were measured have none.
    ...(reading.grain ? { grain: reading.grain } : {}),
    ...(reading.hidesNoise ? { hidesNoise: true } : {}),
    ...(cause?.path || runnerUp?.path ? { path: cause?.path ?? runnerUp?.path } : {}),
    sizes: reading.sizes,
    measured: {
      ...found,
      over,
      confidence: reading.confidence,
      runnerUp: runnerUp?.method ?? null,
      runnerUpSizePx: runnerUp?.blurSizePx ?? 0,
      runnerUpDirectionDeg: runnerUp?.directionDeg ?? 0,
      noisePercent: reading.noisePercent,
      ...(reading.traces ? { traces: reading.traces } : {}),
      clippedWhitePercent: reading.clippedWhitePercent,
      clippedBlackPercent: reading.clippedBlackPercent,
      signal: reading.signal,
      finestNowPx: reading.finestNowPx,
      finestRecoverablePx: reading.finestRecoverablePx,
      pile: reading.pile,
      ...(reading.leftAlone ? { leftAlone: reading.leftAlone } : {}),
    },
  };
}

/** Back from what the hand overruled to what was measured. */
export function backToMeasured(reading: AcceptedReading): AcceptedReading {
  const { method, blurSizePx, directionDeg } = reading.measured;
  return { ...reading, method, blurSizePx, directionDeg, auto: true };
}

/** Noise guard on Automatic: the measured noise, or what cleaning left of it. */
export function guardAfter(cleaning: Cleaning | null): number {
  return Math.round(50 - CLEANED_GUARD * cleanedEverywhere(cleaning));
}

/** By how much a wholly cleaned frame lowers the guard: measured, see docs/methods/clean.md. */
const CLEANED_GUARD = 18;

/** A method with every setting on Automatic: taken from the reading, or from its runner-up where that is the method. */
export function automaticRecovery(
  method: Method,
  reading: AcceptedReading | null,
  amount: number,
  cleaning: Cleaning | null = null,
): Recovery {
  const { blurSizePx, directionDeg } = sizeFor(method, reading);
  return {
    method,
    amount: auto(amount),
    blurSizePx: auto(sizeWithin(round(blurSizePx))),
    directionDeg: auto(round(directionDeg)),
    noiseGuard: auto(guardAfter(cleaning)),
    haloLimitPercent: METHOD_DESCRIPTIONS[method].haloLimitPercent((reading?.sizes.length ?? 0) > 0),
    grainKeptPercent: auto(0),
    ...(isBlurMethod(method) ? { learnedTexture: true } : {}),
    ...(METHOD_DESCRIPTIONS[method].followsPath && reading?.path ? { path: reading.path } : {}),
  };
}

function sizeFor(method: Method, reading: AcceptedReading | null): { blurSizePx: number; directionDeg: number } {
  if (reading?.method === method) return reading;
  if (reading?.measured.runnerUp === method) {
    return { blurSizePx: reading.measured.runnerUpSizePx, directionDeg: reading.measured.runnerUpDirectionDeg };
  }
  return { blurSizePx: METHOD_DESCRIPTIONS[method].usualSizePx, directionDeg: 0 };
}

const round = (value: number) => Math.round(value * 10) / 10;

/** A setting's range; a reading of a sharp frame may lie below it. */
const sizeWithin = (value: number) => Math.min(MOST_BLUR_PX, Math.max(0.3, value));
