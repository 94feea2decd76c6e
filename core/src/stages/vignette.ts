import { contentKey } from '../contentKey';
import { lit, lookedUp } from '../picture/arithmetic';
import type { EvenTable } from '../picture/filters';
import { keptWith } from '../picture/kept';
import { createPlane } from '../picture/plane';
import type { Vignette } from '../prescription/finishing';
import type { PictureStage } from './stage';

/** Light more or less towards the corners of the finished picture. */
export const vignetteStage: PictureStage<Vignette> = {
  name: 'vignette',

  settingsOf: ({ finishing }) => (finishing && finishing.vignette.cornerPercent !== 0 ? finishing.vignette : null),

  sizeAfter: (_settings, before) => before,

  regionNeeded: (_settings, wanted) => wanted,

  apply(planes, settings, wanted, before) {
    const [middleX, middleY] = [before.width / 2, before.height / 2];
    const corner = Math.hypot(middleX, middleY);
    const far = createPlane(wanted.width, wanted.height);
    for (let y = 0, i = 0; y < wanted.height; y++) {
      const v = wanted.y + y + 0.5 - middleY;
      for (let x = 0; x < wanted.width; x++, i++) {
        const u = wanted.x + x + 0.5 - middleX;
        far.data[i] = Math.sqrt(u * u + v * v) / corner;
      }
    }
    return lit(planes, lookedUp(far, gainsOf(settings)));
  },
};

/** Gains are looked up, so finely that the line between two is right to a part in a hundred thousand. */
const STEPS = 4096;
const TABLES = {};

const gainsOf = (settings: Vignette): EvenTable =>
  keptWith(TABLES, contentKey(settings), () => ({
    low: 0,
    perUnit: STEPS,
    values: Float32Array.from({ length: STEPS + 1 }, (_, i) => vignetteGain(settings, i / STEPS)),
  }));

/**
 * Softness 0 sets in at once, 100 very slowly: the exponent of how far a place lies from where it begins to the corner.
 */
const LEAST_EXPONENT = 0.5;
const MOST_EXPONENT = 4;

/** @param far - From the middle, of half the diagonal; the corner itself is 1. */
export function vignetteGain({ cornerPercent, startPercent, softness }: Vignette, far: number): number {
  const start = startPercent / 100;
  const t = Math.min(1, Math.max(0, (far - start) / (1 - start)));
  const exponent = LEAST_EXPONENT + ((MOST_EXPONENT - LEAST_EXPONENT) * softness) / 100;
  return Math.max(0, 1 + (cornerPercent / 100) * t ** exponent);
}
