import { gaussianBlur } from '../picture/gaussianBlur';
import type { Plane } from '../picture/plane';
import { limitHalos } from './haloLimit';

/** How much of the difference to the smoothed picture is added at full amount. */
const GAIN = 2;

export function edgeContrastReach(blurSizePx: number): number {
  return Math.ceil(blurSizePx * 2.5) + 2;
}

/**
 * Unsharp mask in linear luma with a ceiling on over- and undershoot: y + 2·(y − smoothed y), held to the local range.
 * It models no blur: edges look steeper, nothing is brought back.
 *
 * @param haloLimitPercent - Of the neighbourhood's range; null leaves the overshoot free.
 */
export function edgeContrast(luma: Plane, blurSizePx: number, haloLimitPercent: number | null): Plane {
  const smoothed = gaussianBlur(luma, Math.max(0.3, blurSizePx / 2));
  const result = { ...luma, data: luma.data.map((value, i) => value + GAIN * (value - smoothed.data[i])) };
  if (haloLimitPercent !== null) limitHalos(result, luma, Math.max(1, Math.round(blurSizePx / 2)), haloLimitPercent);
  return result;
}
