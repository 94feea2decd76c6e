import type { Kernels } from '../kernels';
import { minus } from '../picture/arithmetic';
import { boxMean } from '../picture/boxMean';
import { cropPlane, pastePlane } from '../picture/crop';
import { copyPlane, type Plane } from '../picture/plane';
import { grow, placedIn, type Region } from '../picture/region';
import type { Psf } from '../psf/psf';
import { blindPart, reachOfBlindPart } from './blindPart';
import { meanOf, missingTexture, REACH_OF_NETWORK, type MissingInput } from './missingTexture';
import { shareVouchedFor } from './vouchedTexture';

/**
 * By how much weaker the prior of the second recovery is, on the noise guard: at an eighth of its weight it leaves what
 * stands in the data and the prior would smooth away, noise and all.
 */
export const WEAKER_GUARD = 18;
/**
 * Of the reach, on the noise guard: so much farther must a tile see for its texture to agree with the whole frame's.
 */
export const FARTHER_GUARD = 6;
/** Of the second recovery: it then stands some 12 dB below its own error, at half the time. */
export const WEAKER_ITERATIONS = 5;

/** Detail of the recovery is what differs from the mean over so many px around. */
const DETAIL_REACH = 10;

export interface TextureInput extends MissingInput {
  /** The blur that was taken back. */
  readonly psf: Psf;
  /** That counts as noise, of brightness. */
  readonly variance: number;
}

/** px around a sample that its texture hangs on. */
export const reachOfTexture = (psf: Psf): number => REACH_OF_NETWORK + reachOfBlindPart(psf);

/**
 * The recovery with the texture that a trained network finds missing in it, over `wanted` of its samples; elsewhere as
 * it was. Only what the photograph is blind for is added: what it does show stays as the solver found it, so that
 * texture cannot contradict it.
 *
 * @throws CoreError NO_WEIGHTS where the host brought none; STOPPED.
 * Sources: Schuler, Burger, Harmeling, Schölkopf, CVPR 2013, for learning what an inversion leaves wrong; Mohan,
 * Kadkhodaie, Simoncelli, Fernandez-Granda, ICLR 2020, for leaving out biases; Zhang, Zuo, Zhang, IEEE TIP 27 (2018)
 * for folding and the map of noise.
 */
export function withTexture(
  input: TextureInput,
  wanted: Region,
  kernels: Kernels,
  shouldStop?: () => boolean,
): Plane[] {
  const { recovered, psf, variance } = input;
  const around = grow(wanted, reachOfBlindPart(psf));
  const missing = missingTexture(input, around, kernels, shouldStop);
  const own = recovered.map((plane) => cropPlane(plane, around));
  const brightness = meanOf(own);
  // Nothing lies beyond the ends: what is left of brightness there must not be a step.
  const detail = minus(brightness, boxMean(brightness, DETAIL_REACH));
  const blind = blindPart([...missing, detail], psf, variance, kernels);
  const added = blind.slice(0, -1);
  const share = shareVouchedFor(meanOf(added), blind[added.length], brightness).data;
  return recovered.map((plane, c) => {
    const out = copyPlane(plane);
    const light = own[c].data.map((value, i) => value + share[i] * added[c].data[i]);
    pastePlane(out, cropPlane({ ...own[c], data: light }, placedIn(wanted, around)), wanted);
    return out;
  });
}
