import { cleanChannels, CLEAN_REACH } from '../clean/cleanChannels';
import type { ColourSpace } from '../picture/colourSpace';
import { decodePiece, encodeChannels, type CodePiece } from '../picture/picture';
import { cropPlane } from '../picture/crop';
import { copyPlane, createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, intersect, tilesTouching, wholeOf, type Region, type Size } from '../picture/region';
import { drawMask } from '../mask/drawMask';
import { reachOf, type Psf } from '../psf/psf';
import { WHITE_CODE } from '../read/tones';
import { isBlurMethod, psfOf } from '../recover/blurModel';
import {
  reachOfRecovery,
  recover,
  type Recovered,
  type RecoveryEffort,
  type RecoverySettings,
} from '../recover/recover';
import type { Prescription } from './prescription';
import { fieldOf, recoverOverField } from './sizeField';

/** What a rendering works on besides the prescription. */
export interface RenderSource {
  readonly frame: Size;
  readonly space: ColourSpace;
  /** A mask drawn elsewhere (0..1, size of the frame); replaces the prescription's own. */
  readonly mask?: Plane;
  readonly psf?: Psf;
}

export interface RenderedTile {
  /** Interleaved 16-bit codes of the tile. */
  readonly codes: Uint16Array;
  /** False: every code is the original's own. */
  readonly changed: boolean;
}

/** Without a reading nothing is known of the noise: this is taken, a clean 8-bit picture. */
export const QUIET = { noise: [1e-5, 1e-5, 1e-5].map((b) => ({ a: 0, b })), noiseFloor: [1e-5, 1e-5, 1e-5] };

export function settingsOf(prescription: Prescription): RecoverySettings | null {
  const { recovery } = prescription;
  if (!recovery) return null;
  const known = prescription.reading ?? QUIET;
  return {
    method: recovery.method,
    blurSizePx: recovery.blurSizePx.value,
    directionDeg: recovery.directionDeg.value,
    path: recovery.path,
    blades: recovery.blades,
    bladesDeg: recovery.bladesDeg,
    noiseGuard: recovery.noiseGuard.value,
    haloLimitPercent: recovery.haloLimitPercent,
    grainKeptPercent: recovery.grainKeptPercent.value,
    noise: known.noise,
    noiseFloor: known.noiseFloor,
  };
}

/** How many px around a tile the prescription needs to see. */
export function reachOfPrescription(prescription: Prescription, psf?: Psf): number {
  const recovery = recoversAt(prescription) ? reachOfRecovery(widestOf(prescription)!, psf) : 0;
  return recovery + (prescription.cleaning ? CLEAN_REACH : 0);
}

function recoversAt(prescription: Prescription): boolean {
  return prescription.recovery !== null && prescription.recovery.amount.value > 0;
}

/** The settings with the largest blur that holds anywhere. */
function widestOf(prescription: Prescription): RecoverySettings | null {
  const settings = settingsOf(prescription);
  const field = settings ? fieldOf(prescription, settings) : null;
  return settings && field ? { ...settings, blurSizePx: Math.max(...field.ladder) } : settings;
}

/**
 * One tile of the result: a pure function of the original, the prescription and the region. Where the mask is 0 (or
 * nothing is prescribed) the original's code values are copied, never decoded and encoded again.
 *
 * @param piece - Holds at least the part of grow(tile, reachOfPrescription) that lies in the frame.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function renderTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  effort: RecoveryEffort,
): RenderedTile {
  return encodeTile(source, piece, tile, solveTile(source, prescription, piece, tile, effort));
}

/** A tile before it is made into codes. All planes in linear light. */
export interface SolvedTile {
  /** The tile and what lies around it that the audit looks at; the planes below cover it. */
  readonly wide: Region;
  readonly base: readonly Plane[];
  readonly isCleaned: boolean;
  /** Mask times opacity. */
  readonly alpha: Plane;
  readonly share: number;
  readonly recovered: Recovered | null;
}

/** Null: nothing is done to this tile. */
export function solveTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  effort: RecoveryEffort,
): SolvedTile | null {
  const settings = settingsOf(prescription);
  const share = recoversAt(prescription) ? prescription.recovery!.amount.value / 100 : 0;
  const recovers =
    settings !== null && share > 0 && maskOver(source, prescription, tile).data.some((value) => value > 0);
  if (!recovers && !prescription.cleaning) return null;

  const margin = recovers ? auditMargin(prescription, source.psf) : 0;
  const wide = grow(tile, margin);
  const area = grow(tile, Math.max(margin, recovers ? reachOfPrescription(prescription, source.psf) : CLEAN_REACH));
  let base = decodePiece(piece, area, source.space);
  if (prescription.cleaning) {
    const options = {
      noise: prescription.reading?.noise ?? QUIET.noise,
      detailKeptPercent: prescription.cleaning.detailKeptPercent,
    };
    base = cleanChannels(base, options, area.x, area.y, effort.kernels);
  }
  const inner = { ...wide, x: wide.x - area.x, y: wide.y - area.y };
  const input = {
    channels: base,
    lumaWeights: source.space.lumaWeights,
    known: knownOver(source, prescription, area),
    clipped: clippedOver(piece, area),
    originX: area.x,
    originY: area.y,
    psf: source.psf,
  };
  return {
    wide,
    base: base.map((plane) => cropPlane(plane, inner)),
    isCleaned: prescription.cleaning !== null,
    alpha: maskOver(source, prescription, wide),
    share,
    recovered: recovers
      ? recoverOverField(input, settings, source.psf ? null : fieldOf(prescription, settings), inner, effort, recover)
      : null,
  };
}

