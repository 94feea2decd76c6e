import { contentKey } from '../contentKey';
import { keptWith } from '../picture/kept';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { keptLocalNoise } from '../noise/localNoise';
import { MID_TONE, type NoiseLine } from '../noise/noise';

const MOST_TRUST = 3;
const LEAST_TRUST = 0.01;

/**
 * How far each sample's data may be believed: √(noise variance assumed / local noise variance), from 0.01 to 3, or as
 * little of the way from 1 to that as `share` says. Local noise counts as at least what the noise line says at that
 * tone: a smooth background must not be believed without bound.
 *
 * @param plane - The component whose local noise is measured; neither it nor `luma` is ever changed after.
 * @param noiseVariance - The variance of that component which the regularisation is set for.
 * @param luma - Brightness, linear light, and `line` its noise by tone.
 */
export function trustOf(plane: Plane, noiseVariance: number, luma: Plane, line: NoiseLine, share: number): Plane {
  return keptWith(plane, contentKey(['trust', noiseVariance, line, share]), () => {
    if (share === 0) return filledPlane(plane.width, plane.height, 1);
    const local = keptLocalNoise(plane);
    const trust = createPlane(plane.width, plane.height);
    // Not the mean of what is at hand: a tile must come out as the whole does.
    const least = noiseVariance / (line.a * MID_TONE + line.b + 1e-9);
    const [out, tones, found] = [trust.data, luma.data, local.data];
    for (let i = 0; i < out.length; i++) {
      const expected = line.a * Math.max(0, tones[i]) + line.b + 1e-9;
      const root = Math.sqrt(noiseVariance / Math.max(found[i], least * expected, 1e-9));
      out[i] = 1 + share * (Math.min(MOST_TRUST, Math.max(LEAST_TRUST, root)) - 1);
    }
    return trust;
  });
}
