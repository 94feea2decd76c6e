import { CoreError } from '../errors';
import { normalisedPsf, type Psf } from './psf';

const SAMPLES_PER_PX = 32;

/**
 * Straight movement at even speed: a line of `lengthPx` through the centre at `directionDeg`, counter-clockwise from
 * +x as seen on the upright picture. Each point of the line is shared between its four nearest pixels by distance,
 * so neither direction nor length moves in steps. Transfer function sinc(L·f·cos φ).
 */
export function linePsf(lengthPx: number, directionDeg: number): Psf {
  if (!(lengthPx >= 0)) throw new CoreError('PSF_SIZE', `A movement needs a length of at least 0 px, not ${lengthPx}.`);
  const angle = (directionDeg * Math.PI) / 180;
  const alongX = Math.cos(angle);
  const alongY = -Math.sin(angle);
  const reach = Math.max(1, Math.ceil(lengthPx / 2 + 1e-9) + 1);
  const side = 2 * reach + 1;
  const values = new Float64Array(side * side);
  const count = Math.max(1, Math.ceil(lengthPx * SAMPLES_PER_PX));
  for (let i = 0; i < count; i++) {
    const along = ((i + 0.5) / count - 0.5) * lengthPx;
    const x = reach + along * alongX;
    const y = reach + along * alongY;
    const left = Math.floor(x);
    const top = Math.floor(y);
    const right = x - left;
    const down = y - top;
    values[top * side + left] += (1 - right) * (1 - down);
    values[top * side + left + 1] += right * (1 - down);
    values[(top + 1) * side + left] += (1 - right) * down;
    values[(top + 1) * side + left + 1] += right * down;
  }
  return normalisedPsf(side, side, values);
}
