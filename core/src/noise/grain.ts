import { stabilised } from './anscombe';
import { halved } from '../picture/halved';
import { toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { blockingOf } from './fileTraces';
import { flatSpectrum, powerAt } from './flatSpectrum';
import { fitAllNoise, fitNoise, MID_TONE, type NoiseLine } from './noise';
import { isFilledIn } from './mosaicTrace';
import { noiseKind } from './whiteness';

/** Noise that is not white: what filling in a colour mosaic, JPEG or a cleaning left of it. */
export interface Grain {
  /** The noise of each channel at twice the scale, as white noise would have it at the finest. */
  readonly noise: readonly NoiseLine[];
  /**
   * How far noise of brightness and of colour stands over that at each frequency of an 8 × 8 DCT, by the distance 0..10
   * from the mean.
   */
  readonly brightness: readonly number[];
  readonly colour: readonly number[];
  /** The same for colour at 2, 4 and 8 times the scale. */
  readonly colourByScale: readonly number[];
}

export const GRAIN_SCALES = 3;
/**
 * Filling in a mosaic or softening makes noise at coarse frequencies at most twice what it is at twice the scale,
 * strong JPEG any times.
 */
const MOST_SHAPE = 2;
const MOST_BLOCKED_SHAPE = 8;
/** JPEG's blocks stand out by this in most pictures of quality 75, also under noise. */
const BLOCKED = 0.15;
/** What is finest over what is found at twice the scale, where noise has lost its finest part: 0.2 to 0.7. */
const LOST_RATIO = 0.8;
/** A bilinear mosaic makes the noise of red and blue twice as strong at twice the scale; more is the picture. */
const MOST_COARSE = 2.5;
const MOST_GROWTH = 1.25;
/** All but what one smooth slope across a block fills. */
const COARSE_PLACES = [2, 3, 4, 5, 6, 7];

/**
 * The noise of each channel at the finest scale, and the grain where it is not white. Weak noise over sharp texture
 * with colours of its own looks as grain does but for one thing: the texture fills the finest scale too. It is taken
 * for white.
 *
 * @param use - Where samples count (not 0); same size as the channels.
 */
export function readNoise(channels: Channels, use: Plane): { noise: NoiseLine[]; grain: Grain | null } {
  const noise = fitNoise(channels, use);
  if (noiseKind(channels) !== 'coloured') return { noise, grain: null };
  const isBlocked = blockingOf(channels[1]) >= BLOCKED;
  const isFromMosaic = isFilledIn(channels);
  const grain = grainOf(channels, use, isBlocked ? MOST_BLOCKED_SHAPE : MOST_SHAPE, isFromMosaic);
  if (isFromMosaic) return { noise, grain };
  const lost = noise.filter((line, c) => atMidTone(line) < LOST_RATIO ** 2 * atMidTone(grain.noise[c]));
  // One channel may be nearly black and tell nothing.
  return isBlocked || lost.length >= 2 ? { noise, grain } : { noise: fitNoise(channels, use, true), grain: null };
}

const atMidTone = ({ a, b }: NoiseLine) => a * MID_TONE + b;

/**
 * The strength and the spectrum of noise that is not white, from the flattest fifth of blocks, each component by
 * itself, variance stabilised first. Texture everywhere reads as noise.
 */
function grainOf(channels: Channels, use: Plane, mostShape: number, isFromMosaic: boolean): Grain {
  const half = channels.map((plane) => halved(plane));
  const known = halved(use);
  const halfUse = { ...known, data: known.data.map((value) => (value === 1 ? 1 : 0)) };
  const own = fitNoise(half, halfUse, true);
  const noise = (isFromMosaic ? withShared(own, fitAllNoise(half, halfUse)) : own).map(({ a, b }) => ({
    a: 4 * a,
    b: Math.max(4 * b, 1e-9),
  }));
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
    brightness: shapeOf([brightness], use, mostShape),
    colour: shapeOf(colours, use, mostShape),
    colourByScale: byScale.map(rounded),
  };
}

/**
 * Filling in a mosaic spreads each channel's noise over all three: of noise alone a quarter is still a channel's own.
 */
const MOST_SHARED = 4;

/** Each channel's noise together with what it shares, as far as noise shares: the rest is texture. */
function withShared(own: readonly NoiseLine[], all: readonly NoiseLine[]): NoiseLine[] {
  return own.map((line, c) => {
    const times = Math.max(1, Math.min(MOST_SHARED, atMidTone(all[c]) / Math.max(atMidTone(line), 1e-12)));
    return { a: times * line.a, b: times * line.b };
  });
}

const rounded = (ratio: number) => Math.round(1000 * ratio) / 1000;

/** Standard deviation by distance from the mean, over that of white noise. */
function shapeOf(planes: readonly Plane[], use: Plane, most: number): number[] {
  return Array.from(flatMean(planes, use), (power) => rounded(Math.min(most, Math.sqrt(power))));
}

function flatMean(planes: readonly Plane[], use: Plane): Float64Array {
  const spectra = planes.map((plane) => flatSpectrum(plane, use));
  return spectra[0].map((_, i) => spectra.reduce((sum, spectrum) => sum + spectrum[i], 0) / spectra.length);
}
