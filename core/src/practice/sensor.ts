import { createPlane, type Plane } from '../picture/plane';
import type { Channels } from '../picture/picture';
import { mosaicColour, type BayerPattern } from '../raw/cfa';
import type { NoiseLine } from '../noise/noise';
import type { SeededRandom } from '../seededRandom';
import { multiply3 } from '../picture/colourSpace';

/** The practice camera's sensor: invented, its colours about those of silicon behind common filters. */
export const PRACTICE_SENSOR = {
  /** XYZ to the sensor's colours, row by row. */
  colorMatrix: [0.7034, -0.0804, -0.1014, -0.442, 1.2564, 0.2058, -0.0851, 0.1994, 0.5758],
  /** D65. */
  illuminant: 21,
  black: 512,
  white: 16383,
} as const;

/** Linear sRGB to XYZ: IEC 61966-2-1. */
const SRGB_TO_XYZ = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];

/** What the sensor sees of a neutral under D65, the greatest 1. */
export function practiceNeutral(): number[] {
  const toSensor = multiply3(PRACTICE_SENSOR.colorMatrix, SRGB_TO_XYZ);
  const seen = [0, 1, 2].map((row) => toSensor[3 * row] + toSensor[3 * row + 1] + toSensor[3 * row + 2]);
  return seen.map((value) => value / Math.max(...seen));
}

/** Linear sRGB as the sensor's own colours, a white scene filling its fullest channel. */
function seenBySensor([red, green, blue]: Channels): Plane[] {
  const toSensor = multiply3(PRACTICE_SENSOR.colorMatrix, SRGB_TO_XYZ);
  const rows = [0, 1, 2].map((row) => toSensor.slice(3 * row, 3 * row + 3));
  const most = Math.max(...rows.map(([a, b, c]) => a + b + c));
  return rows.map(([a, b, c]) => ({
    ...red,
    data: red.data.map((value, i) => (a * value + b * green.data[i] + c * blue.data[i]) / most),
  }));
}

/**
 * What a sensor behind a colour mosaic counts of a scene: 16-bit numbers from PRACTICE_SENSOR.black on.
 *
 * @param scene - Linear sRGB 0..1.
 * @param noise - Of a sample of full scale 1.
 */
export function throughSensor(
  scene: Channels,
  pattern: BayerPattern,
  noise: NoiseLine,
  random: SeededRandom,
): Uint16Array {
  const { black, white } = PRACTICE_SENSOR;
  const seen = seenBySensor(scene);
  const { width, height } = seen[0];
  const out = new Uint16Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const light = Math.min(1, Math.max(0, seen[mosaicColour(pattern, x, y)].data[i]));
      const counted = light + Math.sqrt(noise.a * light + noise.b) * random.normal();
      out[i] = Math.min(white, Math.max(0, Math.round(black + counted * (white - black))));
    }
  }
  return out;
}

/** Every sample's own colour of three channels: a mosaic without noise. */
export function mosaicOf(channels: Channels, pattern: BayerPattern): Plane {
  const [{ width, height }] = channels;
  const out = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) out.data[i] = channels[mosaicColour(pattern, x, y)].data[i];
  }
  return out;
}
