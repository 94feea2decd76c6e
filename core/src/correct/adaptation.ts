import { inverse3, multiply3 } from '../picture/colourSpace';
import type { Chromaticity } from './daylight';

/** XYZ to the cone responses of Bradford's adaptation. Source: CIE 159:2004, after Lam (1985). */
const BRADFORD = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
/** Linear sRGB to XYZ: IEC 61966-2-1. */
const SRGB_TO_XYZ = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
/** The white of linear sRGB. */
export const D65: Chromaticity = { x: 0.3127, y: 0.329 };

const responsesOf = ({ x, y }: Chromaticity): number[] => {
  const xyz = [x / y, 1, (1 - x - y) / y];
  return [0, 1, 2].map((row) => xyz.reduce((sum, value, i) => sum + BRADFORD[3 * row + i] * value, 0));
};

/** Takes XYZ under one light to what looks the same under another, row by row. */
export function adaptation(from: Chromaticity, to: Chromaticity): number[] {
  const [own, wanted] = [responsesOf(from), responsesOf(to)];
  const [l, m, s] = wanted.map((value, i) => value / own[i]);
  return multiply3(inverse3(BRADFORD), multiply3([l, 0, 0, 0, m, 0, 0, 0, s], BRADFORD));
}

/**
 * The same for linear channels of a colour space: what was lit by `light` as if it had been lit by the space's own
 * white.
 *
 * @param toLinearSrgb - Of the space, row by row.
 */
export function adaptationOfChannels(light: Chromaticity, toLinearSrgb: readonly number[]): number[] {
  const toXyz = multiply3(SRGB_TO_XYZ, toLinearSrgb);
  return multiply3(inverse3(toXyz), multiply3(adaptation(light, D65), toXyz));
}
