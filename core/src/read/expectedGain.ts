import type { AgainFigures } from './photographedAgain';
import { GAIN_TREES, MEAN_GAIN } from './gainTrees';

/** What the spectrum, the picture of few edges and the path itself say of a cause. */
export interface CauseSays {
  /** Cost of the spectral fit over that of the candidate with the least, and over no blur's. */
  readonly overLeast: number;
  readonly overNone: number;
  readonly noneCost: number;
  /** What the picture of few edges costs under it over what it costs without blur, at half and at full size. */
  readonly halfSizeEdges: number;
  readonly fullSizeEdges: number;
  /** How unlike a path is to what the picture made of it, 0..1; 0 for a family. */
  readonly disagreement: number;
  readonly isPath: boolean;
  readonly sizePx: number;
}

const ln = (value: number) => Math.log(Math.max(value, 1e-4));

/** The numbers that a gain is expected from, in the order the trees count them. */
export function signsOf(again: AgainFigures, says: CauseSays): number[] {
  return [
    ln(says.overLeast),
    ln(says.overNone),
    ln(again.restAtEdges + 0.05),
    ln((again.restAtEdges + 0.05) / (again.restInCalm + 0.05)),
    again.restLikeness,
    ln(again.beyondLight + 0.002) - ln(0.002),
    ln(again.sparsity),
    ln(again.change + 0.1),
    says.isPath ? 1 : 0,
    ln(says.sizePx + 1),
    10 * ln(says.halfSizeEdges),
    5 * ln(says.fullSizeEdges),
    10 * says.disagreement,
    ln(says.noneCost),
  ];
}

/**
 * A sign and the value up to which it goes left; then the same for what went left and right, and what each of the four
 * adds, dB.
 */
export type GainTree = readonly [number, number, number, number, number, number, number, number, number, number];

/**
 * dB that a recovery is expected to gain: the sum of small trees, each of two questions.
 * Source: Friedman, "Greedy function approximation: a gradient boosting machine", Annals of Statistics 29 (2001);
 * fitted by bench/fitGain.py on the *tune* part of the cases made elsewhere.
 */
export function expectedGain(signs: readonly number[]): number {
  return GAIN_TREES.reduce((sum, [sign, upTo, leftSign, leftUpTo, ll, lr, rightSign, rightUpTo, rl, rr]) => {
    if (signs[sign] <= upTo) return sum + (signs[leftSign] <= leftUpTo ? ll : lr);
    return sum + (signs[rightSign] <= rightUpTo ? rl : rr);
  }, MEAN_GAIN);
}
