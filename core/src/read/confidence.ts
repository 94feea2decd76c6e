import type { CauseOfBlur } from '../spectrum/cause';

/** How much a lead over the rival in the spectrum's cost says: e-fold. */
const LEAD = 0.12;

/** How sure a cause is that was not tried: by how much worse its rival explains the spectrum. */
export function confidenceOfLead({ best, runnerUp, sharpCost }: CauseOfBlur): number {
  const rivalCost = best ? Math.min(runnerUp?.cost ?? Infinity, sharpCost) : (runnerUp?.cost ?? sharpCost) * 1.1;
  return sureBy(rivalCost / (best?.cost ?? Math.max(sharpCost, 1e-9)) - 1);
}

/**
 * The same of a path, by what it costs beside the best family: a free path fits anything a little, so its lead counts
 * half.
 */
export const confidenceOfRatio = (ratio: number): number => sureBy((1 / ratio - 1) / 2);

const sureBy = (lead: number): number => 0.5 + 0.49 * (1 - Math.exp(-Math.max(0, lead) / LEAD));

/** Fitted on the *choose* part of cases made elsewhere (docs/methods/read.md): logistic in the lead, dB. */
const AT_NO_LEAD = -0.77;
const PER_DB = 1.41;
/** Of 70 cases 24 of 25 with a lead of 2 dB and more were right. */
const MOST = 0.95;

/**
 * How sure a cause is that was tried, or that there is none: by how many dB more its recovery is expected to gain than
 * that of any other cause, or than leaving alone.
 */
export function confidenceOfChoice(gain: number, rivalGain: number, leastGain: number): number {
  const lead = gain >= leastGain ? gain - Math.max(rivalGain, leastGain) : leastGain - gain;
  return Math.min(MOST, 1 / (1 + Math.exp(-(AT_NO_LEAD + PER_DB * lead))));
}
