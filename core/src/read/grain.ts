import { stabilised } from '../clean/anscombe';
import { halved } from '../picture/halved';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { flatSpectrum, powerAt } from './flatSpectrum';
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
/** A bilinear mosaic makes the noise of red and blue twice as strong at twice the scale; more is the picture. */
const MOST_COARSE = 2.5;
const MOST_GROWTH = 1.25;
/** All but what one smooth slope across a block fills. */
const COARSE_PLACES = [2, 3, 4, 5, 6, 7];

/**
 * The strength and the spectrum of noise that is not white; null where it is. Taken from the flattest fifth of blocks,
 * each component by itself, variance stabilised first. Texture everywhere reads as noise. Only three channels can tell.
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
  const byScale: number[] = [];
  for (let level = 1, planes = colours, among = use; level <= GRAIN_SCALES; level++) {
    planes = planes.map((plane) => halved(plane));
    among = halved(among);
    const ratio = 2 ** level * Math.sqrt(powerAt(flatMean(planes, among), COARSE_PLACES));
    // What the picture itself does at coarse scales grows from level to level, noise hardly does.
    byScale.push(Math.min(ratio, level === 1 ? MOST_COARSE : MOST_GROWTH * byScale[level - 2]));
  }
  return {
    noise,
    brightness: shapeOf([brightness], use),
    colour: shapeOf(colours, use),
    colourByScale: byScale.map(rounded),
  };
}

const rounded = (ratio: number) => Math.round(1000 * ratio) / 1000;

/** Standard deviation by distance from the mean, over that of white noise. */
function shapeOf(planes: readonly Plane[], use: Plane): number[] {
  return Array.from(flatMean(planes, use), (power) => rounded(Math.min(MOST_SHAPE, Math.sqrt(power))));
}

function flatMean(planes: readonly Plane[], use: Plane): Float64Array {
  const spectra = planes.map((plane) => flatSpectrum(plane, use));
  return spectra[0].map((_, i) => spectra.reduce((sum, spectrum) => sum + spectrum[i], 0) / spectra.length);
}
