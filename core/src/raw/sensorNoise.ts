import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { fitAllNoise, fitNoise, MID_TONE, type NoiseLine } from '../noise/noise';
import { mosaicColour, type BayerPattern } from './cfa';

/** Noise is measured in so large a part at most, samples a side: more says the same, later. */
const SIDE = 640;
/** Light from which a sample may be clipped. */
const NEARLY_WHITE = 0.98;

/**
 * The sensor's noise, measured before colours are filled in, where every sample's noise is its own. Looked for twice:
 * among the green samples, which lie closest and of which all colours are read out alike; and in each colour by itself,
 * without what the three have in common. Texture reads as noise in either, so the lower one is taken. A line each for
 * red, green and blue, of channels balanced by `neutral`.
 *
 * @param mosaic - Light 0..1, not balanced.
 */
export function sensorNoise(mosaic: Plane, pattern: BayerPattern, neutral: readonly number[]): NoiseLine[] {
  const greens = greensOf(mosaic, pattern);
  const [amongGreens] = fitAllNoise([greens], unclipped([greens]));
  const colours = coloursOf(mosaic, pattern);
  const byColour = fitNoise(colours, unclipped(colours), true);
  return neutral.map((seen, c) => {
    const { a, b } = [amongGreens, byColour[c]].sort((p, q) => atMidTone(p) - atMidTone(q))[0];
    return { a: a / seen, b: b / seen ** 2 };
  });
}

const atMidTone = ({ a, b }: NoiseLine) => a * MID_TONE + b;

function unclipped(planes: readonly Plane[]): Plane {
  const use = filledPlane(planes[0].width, planes[0].height, 1);
  for (const { data } of planes) data.forEach((value, i) => value >= NEARLY_WHITE && (use.data[i] = 0));
  return use;
}

/**
 * The green samples of the middle of a frame. They lie on diagonals: rows of the new plane run down to the right, its
 * columns up to the right, √2 px from sample to sample.
 */
function greensOf({ width, height, data }: Plane, pattern: BayerPattern): Plane {
  const side = Math.max(1, Math.min(SIDE, (Math.min(width, height) >> 1) - 2));
  const middle = height >> 1;
  const first = (width >> 1) - side;
  // From a green sample every step along a diagonal leads to a green one.
  const left = mosaicColour(pattern, first, middle) === 1 ? first : first + 1;
  const plane = createPlane(side, side);
  for (let v = 0, i = 0; v < side; v++) {
    for (let u = 0; u < side; u++, i++) {
      const x = Math.min(width - 1, Math.max(0, left + u + v));
      const y = Math.min(height - 1, Math.max(0, middle + u - v));
      plane.data[i] = data[y * width + x];
    }
  }
  return plane;
}

/** Every colour's samples as a plane of half the size, of green the first of two; the middle of a large frame. */
function coloursOf({ width, height, data }: Plane, pattern: BayerPattern): Plane[] {
  const [wide, high] = [Math.min(SIDE, width >> 1), Math.min(SIDE, height >> 1)];
  const left = ((width >> 1) - wide) >> 1;
  const top = ((height >> 1) - high) >> 1;
  return [0, 1, 2].map((colour) => {
    const place = [0, 1, 2, 3].find((at) => mosaicColour(pattern, at & 1, at >> 1) === colour)!;
    const plane = createPlane(wide, high);
    for (let y = 0, i = 0; y < high; y++) {
      const row = (2 * (top + y) + (place >> 1)) * width + 2 * left + (place & 1);
      for (let x = 0; x < wide; x++, i++) plane.data[i] = data[row + 2 * x];
    }
    return plane;
  });
}
