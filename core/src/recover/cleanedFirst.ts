import { AS_MEASURED, cleanChannels } from '../clean/cleanChannels';
import { contentKey } from '../contentKey';
import type { Kernels } from '../kernels';
import { isBlurMethod } from '../methods';
import { MID_TONE } from '../noise/noise';
import { keptWith } from '../picture/kept';
import { quietness, ROUNDING_VARIANCE } from './noiseGuard';
import type { RecoverySettings, RecoveryInput } from './recovery';

/**
 * The input with its channels cleaned where the recovery asks for that: noise that plainly shows is cleaned before the
 * blur is taken back (the prior then has less to hold down), and grain that is kept is what cleaning would take. Done
 * once, however many sizes are solved.
 */
export function cleanedFirst(input: RecoveryInput, settings: RecoverySettings, kernels: Kernels): RecoveryInput {
  if (input.clean || (shareToClean(settings) === 0 && settings.grainKeptPercent === 0)) return input;
  const { channels, originX, originY } = input;
  const options = { noise: settings.noise, grain: settings.grain, ...AS_MEASURED };
  const clean = keptWith(channels[0], contentKey(['clean', options, originX, originY]), () =>
    cleanChannels(channels, options, originX, originY, kernels),
  );
  return { ...input, clean };
}

const LEAST_WHITE = 0.2;

/** How much of the floor is white noise that plainly shows, 0..1: only that is cleaned. */
export function shareToClean({ method, isCleaned, noise, noiseFloor }: RecoverySettings): number {
  if (isCleaned || !isBlurMethod(method)) return 0;
  const floor = noiseFloor[0] + ROUNDING_VARIANCE;
  const white = noise.reduce((sum, { a, b }) => sum + a * MID_TONE + b, 0) / noise.length;
  const share = Math.min(1, white / floor) * (1 - quietness(floor));
  return share < LEAST_WHITE ? 0 : share;
}
