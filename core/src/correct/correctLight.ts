import { contentKey } from '../contentKey';
import type { ColourSpace } from '../picture/colourSpace';
import { lit, mixes, product } from '../picture/arithmetic';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import { filledPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';
import { bendsCurve, changesColour, type Corrections } from '../prescription/corrections';
import { adaptationOfChannels } from './adaptation';
import { bendGains } from './bend';
import { lightOf } from './daylight';
import { fallOffGain, middleOf } from './fallOff';
import type { FrameGuide } from './guide';
import type { Extent } from './extent';
import { ToneTable } from './toneTable';

/** Whether a correction looks at what is broad in the frame. */
export const needsBroad = ({ holdHighlights, liftShadows }: Corrections): boolean =>
  holdHighlights.value > 0 || liftShadows.value > 0;

/**
 * Light and colour put right, sample by sample: fall-off, white balance, exposure, broad light held and lifted, then
 * points and curve on encoded brightness, all channels scaled alike so that hue stays. Never clipped.
 *
 * @param planes - Linear, in the frame's own space. Not changed.
 * @param guide - Of the frame; only looked at where `needsBroad`.
 */
export function correctLight(
  planes: Channels,
  corrections: Corrections,
  space: Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'>,
  frame: Size,
  extent: Extent,
  guide: FrameGuide | undefined,
): Plane[] {
  const exposureEv = corrections.exposureEv.value;
  const bend = needsBroad(corrections)
    ? bendGains(
        planes,
        { holdHighlights: corrections.holdHighlights.value, liftShadows: corrections.liftShadows.value },
        exposureEv,
        space.lumaWeights,
        guide!,
        extent,
      )
    : null;
  const light = bend ?? filledPlane(planes[0].width, planes[0].height, 1);
  const gain = 2 ** exposureEv;
  for (let i = 0; i < light.data.length; i++) light.data[i] *= gain;
  if (corrections.fallOffPercent.value > 0) fallOffOver(light, corrections, frame, extent);
  const coloured = balanced(planes, colourMatrix(corrections, space));
  if (bendsTones(corrections)) {
    const brightness = product(lumaOf(coloured, space.lumaWeights), light);
    const gains = tonesOf(corrections).gainsOf(brightness);
    for (let i = 0; i < light.data.length; i++) light.data[i] *= gains.data[i];
  }
  return lit(coloured, light);
}

/** Every sample's three channels by a matrix, row by row; grey stays. */
export function balanced(planes: Channels, m: readonly number[]): Channels {
  const isNeutral = m.every((value, i) => value === (i % 4 === 0 ? 1 : 0));
  return planes.length === 1 || isNeutral ? planes : mixes(planes, [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)]);
}

const bendsTones = ({ blackPercent, whitePercent, curve }: Corrections): boolean =>
  blackPercent.value !== 0 || whitePercent.value !== 100 || bendsCurve(curve);

const TABLES = {};

const tonesOf = ({ blackPercent, whitePercent, curve }: Corrections): ToneTable =>
  keptWith(
    TABLES,
    contentKey([blackPercent.value, whitePercent.value, curve]),
    () => new ToneTable({ blackPercent, whitePercent, curve }),
  );

/** White balance as a matrix of the linear channels, row by row. */
export function colourMatrix(
  { whiteBalance }: Corrections,
  { toLinearSrgb }: Pick<ColourSpace, 'toLinearSrgb'>,
): readonly number[] {
  if (whiteBalance.kind === 'picked') {
    const [r, g, b] = whiteBalance.gains;
    return [r, 0, 0, 0, g, 0, 0, 0, b];
  }
  if (whiteBalance.kind === 'temperature' && changesColour({ whiteBalance } as Corrections) && toLinearSrgb) {
    return adaptationOfChannels(lightOf(whiteBalance.kelvin, whiteBalance.greenMagenta), toLinearSrgb);
  }
  return [1, 0, 0, 0, 1, 0, 0, 0, 1];
}

/** In place. */
function fallOffOver(light: Plane, { fallOffPercent }: Corrections, frame: Size, { region, scale }: Extent): void {
  const gain = fallOffGain(fallOffPercent.value);
  const middle = middleOf(frame);
  for (let y = 0, i = 0; y < light.height; y++) {
    const down = region.y + (y + 0.5) / scale - 0.5 - middle.y;
    for (let x = 0; x < light.width; x++, i++) {
      const across = region.x + (x + 0.5) / scale - 0.5 - middle.x;
      light.data[i] *= gain((across * across + down * down) / middle.corner);
    }
  }
}

/** Channels' gains that make a mean colour neutral and keep its brightness; null where a channel is black there. */
export function neutralGains(mean: readonly number[], lumaWeights: readonly number[]): number[] | null {
  if (mean.some((value) => !(value > 1e-5))) return null;
  const luma = mean.reduce((sum, value, c) => sum + lumaWeights[c] * value, 0);
  return mean.map((value) => luma / value);
}
