import { isBlurMethod, psfOf, type BlurModel } from '../methods';
import { transferAt } from '../psf/transfer';
import { NATURAL_SLOPE } from '../spectrum/naturalSlope';

/** What the blur leaves of detail, what recovery can bring back and where noise ends it, against frequency. */
export interface DetailCurves {
  /** Cycles per px, 0 to 0.5. */
  readonly f: readonly number[];
  /** |H|: contrast that the blur leaves, 0..1, in the direction where it leaves least. */
  readonly blur: readonly number[];
  /** Contrast after recovery, 0..1: |H|²·S / (|H|²·S + N). */
  readonly recovered: readonly number[];
  /** √(N/S), at most 1: below this contrast detail drowns in noise. */
  readonly noise: readonly number[];
}

const STEPS = 50;
const DIRECTIONS = 12;

/**
 * Contrast curves of a frame: S = signal·f^−2.1 is the sharp picture's power, N the noise floor (variances per sample,
 * linear light).
 *
 * @param blur - Null: no blur beyond the pixel.
 * Source: Wiener, "Extrapolation, Interpolation, and Smoothing of Stationary Time Series" (1949) for the best linear
 * answer, which stands for recovery here.
 */
export function detailCurves(blur: BlurModel | null, signal: number, floor: number): DetailCurves {
  const f = Array.from({ length: STEPS + 1 }, (_, i) => (0.5 * i) / STEPS);
  const gain = contrastLeft(blur, f);
  const share = f.map((value) => (value > 0 ? floor / Math.max(signal * value ** -NATURAL_SLOPE, 1e-12) : 0));
  return {
    f,
    blur: gain,
    recovered: gain.map((h, i) => (h * h) / (h * h + share[i])),
    noise: share.map((value) => Math.min(1, Math.sqrt(value))),
  };
}

/** The finest detail, cycles per px, that recovery brings back with at least half its contrast; 0 where none. */
export function finestRecoverable({ f, recovered }: DetailCurves): number {
  let finest = 0;
  f.forEach((value, i) => {
    if (recovered[i] >= 0.5) finest = value;
  });
  return finest;
}

function contrastLeft(blur: BlurModel | null, f: readonly number[]): number[] {
  if (!blur || !isBlurMethod(blur.method)) return f.map(() => 1);
  const psf = psfOf(blur);
  const angles =
    blur.method === 'straight-movement'
      ? [(blur.directionDeg * Math.PI) / 180]
      : blur.method === 'camera-shake'
        ? Array.from({ length: DIRECTIONS }, (_, i) => (Math.PI * i) / DIRECTIONS)
        : [0];
  return f.map((value) =>
    Math.min(
      ...angles.map((angle) => {
        const { re, im } = transferAt(psf, value * Math.cos(angle), -value * Math.sin(angle));
        return Math.hypot(re, im);
      }),
    ),
  );
}
