import type { Channels } from '../picture/picture';
import { boxMean } from '../picture/boxMean';
import { createPlane, type Plane } from '../picture/plane';

/** Half sides of the squares over which a change is told from noise, and over which its border is softened. */
const REACH = 3;
const SOFT_REACH = 2;
/** A mean square change below this share of the noise's variance is none: taking noise out alone makes 1. */
const LEAST_CHANGE = 0.2;

/**
 * How far a version has changed a photograph at each sample, 0..1: 0 where it left it as it was (outside its maker's
 * mask), 1 where it was worked on. Judged by squares of 7 px against the photograph's own noise.
 *
 * @param before, after - Linear light, same sizes.
 * @param variance - Of the noise of one channel, at every sample.
 */
export function changedShare(before: Channels, after: Channels, variance: Plane): Plane {
  const squares = createPlane(variance.width, variance.height);
  before.forEach(({ data }, c) => {
    const other = after[c].data;
    for (let i = 0; i < data.length; i++) squares.data[i] += (other[i] - data[i]) ** 2 / before.length;
  });
  const around = boxMean(squares, REACH).data;
  const changed = Float32Array.from(around, (value, i) => (value > LEAST_CHANGE * variance.data[i] ? 1 : 0));
  return boxMean({ ...squares, data: changed }, SOFT_REACH);
}
