import { blendOver } from '../picture/arithmetic';
import type { ColourSpace } from '../picture/colourSpace';
import { decodePiece, encodeChannels, type CodePiece } from '../picture/picture';
import { contentKey } from '../contentKey';
import { cropPlane } from '../picture/crop';
import { keptWith } from '../picture/kept';
import { copyPlane, createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, intersect, joined, tilesTouching, wholeOf, type Region, type Size } from '../picture/region';
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
import { cleanedEverywhere, cleanPiece, keyOfCleaned, maskOfCleaning, QUIET_LINE, reachOfCleaningIn } from './cleaning';
import { plansOf } from './masks';
import type { Prescription } from './prescription';
import { fieldOf, recoverOverField, widestIn } from './blurField';

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

export const QUIET = { noise: [QUIET_LINE, QUIET_LINE, QUIET_LINE], noiseFloor: [1e-5, 1e-5, 1e-5] };

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
    isCleaned: cleanedEverywhere(prescription.cleaning) > 0,
  };
}

/** How many px around a tile the prescription needs to see. */
export function reachOfPrescription(prescription: Prescription, psf?: Psf, effort?: RecoveryEffort): number {
  const recovery = Math.max(0, ...layersOf(prescription).map((layer) => reachOfLayer(layer, psf, effort)));
  return recovery + reachOfCleaningIn(prescription);
}

function reachOfLayer(layer: Prescription, psf?: Psf, effort?: RecoveryEffort): number {
  return reachOfRecovery(widestOf(layer)!, psf, effort);
}

/** The masks under which something is recovered, the lowest first, each at work in its turn. */
function layersOf(prescription: Prescription): Prescription[] {
  return plansOf(prescription).filter(({ recovery }) => recovery !== null && recovery.amount.value > 0);
}

/** The settings with the largest blur that holds anywhere. */
function widestOf(prescription: Prescription): RecoverySettings | null {
  const settings = settingsOf(prescription);
  const field = settings ? fieldOf(prescription, settings) : null;
  return settings && field ? widestIn(field, settings) : settings;
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

/** What one mask does to a tile, over its wide surroundings. */
export interface SolvedLayer {
  readonly isAtWork: boolean;
  /** Mask times opacity. */
  readonly alpha: Plane;
  /** Amount, 0..1. */
  readonly share: number;
  readonly recovered: Recovered;
}

/** A tile before it is made into codes. All planes in linear light. */
export interface SolvedTile {
  /** The tile and what lies around it that the audit looks at; the planes below cover it. */
  readonly wide: Region;
  readonly base: readonly Plane[];
  /** 0..1: how far the base was cleaned; null where it was not. */
  readonly cleaned: Plane | null;
  /** The lowest first; masks that do not touch the tile have none. */
  readonly layers: readonly SolvedLayer[];
}

/** Null: nothing is done to this tile. */
export function solveTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  effort: RecoveryEffort,
): SolvedTile | null {
  const layers = layersOf(prescription).filter((layer) =>
    maskOver(source, layer, tile).data.some((value) => value > 0),
  );
  if (layers.length === 0 && !prescription.cleaning) return null;
  const margin = layers.length > 0 ? auditMargin(prescription, source.psf) : 0;
  const wide = grow(tile, margin);
  const areas = layers.map((layer) =>
    joined(wide, intersect(grow(tile, reachOfLayer(layer, source.psf, effort)), wholeOf(source.frame))),
  );
  const decoded = grow(areas.reduce(joined, wide), reachOfCleaningIn(prescription));
  const original = keptDecoded(piece, decoded, source.space);
  const noise = prescription.reading?.noise ?? QUIET.noise;
  const { channels: base, share } = prescription.cleaning
    ? keptWith(original[0], keyOfCleaned(prescription, noise, decoded), () =>
        cleanPiece(original, prescription, noise, source.space.lumaWeights, decoded, effort.kernels),
      )
    : { channels: original, share: null };
  const within = (region: Region) =>
    keptWith(base[0], contentKey(['part', region]), () =>
      base.map((plane) => cropPlane(plane, placedIn(region, decoded))),
    );
  return {
    wide,
    base: within(wide),
    cleaned: share && cropPlane(share, placedIn(wide, decoded)),
    layers: layers.map((layer, i) => ({
      isAtWork: layer === prescription,
      ...solveLayer(source, layer, piece, areas[i], wide, within(areas[i]), effort),
    })),
  };
}

function solveLayer(
  source: RenderSource,
  layer: Prescription,
  piece: CodePiece,
  area: Region,
  wide: Region,
  base: readonly Plane[],
  effort: RecoveryEffort,
): Omit<SolvedLayer, 'isAtWork'> {
  const settings = settingsOf(layer)!;
  const input = {
    channels: base,
    lumaWeights: source.space.lumaWeights,
    known: knownOver(source, layer, area),
    clipped: clippedOver(piece, area),
    originX: area.x,
    originY: area.y,
    psf: source.psf,
  };
  const field = source.psf ? null : fieldOf(layer, settings);
  return {
    alpha: maskOver(source, layer, wide),
    share: layer.recovery!.amount.value / 100,
    recovered: recoverOverField(input, settings, field, placedIn(wide, area), effort, recover),
  };
}

