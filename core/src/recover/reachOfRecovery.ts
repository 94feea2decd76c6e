import { FARTHER_GUARD } from '../learned/texture';
import { descriptionOfBlur, isBlurMethod, psfOf } from '../methods';
import { reachOf, type Psf } from '../psf/psf';
import { REACH_OF_REDUCING, REDUCED, reducedPsf, reducedSettings } from './badlySoft';
import { edgeContrastReach } from './edgeContrast';
import { fineTextureReach } from './fineTexture';
import { flooredAtRounding, lambdaFor, PLAIN_LAMBDA } from './noiseGuard';
import type { RecoverySettings, RecoveryEffort } from './recovery';

/** Of blur methods, measured so that a tile agrees with the whole (docs/methods/stages.md). */
const LEAST_REACH_PX = 48;
const MOST_REACH_PX = 256;
/** How many px around a sample its recovered value depends on in a way that matters. */
export function reachOfRecovery(
  settings: RecoverySettings,
  psf?: Psf,
  { farthestPx = MOST_REACH_PX, isDraft }: Pick<RecoveryEffort, 'farthestPx' | 'isDraft'> = {},
): number {
  if (settings.method === 'fine-texture') return fineTextureReach(settings.blurSizePx);
  if (!isBlurMethod(settings.method)) return edgeContrastReach(settings.blurSizePx);
  if (settings.badlySoft) {
    const small = reducedPsf(psf ?? psfOf(settings));
    const reach = reachOfRecovery(reducedSettings(settings), small, { farthestPx: farthestPx / REDUCED, isDraft });
    return REDUCED * reach + REACH_OF_REDUCING;
  }
  const { reachPerPx } = descriptionOfBlur(psf ? 'camera-shake' : settings.method);
  // The weaker recovery leans on what is a little farther away.
  const guard = settings.noiseGuard - (settings.learnedTexture && !isDraft ? FARTHER_GUARD : 0);
  const lambda = lambdaFor(flooredAtRounding(settings.noiseFloor), guard);
  const needed = reachPerPx * reachOf(psf ?? psfOf(settings)) * Math.pow(PLAIN_LAMBDA / lambda, 0.3);
  return Math.min(farthestPx, Math.max(LEAST_REACH_PX, 16 * Math.ceil(needed / 16)));
}
