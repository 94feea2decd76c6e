import type { NoiseLine } from '../read/noise';

/**
 * Generalised Anscombe transform: (2/a)·√(a·y + ⅜a² + b), after which noise of variance a·y + b has variance near 1.
 * With a = 0 it is y/√b.
 * Source: Starck, Murtagh, Bijaoui (1998); Mäkitalo & Foi, IEEE TIP 22 (2013).
 */
export function stabilise(y: number, { a, b }: NoiseLine): number {
  if (a < 1e-9) return y / Math.sqrt(Math.max(b, 1e-12));
  return (2 / a) * Math.sqrt(Math.max(0, a * y + 0.375 * a * a + b));
}

/**
 * The exact unbiased inverse in its closed form: (a/4)D² + (a/4)√(3/2)/D − (11/8)a/D² + (5/8)√(3/2)a/D³ − a/8 − b/a.
 * Source: Mäkitalo & Foi, "A closed-form approximation of the exact unbiased inverse of the Anscombe variance-stabilizing
 * transformation", IEEE TIP 20 (2011), carried to the generalised transform by the scaling y → (y·a) − b/a.
 */
export function unstabilise(d: number, { a, b }: NoiseLine): number {
  if (a < 1e-9) return d * Math.sqrt(Math.max(b, 1e-12));
  const size = Math.max(d, 2 * Math.sqrt(0.375));
  const inverse = size / 2;
  const counts =
    inverse * inverse +
    (0.25 * Math.sqrt(1.5)) / size -
    1.375 / (size * size) +
    (0.625 * Math.sqrt(1.5)) / (size * size * size) -
    0.125;
  return a * Math.max(0, counts) - b / a;
}
