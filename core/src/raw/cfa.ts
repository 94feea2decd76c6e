import { CoreError } from '../errors';

/** Channel of a sample: 0 red, 1 green, 2 blue. */
type Channel = 0 | 1 | 2;

/**
 * A Bayer mosaic's colours at (0, 0), (1, 0), (0, 1), (1, 1): green on one diagonal, red and blue on the other.
 * Source: Bayer, US patent 3,971,065 (1976).
 */
export type BayerPattern = readonly [Channel, Channel, Channel, Channel];

export const RGGB: BayerPattern = [0, 1, 1, 2];

/** @throws CoreError MOSAIC_PATTERN where the four are no Bayer mosaic. */
export function bayerPattern(colours: readonly number[]): BayerPattern {
  const [a, b, c, d] = colours;
  const isBayer = (b === 1 && c === 1 && a + d === 2 && a !== d) || (a === 1 && d === 1 && b + c === 2 && b !== c);
  if (colours.length === 4 && isBayer) return [a, b, c, d] as BayerPattern;
  throw new CoreError(
    'MOSAIC_PATTERN',
    'The sensor’s colours do not lie as in a Bayer mosaic (2 × 2 with two greens); others are not read.',
  );
}

export const mosaicColour = (pattern: readonly number[], x: number, y: number): Channel =>
  pattern[(y & 1) * 2 + (x & 1)] as Channel;

/** The pattern as seen from (x, y). */
export function shiftedPattern(pattern: BayerPattern, x: number, y: number): BayerPattern {
  const at = (dx: number, dy: number) => mosaicColour(pattern, x + dx, y + dy);
  return [at(0, 0), at(1, 0), at(0, 1), at(1, 1)];
}
