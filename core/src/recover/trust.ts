import { createPlane, type Plane } from '../picture/plane';
import { localNoise } from '../read/localNoise';

const MOST_TRUST = 1.5;
const LEAST_TRUST = 0.05;

/**
 * How far each sample's data may be believed: √(noise variance assumed / local noise variance), at most 1.5. The root
 * instead of the quotient because part of what counts as local noise is detail. 0 where `known` is 0.
 *
 * @param noiseVariance - The variance that the regularisation is set for.
 */
export function trustOf(blurred: Plane, known: Plane, noiseVariance: number): Plane {
  const local = localNoise(blurred);
  const trust = createPlane(blurred.width, blurred.height);
  for (let i = 0; i < trust.data.length; i++) {
    if (known.data[i] === 0) continue;
    const ratio = Math.sqrt(noiseVariance / Math.max(local.data[i], 1e-9));
    trust.data[i] = Math.min(MOST_TRUST, Math.max(LEAST_TRUST, ratio));
  }
  return trust;
}
