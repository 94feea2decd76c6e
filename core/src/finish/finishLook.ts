import { contentKey } from '../contentKey';
import { adaptationOfChannels } from '../correct/adaptation';
import { lightOf } from '../correct/daylight';
import { balanced } from '../correct/correctLight';
import { broadOf, broadOver, type FrameGuide } from '../correct/guide';
import type { Extent } from '../correct/extent';
import { drawMask, mayCover } from '../mask/drawMask';
import type { ColourSpace } from '../picture/colourSpace';
import { lit, logLights, lookedUp } from '../picture/arithmetic';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { actingChanges, WHOLE_KEYS, type Finishing, type LocalChange } from '../prescription/finishing';
import { hazeOf, withoutHaze } from './haze';

/** Of the long side: finer is local. */
const SHARE = 1 / 30;
/** What varies by much more is an edge, and left alone; EV. */
const SPREAD_EV = 0.5;
/** At ±100 detail is so much more or less of itself. */
const MOST_CONTRAST = 0.75;
/** Warmth ±100 is as if the light had been so many mired off. */
const MOST_MIRED = 45;
const NEUTRAL_MIRED = 1e6 / 6504;

/** 2 to the power of ±16 EV at most: between two places a straight line is right to a part in a million. */
const POWERS_OF_2 = {
  low: -16,
  perUnit: 256,
  values: Float32Array.from({ length: 8193 }, (_, i) => 2 ** (i / 256 - 16)),
};

type Space = Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'>;

/** Whether a finishing looks at what is broad in the frame. */
export const needsGuide = (finishing: Finishing): boolean =>
  finishing.haze !== 0 ||
  finishing.localContrast !== 0 ||
  actingChanges(finishing).some(({ localContrast }) => localContrast !== 0);

/**
 * Haze, local contrast and saturation of the whole, then the local changes under their masks, sample by sample.
 *
 * @param planes - Linear, corrected, in the frame's own space. Not changed.
 * @returns And how far each sample was changed at most, 0..1.
 * @param guide - The frame's guide, corrected as the planes are; only looked at where `needsGuide`.
 */
export function finishLook(
  planes: Channels,
  finishing: Finishing,
  space: Space,
  extent: Extent,
  guide: FrameGuide | undefined,
): { readonly planes: Channels; readonly share: Plane } {
  const hazed = finishing.haze !== 0 ? hazeTaken(planes, finishing.haze / 100, space, guide!, extent) : planes;
  const { localContrast, saturation } = finishing;
  const isWhole = WHOLE_KEYS.some((key) => finishing[key] !== 0);
  const touched = filledPlane(planes[0].width, planes[0].height, isWhole ? 1 : 0);
  let shown = changed(hazed, { localContrast, saturation, exposureEv: 0, warmth: 0 }, space, guide, extent);
  for (const change of actingChanges(finishing)) {
    if (!mayCover(change.mask.operations, extent.region)) continue;
    const share = maskOver(change, extent, shown[0]);
    if (share.data.every((value) => value === 0)) continue;
    for (let i = 0; i < share.data.length; i++) touched.data[i] = Math.max(touched.data[i], share.data[i]);
    const other = changed(shown, change, space, guide, extent);
    shown = shown.map((plane, c) => mixed(plane, other[c], share));
  }
  return { planes: shown, share: touched };
}

function maskOver({ mask }: LocalChange, { region, scale }: Extent, { width, height }: Plane): Plane {
  const drawn = drawMask(mask.operations, region, scale);
  const opacity = mask.opacityPercent / 100;
  const out = createPlane(width, height);
  for (let y = 0; y < Math.min(height, drawn.height); y++) {
    for (let x = 0; x < Math.min(width, drawn.width); x++) {
      out.data[y * width + x] = opacity * drawn.data[y * drawn.width + x];
    }
  }
  return out;
}

function mixed(plane: Plane, other: Plane, share: Plane): Plane {
  const out = createPlane(plane.width, plane.height);
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = plane.data[i] + share.data[i] * (other.data[i] - plane.data[i]);
  }
  return out;
}

type Change = Pick<LocalChange, 'exposureEv' | 'saturation' | 'warmth' | 'localContrast'>;

function changed(
  planes: Channels,
  { exposureEv, saturation, warmth, localContrast }: Change,
  space: Space,
  guide: FrameGuide | undefined,
  extent: Extent,
): Channels {
  if (exposureEv === 0 && saturation === 0 && warmth === 0 && localContrast === 0) return planes;
  const warm = balanced(planes, warmthMatrix(warmth, space));
  const coloured = saturation === 0 ? warm : balanced(warm, saturationMatrix(saturation, space.lumaWeights));
  const gain = 2 ** exposureEv;
  if (localContrast === 0) {
    return coloured.map((plane) => ({ ...plane, data: plane.data.map((value) => gain * value) }));
  }
  const light = contrastGains(planes, localContrast / 100, space, guide!, extent);
  for (let i = 0; i < light.data.length; i++) light.data[i] *= gain;
  return lit(coloured, light);
}

/** What differs from the brightness so many percent more or less of itself. */
function saturationMatrix(percent: number, lumaWeights: readonly number[]): readonly number[] {
  const strength = 1 + percent / 100;
  return [0, 1, 2].flatMap((row) =>
    lumaWeights.map((weight, column) => (1 - strength) * weight + (row === column ? strength : 0)),
  );
}

const MATRICES = {};

/** Above 0 the light is taken for colder than it was: the picture becomes warmer. */
function warmthMatrix(warmth: number, { toLinearSrgb }: Space): readonly number[] {
  if (warmth === 0 || !toLinearSrgb) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  return keptWith(MATRICES, contentKey([warmth, toLinearSrgb]), () =>
    adaptationOfChannels(lightOf(1e6 / (NEUTRAL_MIRED - (MOST_MIRED * warmth) / 100), 0), toLinearSrgb),
  );
}

function contrastGains(
  planes: Channels,
  amount: number,
  { lumaWeights }: Space,
  guide: FrameGuide,
  extent: Extent,
): Plane {
  const luma = lumaOf(planes, lumaWeights);
  const broad = broadOver(luma, broadOf(guide, lumaWeights, SHARE, SPREAD_EV), guide.frame, extent);
  const above = logLights(luma);
  const strength = MOST_CONTRAST * amount;
  for (let i = 0; i < above.data.length; i++) above.data[i] = strength * (above.data[i] - broad.data[i]);
  return lookedUp(above, POWERS_OF_2);
}

function hazeTaken(
  planes: Channels,
  amount: number,
  { lumaWeights }: Space,
  guide: FrameGuide,
  extent: Extent,
): Plane[] {
  const haze = hazeOf(guide, lumaWeights);
  const luma = lumaOf(planes, lumaWeights);
  const scene = broadOver(luma, haze, guide.frame, extent);
  return planes.map((plane, c) => {
    const out = createPlane(plane.width, plane.height);
    for (let i = 0; i < out.data.length; i++) {
      const through = Math.min(1, Math.max(0, scene.data[i]));
      out.data[i] = Math.max(0, withoutHaze(plane.data[i], haze.light[c], through, amount));
    }
    return out;
  });
}