/** Linear light of a region of a piece; the planes are never changed after. */
export function keptDecoded(piece: CodePiece, region: Region, space: ColourSpace): readonly Plane[] {
  return keptWith(piece, contentKey(region), () => decodePiece(piece, region, space));
}

/** The same tile at another Amount of the mask at work: its answer needs not be found again. */
export function atAmount(solved: SolvedTile, amount: number): SolvedTile {
  const layers = solved.layers.map((layer) => (layer.isAtWork ? { ...layer, share: amount / 100 } : layer));
  return { ...solved, layers };
}

/**
 * What is published: each mask's answer over the base as far as its amount says, and over what lies below as far as the
 * mask says. So the answer under mask i counts αᵢ·Π(1 − αⱼ) over all masks j above.
 */
export function shownOf(solved: SolvedTile): readonly Plane[] {
  const known = shownTiles.get(solved);
  if (known) return known;
  const { base, layers } = solved;
  const shown = base.map((own, c) =>
    layers.reduce(
      (below, { alpha, share, recovered }) => blendOver(below, own, recovered.answer[c], alpha, share),
      own,
    ),
  );
  shownTiles.set(solved, shown);
  return shown;
}

/** The audit and the picture want the same. */
const shownTiles = new WeakMap<SolvedTile, readonly Plane[]>();

/** 1 − Π(1 − α): how far cleaning or any mask reaches. */
function reachedBy({ wide, cleaned, layers }: SolvedTile): Plane {
  if (!cleaned && layers.length === 1) return layers[0].alpha;
  const out = cleaned ? copyPlane(cleaned) : createPlane(wide.width, wide.height);
  for (const { alpha } of layers) {
    for (let i = 0; i < out.data.length; i++) out.data[i] = 1 - (1 - out.data[i]) * (1 - alpha.data[i]);
  }
  return out;
}

/** How far the mask at work shows through those above it. */
export function seenAtWork({ layers }: SolvedTile): Plane | null {
  const at = layers.findIndex((layer) => layer.isAtWork);
  if (at < 0) return null;
  return layers
    .slice(at + 1)
    .reduce(
      (seen, { alpha }) => ({ ...seen, data: seen.data.map((value, i) => value * (1 - alpha.data[i])) }),
      layers[at].alpha,
    );
}

function placedIn(region: Region, outer: Region): Region {
  return { ...region, x: region.x - outer.x, y: region.y - outer.y };
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
  keepUntouched(codes, original, cropPlane(reachedBy(solved), inner), piece.channels);
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
  const layers = layersOf(prescription);
  const cleaned = maskOfCleaning(prescription);
  if (layers.some(coversAll) || (prescription.cleaning && !cleaned)) return tiles;
  const masks = layers.map(({ mask }) => mask).concat(cleaned ?? []);
  return tiles.filter((tile) =>
    masks.some(({ operations }) => drawMask(operations, tile).data.some((value) => value > 0)),
  );
}

function copyCodes({ region, channels, codes }: CodePiece, tile: Region): Uint16Array {
  const out = new Uint16Array(tile.width * tile.height * channels);
  for (let row = 0; row < tile.height; row++) {
    const from = ((tile.y + row - region.y) * region.width + tile.x - region.x) * channels;
    out.set(codes.subarray(from, from + tile.width * channels), row * tile.width * channels);
  }
  return out;
}

/** Without any mask the whole frame is recovered; beside others an empty mask covers nothing. */
function coversAll({ mask, masksBelow, masksAbove }: Prescription): boolean {
  return mask.operations.length === 0 && !masksBelow?.length && !masksAbove?.length;
}

export function maskOver(source: RenderSource, prescription: Prescription, region: Region): Plane {
  const opacity = prescription.mask.opacityPercent / 100;
  const drawn = coverageOver(source, prescription, region);
  return opacity === 1 ? drawn : { ...drawn, data: drawn.data.map((value) => value * opacity) };
}

function coverageOver(source: RenderSource, prescription: Prescription, region: Region): Plane {
  if (source.mask) return cropPlane(source.mask, region);
  return coversAll(prescription)
    ? filledPlane(region.width, region.height, 1)
    : drawMask(prescription.mask.operations, region);
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

/** 1 where a channel of the photograph reached white; never changed after. */
export function clippedOver(piece: CodePiece, area: Region): Uint8Array {
  return keptWith(piece, contentKey(['clipped', area]), () => reachedWhite(piece, area));
}

function reachedWhite(piece: CodePiece, area: Region): Uint8Array {
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

function keepUntouched(codes: Uint16Array, original: Uint16Array, alpha: Plane, channels: number): void {
  for (let i = 0; i < alpha.data.length; i++) {
    if (alpha.data[i] > 0) continue;
    for (let c = 0; c < channels; c++) codes[i * channels + c] = original[i * channels + c];
  }
}
