import type { MergedFit } from '../spectrum/cause';
import { logGainOf } from '../spectrum/fitCause';
import { fitSpectrum, type SpectrumSamples } from '../spectrum/spectralFit';

const ROUNDS = 8;

/** What the best family, or no blur at all, costs at some of the samples: what a path must beat there. */
export function rivalCost({ best, options }: MergedFit, samples: SpectrumSamples): number {
  const gains = [logGainOf(best.cause, best.size, best.directionDeg, samples), new Float64Array(samples.count)];
  return Math.min(...gains.map((gain) => fitSpectrum(samples, gain, options, ROUNDS).cost));
}
