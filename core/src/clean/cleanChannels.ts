import type { Kernels } from '../kernels';
import { lookedUp } from '../picture/arithmetic';
import { fromOpponent, toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import type { Grain } from '../noise/grain';
import type { NoiseLine } from '../noise/noise';
import { stabilised, unbiasedInverse, unstabilise } from '../noise/anscombe';
import { cleanPlane, MOST_LEVELS, reachOfLevels } from './cleanPlane';

export interface CleanOptions {
  readonly noise: readonly NoiseLine[];
  /** Where noise is not white: then it is taken from here. */
  readonly grain?: Grain;
  /** How much noise of brightness and of colour is taken to be there: 1 as measured, 0 leaves it. */
  readonly luminance: number;
  readonly colour: number;
  /** The widest blotches of colour that are cleaned, px. */
  readonly blotchPx: number;
}

/** All noise that was measured, taken as white. */
export const AS_MEASURED = { luminance: 1, colour: 1, blotchPx: 8 } as const;

/** px around a place on which its cleaned value depends. */
export function reachOfCleaning(blotchPx: number): number {
  return reachOfLevels(levelsFor(blotchPx));
}

/** A block of 8 px finds what is 8 px across; every coarser level twice that. */
function levelsFor(blotchPx: number): number {
  return Math.min(MOST_LEVELS, Math.max(0, Math.ceil(Math.log2(blotchPx / 8))));
}

/**
 * Cleans linear channels: variance stabilised with the noise model, red, green and blue turned into brightness and two
 * opponent colours (orthonormal, so each keeps variance 1), sliding DCT in two passes on each, colour at coarser scales
 * too where blotches are wide, and back without bias.
 *
 * @param originX, originY - Place of the first sample in the frame; keeps tiles and whole in step.
 */
export function cleanChannels(
  channels: Channels,
  options: CleanOptions,
  originX: number,
  originY: number,
  kernels: Kernels,
): Plane[] {
  const lines = (options.grain ?? options).noise.map(({ a, b }) => ({ a, b: Math.max(b, 1e-9) }));
  const stable = channels.map((channel, i) => stabilised(channel, lines[i]));
  const blotches = Array.from(
    { length: levelsFor(options.blotchPx) },
    (_, i) => (options.colour * Math.max(1, options.grain?.colourByScale[i] ?? 1)) / 2 ** (i + 1),
  );
  const smooth = toOpponent(stable).map((plane, i) => {
    const strength = i === 0 ? options.luminance : options.colour;
    if (strength === 0) return plane;
    return cleanPlane(
      plane,
      { sigma: strength, shape: options.grain?.[i === 0 ? 'brightness' : 'colour'] },
      i === 0 ? [] : blotches,
      originX,
      originY,
      kernels,
    );
  });
  // What keeps its noise has no bias to undo.
  const unbiased = Math.min(1, options.luminance);
  return fromOpponent(smooth).map((plane, c) => {
    const light = lookedUp(plane, unbiasedInverse(lines[c]));
    if (unbiased === 1) return light;
    const data = light.data.map((value, i) => unbiased * value + (1 - unbiased) * unstabilise(plane.data[i], lines[c]));
    return { ...plane, data };
  });
}
