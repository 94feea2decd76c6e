import type { Reading } from '../read/reading';
import type { Method } from '../recover/blurModel';
import type { AcceptedReading, Recovery } from './prescription';

const auto = (value: number) => ({ value, auto: true });

/** The part of a reading that a prescription keeps. */
export function acceptReading(reading: Reading): AcceptedReading {
  return {
    method: reading.cause?.method ?? null,
    blurSizePx: reading.cause?.blurSizePx ?? 0,
    directionDeg: reading.cause?.directionDeg ?? 0,
    auto: true,
    noise: reading.noise,
    noiseFloor: reading.floor,
    sizes: reading.sizes,
  };
}

/** Blur size where the reading found another cause, or none. */
const USUAL_SIZE_PX: Record<Method, number> = {
  'ordinary-softness': 2,
  'missed-focus': 4,
  'straight-movement': 6,
  'edge-contrast': 2,
};

/** Halo limit on Automatic, % of the neighbourhood's range. */
const HALO_LIMIT_PERCENT: Record<Method, number> = {
  'ordinary-softness': 10,
  'missed-focus': 10,
  'straight-movement': 20,
  'edge-contrast': 5,
};

/** A method with every setting on Automatic: taken from the reading. */
export function automaticRecovery(method: Method, reading: AcceptedReading | null, amount: number): Recovery {
  const fits = reading?.method === method;
  return {
    method,
    amount: auto(amount),
    blurSizePx: auto(fits ? round(reading.blurSizePx) : USUAL_SIZE_PX[method]),
    directionDeg: auto(fits ? round(reading.directionDeg) : 0),
    noiseGuard: auto(50),
    haloLimitPercent: HALO_LIMIT_PERCENT[method],
    grainKeptPercent: auto(0),
  };
}

const round = (value: number) => Math.round(value * 10) / 10;
