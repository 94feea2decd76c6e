/**
 * How much the prior weighs against the data: λ of the splitting solver, from the measured noise and the noise guard.
 */

/**
 * λ over the noise variance of brightness, times the root of how many channels are as noisy as it (the prior's gradient
 * spans all of them). Measured best between 9 and 20, by picture, on cases with truth.
 */
const LAMBDA_PER_VARIANCE = 12;
/**
 * With hardly any noise the data would be trusted too far: λ rises by up to half between these standard deviations, and
 * what looks like local noise is detail and left out (docs/methods/recover.md).
 */
const QUIET_SIGMA = 0.002;
const NOISY_SIGMA = 0.005;
/** Variance of rounding to 8 bits near mid-tone, so that noiseless pictures stay regular. */
export const ROUNDING_VARIANCE = 1e-6;
/** λ at about 1 % noise. With less the answer leans on evidence farther away. */
export const PLAIN_LAMBDA = 0.002;

/** 1 where hardly any noise is, 0 where noise is plain. */
export function quietness(variance: number): number {
  return Math.min(1, Math.max(0, (NOISY_SIGMA - Math.sqrt(variance)) / (NOISY_SIGMA - QUIET_SIGMA)));
}

export function flooredAtRounding(variances: readonly number[]): number[] {
  return variances.map((variance) => variance + ROUNDING_VARIANCE);
}

/** λ for these noise variances (brightness first, linear light); every 10 of the guard above 50 double it. */
export function lambdaFor(variances: readonly number[], noiseGuard: number): number {
  const [brightness] = variances;
  const quiet = quietness(brightness);
  const guard = Math.pow(2, (noiseGuard - 50) / 10);
  const channels = variances.reduce((sum, variance) => sum + variance, 0) / brightness;
  return LAMBDA_PER_VARIANCE * Math.sqrt(channels) * (1 + 0.5 * quiet) * guard * brightness;
}
