import { stabilised } from '../clean/anscombe';
import { distanceOf } from '../clean/slidingDct';
import { DCT_SIDE, dct8 } from '../fourier/dct8';
import { halved } from '../picture/halved';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { fitNoise, type NoiseLine } from './noise';
import { noiseKind } from './whiteness';

/** Noise that is not white: what filling in a colour mosaic, JPEG or a cleaning left of it. */
export interface Grain {
  /** The noise of each channel at twice the scale, as white noise would have it at the finest. */
  readonly noise: readonly NoiseLine[];
  /** How far noise of brightness and of colour stands over that at each frequency of an 8 × 8 DCT, by the distance 0..10 from the mean. */
  readonly brightness: readonly number[];
  readonly colour: readonly number[];
  /** The same for colour at 2, 4 and 8 times the scale. */
  readonly colourByScale: readonly number[];
}

export const SHAPE_LENGTH = 11;
export const GRAIN_SCALES = 3;
/** The flattest share of blocks, and how much lower than the true variance their mean comes out. */
const FLATTEST = 0.2;
const FLATTEST_BIAS = 0.75;
const MOST_SHAPE = 8;

/**
 * The strength and the spectrum of noise that is not white; null where it is. Taken from the flattest fifth of blocks,
 * each component by itself, variance stabilised first. Texture everywhere reads as noise.
 *
 * @param use - Where samples count (not 0); same size as the channels.
 */
export function readGrain(channels: Channels, use: Plane): Grain | null {
  if (noiseKind(channels) !== 'coloured') return null;
  const half = channels.map((plane) => halved(plane));
  const known = halved(use);
  const halfUse = { ...known, data: known.data.map((value) => (value === 1 ? 1 : 0)) };
  const noise = fitNoise(half, halfUse, true).map(({ a, b }) => ({ a: 4 * a, b: Math.max(4 * b, 1e-9) }));
  const [brightness, ...colours] = toOpponent(channels.map((plane, c) => stabilised(plane, noise[c])));
  const shapeOf = (planes: readonly Plane[], among: Plane) =>
    rootMean(planes.map((plane) => flatSpectrum(plane, among)));
  const byScale: number[] = [];
  for (
    let level = 1, planes = colours.length > 0 ? colours : [brightness], among = use;
    level <= GRAIN_SCALES;
    level++
  ) {
    planes = planes.map((plane) => halved(plane));
    among = halved(among);
    const spectrum = shapeOf(planes, among);
    byScale.push(2 ** level * Math.sqrt(meanSquare(spectrum.slice(1, 8))));
  }
  return {
    noise,
    brightness: shapeOf([brightness], use).map(within),
    colour: shapeOf(colours.length > 0 ? colours : [brightness], use).map(within),
    colourByScale: byScale.map(within),
  };
}

const within = (ratio: number) => Math.round(1000 * Math.min(MOST_SHAPE, ratio)) / 1000;

/** Power by distance from the mean, over the flattest blocks; 0 where there are none. */
function flatSpectrum(plane: Plane, use: Plane): Float64Array {
  const blocks = blocksOf(plane, use).sort((a, b) => a.energy - b.energy);
  const flattest = blocks.slice(0, Math.ceil(blocks.length * FLATTEST));
  const power = new Float64Array(SHAPE_LENGTH);
  for (const block of flattest)
    block.power.forEach((value, i) => (power[i] += value / flattest.length / FLATTEST_BIAS));
  return power;
}

function blocksOf(plane: Plane, use: Plane): { energy: number; power: Float64Array }[] {
  const found: { energy: number; power: Float64Array }[] = [];
  const [block, spare] = [new Float64Array(DCT_SIDE ** 2), new Float64Array(DCT_SIDE ** 2)];
  for (let top = 0; top + DCT_SIDE <= plane.height; top += DCT_SIDE) {
    for (let left = 0; left + DCT_SIDE <= plane.width; left += DCT_SIDE) {
      let usable = true;
      for (let i = 0; i < block.length; i++) {
        const at = (top + Math.floor(i / DCT_SIDE)) * plane.width + left + (i % DCT_SIDE);
        if (use.data[at] < 1) usable = false;
        block[i] = plane.data[at];
      }
      if (!usable) continue;
      dct8(block, spare);
      const power = meansByDistance(block.map((value) => value * value));
      found.push({ power, energy: power.slice(1).reduce((sum, value) => sum + value, 0) });
    }
  }
  return found;
}

const PLACES = Array.from({ length: DCT_SIDE ** 2 }, (_, i) => distanceOf(i));
const COUNTS = PLACES.reduce(
  (counts, place) => counts.fill(counts[place] + 1, place, place + 1),
  new Array<number>(SHAPE_LENGTH).fill(0),
);

function meansByDistance(squares: Float64Array): Float64Array {
  const means = new Float64Array(SHAPE_LENGTH);
  squares.forEach((value, i) => (means[PLACES[i]] += value / COUNTS[PLACES[i]]));
  return means;
}

function rootMean(spectra: readonly Float64Array[]): number[] {
  return Array.from({ length: SHAPE_LENGTH }, (_, i) =>
    Math.sqrt(spectra.reduce((sum, spectrum) => sum + spectrum[i], 0) / spectra.length),
  );
}

const meanSquare = (values: readonly number[]) => values.reduce((sum, value) => sum + value * value, 0) / values.length;
