import type { Kernels } from '../kernels';
import { psfOfCurve } from '../psf/pathCurve';
import { storePath, type StoredPath } from '../psf/storedPath';
import type { CauseOfBlur } from '../spectrum/cause';
import { samplesUpTo } from '../spectrum/spectralFit';
import { rivalCost } from './rivalCost';
import { LEVELS, roughCurve } from './searchCurve';

/** A family that explains the spectrum this well, or so much better than no blur does, needs no path beside it. */
const WELL_EXPLAINED = 0.06;
const MUCH_BETTER = 0.25;
/**
 * What a rough curve costs at the lowest frequencies beside the best family: of fifty frames 0.13 to 0.44 where the
 * camera shook by 14 px and more, 0.51 and 0.65 where by less, 0.55 and more where it did not and no movement explained
 * the rest.
 */
const SHOOK = 0.5;

/**
 * A path that the coarsest part of the spectrum asks for: how long it is, not how it bends. Null where it asks for
 * none.
 */
export function roughShake({ sharpCost, merged }: CauseOfBlur, kernels: Kernels): StoredPath | null {
  if (merged.best.cost < WELL_EXPLAINED || merged.best.cost < MUCH_BETTER * sharpCost) return null;
  const { curve, cost } = roughCurve(merged.samples, merged.options, kernels);
  const coarse = samplesUpTo(merged.samples, LEVELS[0].highest);
  return cost < SHOOK * rivalCost(merged, coarse) ? storePath(psfOfCurve(curve)) : null;
}
