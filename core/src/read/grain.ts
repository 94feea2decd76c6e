import { stabilised } from '../clean/anscombe';
import { halved } from '../picture/halved';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { flatSpectrum, SHAPE_LENGTH } from './flatSpectrum';
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

export const GRAIN_SCALES = 3;
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

function rootMean(spectra: readonly Float64Array[]): number[] {
  return Array.from({ length: SHAPE_LENGTH }, (_, i) =>
    Math.sqrt(spectra.reduce((sum, spectrum) => sum + spectrum[i], 0) / spectra.length),
  );
}

const meanSquare = (values: readonly number[]) => values.reduce((sum, value) => sum + value * value, 0) / values.length;