/** What is published: the base, and over it the answer as far as amount and mask say. */
export function shownOf({ base, alpha, share, recovered }: SolvedTile): Plane[] {
  const shown = base.map(copyPlane);
  recovered?.answer.forEach((plane, c) => blend(shown[c], plane, alpha, share));
  return shown;
}

export function encodeTile(
  source: RenderSource,
  piece: CodePiece,
  tile: Region,
  solved: SolvedTile | null,
): RenderedTile {
  const original = copyCodes(piece, tile);
  if (!solved) return { codes: original, changed: false };
  const inner = { ...tile, x: tile.x - solved.wide.x, y: tile.y - solved.wide.y };
  const codes = encodeChannels(
    shownOf(solved).map((plane) => cropPlane(plane, inner)),
    source.space,
  );
  if (!solved.isCleaned) keepUntouched(codes, original, cropPlane(solved.alpha, inner), piece.channels);
  return { codes, changed: true };
}

/** px around a tile that its audit looks at: evidence lies as far away as the blur reaches. */
export function auditMargin(prescription: Prescription, psf?: Psf): number {
  const widest = widestOf(prescription);
  if (!widest) return 0;
  if (!psf && !isBlurMethod(widest.method)) return FITTED_MARGIN;
  return Math.max(30, Math.ceil(reachOf(psf ?? psfOf(widest))) + 14);
}

/** Where the blur must be fitted first. */
const FITTED_MARGIN = 40;

/** The tiles of the fixed grid in which the prescription can change anything; all others are the original's own. */
export function tilesToRender(prescription: Prescription, frame: Size): Region[] {
  const tiles = tilesTouching(wholeOf(frame), frame);
  if (prescription.cleaning) return tiles;
  if (!prescription.recovery || prescription.recovery.amount.value === 0) return [];
  if (!hasMask(prescription)) return tiles;
  return tiles.filter((tile) => drawMask(prescription.mask.operations, tile).data.some((value) => value > 0));
}

function copyCodes({ region, channels, codes }: CodePiece, tile: Region): Uint16Array {
  const out = new Uint16Array(tile.width * tile.height * channels);
  for (let row = 0; row < tile.height; row++) {
    const from = ((tile.y + row - region.y) * region.width + tile.x - region.x) * channels;
    out.set(codes.subarray(from, from + tile.width * channels), row * tile.width * channels);
  }
  return out;
}

/** Whether the prescription has a mask at all; without one the whole frame is recovered. */
export function hasMask(prescription: Prescription): boolean {
  return prescription.mask.operations.length > 0;
}

export function maskOver(source: RenderSource, prescription: Prescription, region: Region): Plane {
  const opacity = prescription.mask.opacityPercent / 100;
  const drawn = coverageOver(source, prescription, region);
  return opacity === 1 ? drawn : { ...drawn, data: drawn.data.map((value) => value * opacity) };
}

function coverageOver(source: RenderSource, prescription: Prescription, region: Region): Plane {
  if (source.mask) return cropPlane(source.mask, region);
  return hasMask(prescription)
    ? drawMask(prescription.mask.operations, region)
    : filledPlane(region.width, region.height, 1);
}

/** 1 where a sample lies in the frame and under the mask: only there the solver believes what it sees. */
export function knownOver(source: RenderSource, prescription: Prescription, area: Region): Plane {
  const coverage = coverageOver(source, prescription, area);
  const known = createPlane(area.width, area.height);
  const inside = intersect(area, wholeOf(source.frame));
  for (let y = inside.y; y < inside.y + inside.height; y++) {
    for (let x = inside.x; x < inside.x + inside.width; x++) {
      const i = (y - area.y) * area.width + x - area.x;
      known.data[i] = coverage.data[i] > 0.5 ? 1 : 0;
    }
  }
  return known;
}

export function clippedOver(piece: CodePiece, area: Region): Uint8Array {
  const clipped = new Uint8Array(area.width * area.height);
  const inside = intersect(area, piece.region);
  for (let y = inside.y; y < inside.y + inside.height; y++) {
    for (let x = inside.x; x < inside.x + inside.width; x++) {
      const from = ((y - piece.region.y) * piece.region.width + x - piece.region.x) * piece.channels;
      for (let c = 0; c < piece.channels; c++) {
        if (piece.codes[from + c] >= WHITE_CODE) clipped[(y - area.y) * area.width + x - area.x] = 1;
      }
    }
  }
  return clipped;
}

function blend(base: Plane, answer: Plane, alpha: Plane, share: number): void {
  for (let i = 0; i < base.data.length; i++) {
    base.data[i] += share * alpha.data[i] * (answer.data[i] - base.data[i]);
  }
}

function keepUntouched(codes: Uint16Array, original: Uint16Array, alpha: Plane, channels: number): void {
  for (let i = 0; i < alpha.data.length; i++) {
    if (alpha.data[i] > 0) continue;
    for (let c = 0; c < channels; c++) codes[i * channels + c] = original[i * channels + c];
  }
}
