import { boxMean } from '../picture/boxMean';
import type { Plane } from '../picture/plane';

/** Half sides of the squares over which energies are gathered, px: as the audit does of detail nobody can vouch for. */
const PLACE_REACH = 4;
const AROUND_REACH = 10;
/** Share of the local contrast that counts as detail of the recovery's own. */
const CONTRAST_SHARE = 0.02;
/** So many times as strong texture may be as what the recovery itself found where the photograph is blind. */
const MOST = 0.5;

/**
 * How much of the texture stays, 0..1, at each sample: where next to nothing is known its energy is held to a small
 * multiple of what the recovery itself holds in the same frequencies around, and of its contrast.
 *
 * @param added, own, recovered - Brightness, linear light: the texture, the recovery's blind part, the recovery.
 */
export function shareVouchedFor(added: Plane, own: Plane, recovered: Plane): Plane {
  const texture = boxMean(squared(added), PLACE_REACH).data;
  const known = boxMean(squared(own), AROUND_REACH).data;
  const mean = boxMean(recovered, AROUND_REACH).data;
  const power = boxMean(squared(recovered), AROUND_REACH).data;
  const data = texture.map((energy, i) => {
    const contrast = Math.max(0, power[i] - mean[i] * mean[i]);
    const most = MOST * MOST * (Math.max(0, known[i]) + CONTRAST_SHARE * contrast);
    return energy > most ? Math.sqrt(most / energy) : 1;
  });
  return { ...added, data };
}

const squared = (plane: Plane): Plane => ({ ...plane, data: plane.data.map((value) => value * value) });
