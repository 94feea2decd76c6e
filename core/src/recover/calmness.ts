import { boxMean } from '../picture/boxMean';
import type { Plane } from '../picture/plane';

/** Variance of brightness around a place, linear light, at which an estimated path's error halves the trust. Measured on
 * 0536 and 0703: 0.06 left stripes beside a highlight, 0.01 half of what was to be had. */
const PLAIN_CONTRAST = 0.03;
/**
 * The same where clipped light takes this share of what lies around, or more: at 0.03 an error drew a dark stripe
 * beside 0536's highlight.
 */
const CONTRAST_BESIDE_WHITE = 0.012;
const FULLY_BESIDE = 0.02;
/**
 * An estimated path is a little wrong, and its error grows with the contrast around: beside a highlight the data are
 * believed less, or the error would draw stripes there. Least beside clipped light, whose true strength nobody knows.
 */
export function calmness(luma: Plane, clipped: Uint8Array, reach: number): Plane {
  const mean = boxMean(luma, reach).data;
  const squares = boxMean({ ...luma, data: luma.data.map((value) => value * value) }, reach);
  const white = clipped.includes(1) ? boxMean({ ...luma, data: Float32Array.from(clipped) }, reach).data : null;
  return {
    ...squares,
    data: squares.data.map((square, i) => {
      const beside = white ? Math.min(1, white[i] / FULLY_BESIDE) : 0;
      const plain = PLAIN_CONTRAST + beside * (CONTRAST_BESIDE_WHITE - PLAIN_CONTRAST);
      return 1 / (1 + ((square - mean[i] * mean[i]) / plain) ** 2);
    }),
  };
}
