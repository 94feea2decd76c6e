import { createPlane, type Plane } from '../picture/plane';
import { localNoise } from '../read/localNoise';

const MOST_TRUST = 3;
const LEAST_TRUST = 0.01;
/** Below 1 because part of what counts as local noise is detail; 0.75 measured best on frames with truth. */
const EXPONENT = 0.75;

/**
 * How far each sample's data may be believed: (noise variance assumed / local noise variance)^0.75, from 0.01 to 3.
 * 0 where `known` is 0.
 *
 * @param noiseVariance - The variance that the regularisation is set for.
 */
export function trustOf(blurred: Plane, known: Plane, noiseVariance: number): Plane {
  const local = localNoise(blurred);
  const trust = createPlane(blurred.width, blurred.height);
  for (let i = 0; i < trust.data.length; i++) {
    if (known.data[i] === 0) continue;
    const ratio = Math.pow(noiseVariance / Math.max(local.data[i], 1e-9), EXPONENT);
    trust.data[i] = Math.min(MOST_TRUST, Math.max(LEAST_TRUST, ratio));
  }
  return trust;
}
