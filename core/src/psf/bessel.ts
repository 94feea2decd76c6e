/**
 * Bessel function J₁. Polynomial approximations, error below 1.3e-7 for |x| ≤ 3 and 9e-8·√(1/x) beyond.
 * Source: Abramowitz & Stegun (1964), 9.4.4 and 9.4.6.
 */
export function besselJ1(x: number): number {
  const size = Math.abs(x);
  if (size <= 3) {
    const t = (size / 3) ** 2;
    return (
      x *
      (0.5 +
        t *
          (-0.56249985 + t * (0.21093573 + t * (-0.03954289 + t * (0.00443319 + t * (-0.00031761 + t * 0.00001109))))))
    );
  }
  const t = 3 / size;
  const f =
    0.79788456 +
    t * (0.00000156 + t * (0.01659667 + t * (0.00017105 + t * (-0.00249511 + t * (0.00113653 - t * 0.00020033)))));
  const theta =
    size -
    2.35619449 +
    t * (0.12499612 + t * (0.0000565 + t * (-0.00637879 + t * (0.00074348 + t * (0.00079824 - t * 0.00029166)))));
  return (Math.sign(x) * f * Math.cos(theta)) / Math.sqrt(size);
}
