import type { Prescription } from '@vitrocept/core';
import type { HowMade } from './xmp';

/** A prescription whose masks are long stands beside the render only: a JPEG's packet has no room for it. */
const MOST_TOLD = 32_000;

/**
 * What is told in a copy: with the original, the prescription makes it again.
 *
 * @param made - `prescription` is the one of the stage that was written; null where more than it was used.
 */
export function howMade(
  made: Pick<HowMade, 'originalName' | 'originalSha256' | 'stage'> & { readonly prescription: Prescription | null },
  at: Date,
): HowMade {
  const told = made.prescription && JSON.stringify(made.prescription);
  return { ...made, at: at.toISOString(), prescription: told && told.length <= MOST_TOLD ? told : null };
}
