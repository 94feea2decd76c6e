import { contentKey } from '../contentKey';
import type { ColourSpace } from '../picture/colourSpace';
import { keptWith } from '../picture/kept';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
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
 * Light and colour put right, sample by sample: fall-off, white balance, exposure, broad light held and lifted, then points
 * and curve on encoded brightness, all channels scaled alike so that hue stays. Never clipped.
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
  const fallen = corrections.fallOffPercent.value > 0 ? fallOffOver(corrections, frame, extent, planes[0]) : null;
  const gain = 2 ** exposureEv;
  const tones = bendsTones(corrections) ? tonesOf(corrections) : null;
  const scaled = (i: number) => gain * (bend ? bend.data[i] : 1) * (fallen ? fallen[i] : 1);
  const out = planes.map(({ width, height }) => createPlane(width, height));
  if (planes.length === 1) {
    const [from, to] = [planes[0].data, out[0].data];
    for (let i = 0; i < to.length; i++) {
      const value = from[i] * scaled(i);
      to[i] = tones ? value * tones.gainOf(value) : value;
    }
    return out;
  }
  const m = colourMatrix(corrections, space);
  const [wr, wg, wb] = space.lumaWeights;
  const [red, green, blue] = planes.map(({ data }) => data);
  const [toRed, toGreen, toBlue] = out.map(({ data }) => data);
  for (let i = 0; i < red.length; i++) {
    let light = scaled(i);
    const r = m[0] * red[i] + m[1] * green[i] + m[2] * blue[i];
    const g = m[3] * red[i] + m[4] * green[i] + m[5] * blue[i];
    const b = m[6] * red[i] + m[7] * green[i] + m[8] * blue[i];
    if (tones) light *= tones.gainOf(light * (wr * r + wg * g + wb * b));
    toRed[i] = light * r;
    toGreen[i] = light * g;
    toBlue[i] = light * b;
  }
  return out;
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

function fallOffOver({ fallOffPercent }: Corrections, frame: Size, { region, scale }: Extent, size: Size) {
  const gain = fallOffGain(fallOffPercent.value);
  const middle = middleOf(frame);
  const out = new Float32Array(size.width * size.height);
  for (let y = 0, i = 0; y < size.height; y++) {
    const down = region.y + (y + 0.5) / scale - 0.5 - middle.y;
    for (let x = 0; x < size.width; x++, i++) {
      const across = region.x + (x + 0.5) / scale - 0.5 - middle.x;
      out[i] = gain((across * across + down * down) / middle.corner);
    }
  }
  return out;
}

/** Channels' gains that make a mean colour neutral and keep its brightness; null where a channel is black there. */
export function neutralGains(mean: readonly number[], lumaWeights: readonly number[]): number[] | null {
  if (mean.some((value) => !(value > 1e-5))) return null;
  const luma = mean.reduce((sum, value, c) => sum + lumaWeights[c] * value, 0);
  return mean.map((value) => luma / value);
}
