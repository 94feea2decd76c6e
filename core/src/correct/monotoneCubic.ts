import type { CurvePoint } from '../prescription/corrections';

/**
 * A curve through points that never falls where they do not: piecewise cubic, each slope limited. Before the first
 * point it is level, after the last it goes on as steeply as it came.
 *
 * @param points - At least two, in order of x.
 * Source: Fritsch & Carlson, "Monotone piecewise cubic interpolation", SIAM J. Numer. Anal. 17 (1980).
 */
export function monotoneCubic(points: readonly CurvePoint[]): (x: number) => number {
  const last = points.length - 1;
  const secants = points.slice(1).map(({ x, y }, i) => (y - points[i].y) / (x - points[i].x));
  const slopes = points.map((_, i) => {
    if (i === 0) return secants[0];
    if (i === last) return secants[last - 1];
    return secants[i - 1] * secants[i] <= 0 ? 0 : (secants[i - 1] + secants[i]) / 2;
  });
  secants.forEach((secant, i) => {
    if (secant === 0) {
      slopes[i] = slopes[i + 1] = 0;
      return;
    }
    const [a, b] = [slopes[i] / secant, slopes[i + 1] / secant];
    const far = Math.hypot(a, b);
    if (far <= 3) return;
    // Beside a piece that hardly rises the limit is level.
    slopes[i] = Number.isFinite(far) ? (3 * a * secant) / far : 0;
    slopes[i + 1] = Number.isFinite(far) ? (3 * b * secant) / far : 0;
  });
  return (x) => {
    if (x <= points[0].x) return points[0].y;
    if (x >= points[last].x) return points[last].y + slopes[last] * (x - points[last].x);
    let i = 0;
    while (x > points[i + 1].x) i++;
    const width = points[i + 1].x - points[i].x;
    const t = (x - points[i].x) / width;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * points[i].y +
      (t3 - 2 * t2 + t) * width * slopes[i] +
      (3 * t2 - 2 * t3) * points[i + 1].y +
      (t3 - t2) * width * slopes[i + 1]
    );
  };
}
