import { cleanChannels, reachOfCleaning, type CleanOptions } from '../clean/cleanChannels';
import type { Kernels } from '../kernels';
import { contentKey } from '../contentKey';
import { keyOfOperations } from '../mask/area';
import { drawMask } from '../mask/drawMask';
import type { Mask } from '../mask/maskOperation';
import { trapezoid } from '../mask/ranges';
import { stabilised } from '../clean/anscombe';
import { checkCleaning, CHECK_MARGIN, type CleaningCheck } from '../audit/cleaningCheck';
import type { ColourSpace } from '../picture/colourSpace';
import { cropPlane } from '../picture/crop';
import { brightnessOf } from '../picture/opponentColours';
import { decodePiece, encodeChannels, lumaOf, type Channels, type CodePiece } from '../picture/picture';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, type Region } from '../picture/region';
import { srgbEncode } from '../picture/toneCurve';
import { noiseAtMidTonePercent, type NoiseLine } from '../read/noise';
import { plansOf } from './masks';
import type { AcceptedReading, Cleaning, Prescription } from './prescription';

/** Without a reading nothing is known of the noise: this is taken, a clean 8-bit picture. */
export const QUIET_LINE: NoiseLine = { a: 0, b: 1e-5 };

const auto = (value: number) => ({ value, auto: true });

/** Grain that is left on Automatic, % of clipping at mid-tone: what a frame at low ISO shows anyway. */
const WANTED_GRAIN_PERCENT = 0.4;
const USUAL_DETAIL_KEPT = 20;
/** Colour noise at twice the scale that stands so far above white noise makes blotches. */
const BLOTCHY = 1.5;

/** Noise of brightness at mid-tone as it is cleaned, % of clipping: grain that is not white is stronger than its finest part. */
export function noiseToCleanPercent(reading: AcceptedReading): number {
  const { grain, measured } = reading;
  return grain ? noiseAtMidTonePercent(grain.noise, REC709_LUMA) : measured.noisePercent;
}

const REC709_LUMA = [0.2126, 0.7152, 0.0722];

/** Every setting on Automatic: as much noise as was measured, a little of it kept. */
export function automaticCleaning(reading: AcceptedReading | null): Cleaning {
  const noise = reading ? noiseToCleanPercent(reading) : 0;
  const kept = noise > 0 ? Math.round((100 * WANTED_GRAIN_PERCENT) / noise) : USUAL_DETAIL_KEPT;
  const isBlotchy = (reading?.grain?.colourByScale[0] ?? 1) > BLOTCHY;
  return {
    luminance: auto(100),
    colour: auto(100),
    blotchPx: auto(isBlotchy ? 16 : 8),
    detailKept: auto(Math.min(50, Math.max(10, kept))),
    channelPercents: (reading?.noise ?? []).map(() => 100),
    band: null,
    maskId: null,
  };
}

/** Share of the noise of brightness that is taken out everywhere, 0..1; where only a part of the frame is cleaned, none. */
export function cleanedEverywhere(cleaning: Cleaning | null): number {
  if (!cleaning || cleaning.band || cleaning.maskId) return 0;
  const { luminance, detailKept, channelPercents } = cleaning;
  const least = Math.min(100, ...channelPercents) / 100;
  return Math.min(1, luminance.value / 100) * (1 - detailKept.value / 100) * least;
}

export function reachOfCleaningIn({ cleaning }: Prescription): number {
  return cleaning ? reachOfCleaning(cleaning.blotchPx.value) : 0;
}

/** The mask that limits the cleaning; null: none does, the whole frame is cleaned. */
export function maskOfCleaning(prescription: Prescription): Mask | null {
  const id = prescription.cleaning?.maskId ?? null;
  const found = id === null ? undefined : plansOf(prescription).find(({ mask }) => mask.id === id);
  return found && found.mask.operations.length > 0 ? found.mask : null;
}

interface CleanedPiece {
  readonly channels: Plane[];
  /** 0..1: how far a sample was cleaned; where it is 0 the sample is as it was. */
  readonly share: Plane;
}

/** Cleans linear channels that cover `region` of the frame as the prescription says. */
export function cleanPiece(
  channels: Channels,
  prescription: Prescription,
  noise: readonly NoiseLine[],
  lumaWeights: readonly number[],
  region: Region,
  kernels: Kernels,
): CleanedPiece {
  const cleaning = prescription.cleaning!;
  const clean = cleanChannels(
    channels,
    cleanOptionsOf(cleaning, noise, prescription.reading),
    region.x,
    region.y,
    kernels,
  );
  const share = cleanedShare(clean, cleaning, lumaWeights, maskOfCleaning(prescription), region);
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

/** Everything but the channels that `cleanPiece` depends on. */
export function keyOfCleaned(prescription: Prescription, noise: readonly NoiseLine[], region: Region): string {
  const { cleaning, reading } = prescription;
  return contentKey([
    'cleaned',
    cleaning,
    keyOfOperations(maskOfCleaning(prescription)?.operations ?? []),
    noise,
    reading?.grain,
    region,
  ]);
}

/** What one tile looks like before and after cleaning alone, and what was taken along. */
export interface CleanedTile {
  readonly original: Uint16Array;
  readonly cleaned: Uint16Array;
  readonly check: CleaningCheck;
}

/** px around a tile that `cleanTile` looks at. */
export function reachOfCleanTile(prescription: Prescription): number {
  return reachOfCleaningIn(prescription) + CHECK_MARGIN;
}

/**
 * Cleans a tile, recovers nothing, and checks what was removed.
 *
 * @param piece - Holds at least the part of grow(tile, reachOfCleanTile) that lies in the frame.
 */
export function cleanTile(
  space: ColourSpace,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  kernels: Kernels,
): CleanedTile {
  const wide = grow(tile, reachOfCleanTile(prescription));
  const channels = decodePiece(piece, wide, space);
  const { reading } = prescription;
  const noise = reading?.noise ?? channels.map(() => QUIET_LINE);
  const cleaned = cleanPiece(channels, prescription, noise, space.lumaWeights, wide, kernels);
  const lines = (reading?.grain?.noise ?? noise).map(({ a, b }) => ({ a, b: Math.max(b, 1e-9) }));
  const brightness = (planes: Channels) => brightnessOf(planes.map((plane, c) => stabilised(plane, lines[c])));
  const detailKept = prescription.cleaning!.detailKept.value / 100;
  const kept = { ...cleaned.share, data: cleaned.share.data.map((share) => 1 - share * (1 - detailKept)) };
  const inner = { ...tile, x: tile.x - wide.x, y: tile.y - wide.y };
  const encode = (planes: Channels) =>
    encodeChannels(
      planes.map((plane) => cropPlane(plane, inner)),
      space,
    );
  return {
    original: encode(channels),
    cleaned: encode(cleaned.channels),
    check: checkCleaning(
      brightness(channels),
      brightness(cleaned.channels),
      kept,
      reading?.grain?.brightness,
      inner,
      tile,
    ),
  };
}

function cleanOptionsOf(
  { luminance, colour, blotchPx }: Cleaning,
  noise: readonly NoiseLine[],
  reading: AcceptedReading | null,
): CleanOptions {
  return {
    noise,
    luminance: luminance.value / 100,
    colour: colour.value / 100,
    blotchPx: blotchPx.value,
    grain: reading?.grain,
  };
}

/** Tone is judged on what is clean already, or grain would draw its own pattern into the band. */
function cleanedShare(
  clean: Channels,
  { band }: Cleaning,
  lumaWeights: readonly number[],
  mask: Mask | null,
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
