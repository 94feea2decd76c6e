import type { Kernels } from '../kernels';
import { psfOf } from '../methods';
import type { NoiseLine } from '../noise/noise';
import { cropPlane, croppedFlags } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';
import { fewEdgesOn } from '../shake/edgeCost';
import { richestPieces } from '../shake/richestPieces';
import type { ShakeFit } from '../shake/readShake';
import type { CauseOfBlur } from '../spectrum/cause';
import { blurSizeOf, FINE_ROUNDS, type CauseFit } from '../spectrum/fitCause';
import { logGainOfPsf } from '../spectrum/psfGain';
import { fitSpectrum } from '../spectrum/spectralFit';
import { expectedGain, signsOf } from './expectedGain';
import { photographAgain } from './photographedAgain';

/** A cause that may be believed: a family at some size, or a path. */
export interface Candidate {
  /** Null: the camera's path. */
  readonly fit: CauseFit | null;
  readonly psf: Psf;
  readonly floor: number;
}

/** What a cause would do, as far as can be told without the truth. */
export interface WeighedCause extends Candidate {
  /** dB by which its recovery is expected to come nearer to the truth than what was photographed, −6..6. */
  readonly expectedGain: number;
  /** The spectrum speaks for it and against no blur beyond doubt, and it drives no light below black. */
  readonly isPlain: boolean;
  /** What that was expected from. */
  readonly signs: readonly number[];
}

/** Side of the place that causes are tried at, px: more says the same, later. */
const PLACE_PX = 560;

/**
 * Weighs causes by what they do: each is taken back at the place richest in edges, photographed again, and its gain
 * expected from how well it explains the spectrum, what it leaves unexplained and what it does to light and edges.
 *
 * @param luma - Linear light; `use` over 0.5 counts; `clipped` not 0 where white was reached.
 * @param variance - Noise of brightness; `line` the same by tone.
 * @returns The most promising first; empty where no place is large enough.
 * Source: rules of our own, fitted on generated cases (docs/methods/read.md).
 */
export function weighCauses(
  found: CauseOfBlur,
  shake: ShakeFit | null,
  luma: Plane,
  use: Plane,
  clipped: Uint8Array,
  variance: number,
  line: NoiseLine,
  kernels: Kernels,
): WeighedCause[] {
  const [place] = richestPieces(luma, use, 1, PLACE_PX);
  const [edgePiece] = richestPieces(luma, use, 1);
  if (place === undefined) return [];
  const tried = [
    {
      luma: cropPlane(luma, place),
      use: cropPlane(use, place),
      clipped: croppedFlags(clipped, luma.width, place),
    },
  ];
  const edges = fewEdgesOn(cropPlane(luma, edgePiece), cropPlane(use, edgePiece), kernels);
  const { samples, options } = found.merged;
  const costOf = (psf: Psf) => fitSpectrum(samples, logGainOfPsf(psf, samples), options, FINE_ROUNDS).cost;
  const none = { cost: costOf(NO_BLUR), edges: edges(NO_BLUR) };
  const candidates = candidatesOf(found, shake).map((candidate) => ({ ...candidate, cost: costOf(candidate.psf) }));
  const leastCost = Math.min(none.cost, ...candidates.map(({ cost }) => cost));
  return candidates
    .map((candidate) => {
      const { fit, psf, floor, cost } = candidate;
      const figures = photographAgain(tried, psf, Math.max(variance, floor), line, kernels);
      const own = edges(psf);
      const signs = signsOf(figures, {
        overLeast: cost / leastCost,
        overNone: cost / none.cost,
        noneCost: none.cost,
        halfSizeEdges: own.halfSize / none.edges.halfSize,
        fullSizeEdges: own.fullSize / none.edges.fullSize,
        disagreement: fit ? 0 : 1 - shake!.agreement,
        isPath: fit === null,
        sizePx: fit ? blurSizeOf(fit) : psf.width,
      });
      const isPlain =
        cost <= NEARLY_LEAST * leastCost && cost < HALF_OF_NONE * none.cost && figures.beyondLight < MOST_BEYOND_LIGHT;
      return { fit, psf, floor, signs, isPlain, expectedGain: expectedGain(signs) };
    })
    .sort((a, b) => b.expectedGain - a.expectedGain);
}

const NEARLY_LEAST = 1.02;
const HALF_OF_NONE = 0.5;
const MOST_BEYOND_LIGHT = 0.022;

const NO_BLUR = normalisedPsf(3, 3, [0, 0, 0, 0, 1, 0, 0, 0, 0]);

function candidatesOf(found: CauseOfBlur, shake: ShakeFit | null): Candidate[] {
  const families = [...found.families, ...found.otherSizes].map((fit) => ({
    fit,
    psf: psfOf({ method: fit.cause, blurSizePx: blurSizeOf(fit), directionDeg: fit.directionDeg }),
    floor: fit.floor,
  }));
  return shake ? [...families, { fit: null, psf: shake.path, floor: shake.floor }] : families;
}
