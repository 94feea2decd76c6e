import type { Plane } from '../picture/plane';

/** Correlations that a thousand samples do not make by chance. */
const SIGNIFICANT = 0.1;
const LEAST_SHARE = 0.002;

/** Sums of products of three channels: r·r, g·g, b·b, r·g, r·b, g·b. */
export type Products = Float64Array;

/** Products of the channels' responses over a square. */
export function productsOver([red, green, blue]: readonly Plane[], left: number, top: number, side: number): Products {
  const [r, g, b] = [red.data, green.data, blue.data];
  const sums = new Float64Array(6);
  for (let y = top; y < top + side; y++) {
    for (let i = y * red.width + left, end = i + side; i < end; i++) {
      sums[0] += r[i] * r[i];
      sums[1] += g[i] * g[i];
      sums[2] += b[i] * b[i];
      sums[3] += r[i] * g[i];
      sums[4] += r[i] * b[i];
      sums[5] += g[i] * b[i];
    }
  }
  return sums;
}

/**
 * How much of a channel's summed power is its own. Texture shows in all three channels at once, the noise of a sensor
 * in each by itself: with one thing shared, the covariances tell its part in each, g₁² = c₁₂·c₁₃ / c₂₃, and what is
 * left is noise. Where several things are shared the channels do not agree: the largest of the three answers is given.
 *
 * Source: one factor in three variables, Spearman, American Journal of Psychology 15 (1904).
 */
export function ownPower([rr, gg, bb, rg, rb, gb]: Products, channel: number): number {
  const all = [rr, gg, bb][channel];
  const isShared =
    rg > SIGNIFICANT * Math.sqrt(rr * gg) &&
    rb > SIGNIFICANT * Math.sqrt(rr * bb) &&
    gb > SIGNIFICANT * Math.sqrt(gg * bb);
  if (!isShared) return all;
  const shared = Math.min((rg * rb) / gb / rr, (rg * gb) / rb / gg, (rb * gb) / rg / bb);
  return all * Math.max(LEAST_SHARE, 1 - shared);
}
