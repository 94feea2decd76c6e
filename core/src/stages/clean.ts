import { cleanChannels, reachOfCleaning, type CleanOptions } from '../clean/cleanChannels';
import { contentKey } from '../contentKey';
import type { Kernels } from '../kernels';
import { keyOfOperations } from '../mask/area';
import { drawMask } from '../mask/drawMask';
import type { Mask } from '../mask/maskOperation';
import { trapezoid } from '../mask/ranges';
import type { NoiseLine } from '../noise/noise';
import { keptWith } from '../picture/kept';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, type Region } from '../picture/region';
import { srgbEncode } from '../picture/toneCurve';
import { maskOfCleaning } from '../prescription/cleaning';
import type { Cleaning } from '../prescription/prescription';
import { QUIET } from '../prescription/quiet';
import type { Grain } from '../noise/grain';
import type { FrameStage } from './stage';

export interface CleanSettings {
  readonly cleaning: Cleaning;
  /** Null: everywhere. */
  readonly mask: Mask | null;
  readonly noise: readonly NoiseLine[];
  readonly grain: Grain | undefined;
}

/** Noise is cleaned before anything is recovered. */
export const cleanStage: FrameStage<CleanSettings> = {
  name: 'clean',

  settingsOf(prescription) {
    const { cleaning, reading } = prescription;
    if (!cleaning) return null;
    const noise = reading?.noise ?? QUIET.noise;
    return { cleaning, mask: maskOfCleaning(prescription), noise, grain: reading?.grain };
  },

  reach: ({ cleaning }) => reachOfCleaning(cleaning.blotchPx.value),

  regionNeeded: (settings, wanted) => grow(wanted, cleanStage.reach(settings)),

  keyOf: ({ cleaning, mask, noise, grain }) => [cleaning, keyOfOperations(mask?.operations ?? []), noise, grain],

  touches: ({ mask }, region) => !mask || drawMask(mask.operations, region).data.some((value) => value > 0),

  apply({ region, planes }, settings, _wanted, { source, effort }) {
    const key = contentKey(['cleaned', cleanStage.keyOf(settings), region]);
    const { channels, share } = keptWith(planes[0], key, () =>
      cleanPiece(planes, settings, source.space.lumaWeights, region, effort.kernels),
    );
    return { region, planes: channels, touched: share };
  },
};

interface CleanedPiece {
  readonly channels: Plane[];
  /** 0..1: how far a sample was cleaned; where it is 0 the sample is as it was. */
  readonly share: Plane;
}

/** Cleans linear channels that cover `region` of the frame. */
function cleanPiece(
  channels: Channels,
  settings: CleanSettings,
  lumaWeights: readonly number[],
  region: Region,
  kernels: Kernels,
): CleanedPiece {
  const { cleaning } = settings;
  const clean = cleanChannels(channels, optionsOf(settings), region.x, region.y, kernels);
  const share = cleanedShare(clean, settings, lumaWeights, region);
  const taken = 1 - cleaning.detailKept.value / 100;
  const mixed = channels.map((plane, c) => {
    const out = createPlane(plane.width, plane.height);
    const most = (taken * (cleaning.channelPercents[c] ?? 100)) / 100;
    for (let i = 0; i < out.data.length; i++) {
      out.data[i] = plane.data[i] + most * share.data[i] * (clean[c].data[i] - plane.data[i]);
    }
    return out;
  });
  return { channels: mixed, share };
}

function optionsOf({ cleaning, noise, grain }: CleanSettings): CleanOptions {
  const { luminance, colour, blotchPx } = cleaning;
  return { noise, luminance: luminance.value / 100, colour: colour.value / 100, blotchPx: blotchPx.value, grain };
}

/** Tone is judged on what is clean already, or grain would draw its own pattern into the band. */
function cleanedShare(
  clean: Channels,
  { cleaning: { band }, mask }: CleanSettings,
  lumaWeights: readonly number[],
  region: Region,
): Plane {
  const share = mask ? drawMask(mask.operations, region) : filledPlane(region.width, region.height, 1);
  if (!band) return share;
  const luma = lumaOf(clean, lumaWeights).data;
  for (let i = 0; i < luma.length; i++) {
    share.data[i] *= trapezoid(srgbEncode(Math.min(1, Math.max(0, luma[i]))), band);
  }
  return share;
}
