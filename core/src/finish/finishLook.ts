import { contentKey } from '../contentKey';
import { adaptationOfChannels } from '../correct/adaptation';
import { lightOf } from '../correct/daylight';
import { broadOf, broadOver, logLight, type FrameGuide } from '../correct/guide';
import type { Extent } from '../correct/extent';
import { quickPowerOf2 } from '../correct/quickPower';
import { drawMask, mayCover } from '../mask/drawMask';
import type { ColourSpace } from '../picture/colourSpace';
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
  const gain = 2 ** exposureEv;
  const contrast = localContrast !== 0 ? contrastGains(planes, localContrast / 100, space, guide!, extent) : null;
  const light = (i: number) => gain * (contrast ? contrast.data[i] : 1);
  if (planes.length === 1) return planes.map((plane) => ({ ...plane, data: plane.data.map((v, i) => v * light(i)) }));
  const m = warmthMatrix(warmth, space);
  const [wr, wg, wb] = space.lumaWeights;
  const strength = 1 + saturation / 100;
  const [red, green, blue] = planes.map(({ data }) => data);
  const out = planes.map(({ width, height }) => createPlane(width, height));
  for (let i = 0; i < red.length; i++) {
    const own = light(i);
    const r = m[0] * red[i] + m[1] * green[i] + m[2] * blue[i];
    const g = m[3] * red[i] + m[4] * green[i] + m[5] * blue[i];
    const b = m[6] * red[i] + m[7] * green[i] + m[8] * blue[i];
    const grey = wr * r + wg * g + wb * b;
    out[0].data[i] = own * (grey + strength * (r - grey));
    out[1].data[i] = own * (grey + strength * (g - grey));
    out[2].data[i] = own * (grey + strength * (b - grey));
  }
  return out;
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
  const out = createPlane(luma.width, luma.height);
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = quickPowerOf2(MOST_CONTRAST * amount * (logLight(luma.data[i]) - broad.data[i]));
  }
  return out;
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
