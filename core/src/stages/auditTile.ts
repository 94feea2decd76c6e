import { auditPlanes, type RegionAudit } from '../audit/auditPlanes';
import type { BlurPart } from '../audit/blurOver';
import { psfBetween } from '../audit/psfBetween';
import { brightnessOf, keptOpponent } from '../picture/opponentColours';
import type { CodePiece } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, wholeOf, type Region } from '../picture/region';
import { blurPartsOver, recoverOverField } from '../prescription/byPlace/blurField';
import { isBlurMethod, psfOf } from '../methods';
import { recover } from '../recover/recover';
import type { Recovered, RecoveryEffort, RecoverySettings } from '../recover/recovery';
import { reachOf, type Psf } from '../psf/psf';
import type { Prescription } from '../prescription/prescription';
import { CAUTIOUS_GUARD, CAUTIOUS_ITERATIONS, LEAST_TAKEN_BACK } from './cautious';
import { clippedOver } from './clipped';
import { keptDecoded } from './pipeline';
import { knownOver, layerAtWork, type Layer } from './recover';
import { seenAtWork, shownOf, type SolvedTile } from './solvedTile';
import type { RenderSource } from './stage';

/** Of a recovery without a blur model: the blur it seems to have taken back. */
export interface FittedBlur {
  readonly psf: Psf;
  /** Share of the change that this blur explains, 0..1. */
  readonly takenBack: number;
  /** Variance of what it leaves unexplained at the usual place. */
  readonly leftOver: number;
}

export interface TileAudit extends RegionAudit {
  readonly fitted: FittedBlur | null;
}

/** Power at frequency 1 where no reading kept it; natural pictures lie around it. */
export const USUAL_SIGNAL = 2e-5;
const MOST_LEFT_OVER = 2;
export const MOST_FITTED_REACH = 9;

/**
 * Audits one tile of the grid from what its rendering computed.
 *
 * @param solved - With the mask at work among its layers; it is the one that is judged.
 * @param piece - Holds at least the part of grow(tile, reachOfAudit) that lies in the frame.
 * @param bits - Of the original's samples.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function auditTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  solved: SolvedTile,
  bits: 8 | 16,
  effort: RecoveryEffort,
): TileAudit {
  const { wide } = solved;
  const { recovered } = solved.layers.find((layer) => layer.isAtWork)!;
  const layer = layerAtWork(prescription)!;
  const { settings } = layer;
  const original = solved.cleaned ? keptDecoded(piece, wide, source.space) : solved.base;
  const components = keptOpponent(original);
  const brightness = solved.cleaned ? brightnessOf(solved.base) : components[0];
  const shown = shownOf(solved);
  const full = recovered.free;
  const model = blurOf(source, layer, wide, brightness, () => brightnessOf(full), effort);
  const trusted = model.fitted === null || isTrusted(model.fitted, settings.noiseFloor[0]);
  const reach = Math.ceil(Math.max(0, ...model.parts.map(({ psf }) => reachOf(psf))));
  const inner = { ...tile, x: tile.x - wide.x, y: tile.y - wide.y };
  const audit = auditPlanes(
    {
      original,
      components,
      shown,
      full: trusted ? full : null,
      cautious: trusted
        ? () => cautiousOf(source, layer, wide, brightness, recovered, piece, model.fitted, effort)
        : null,
      solved: recovered,
      blur: model.parts,
      blurPx: settings.blurSizePx,
      signal: prescription.reading?.measured.signal ?? USUAL_SIGNAL,
      noise: settings.noise,
      noiseFloor: settings.noiseFloor,
      clipped: clippedOver(piece, wide),
      bits,
      alpha: seenAtWork(solved)!,
      believed: recovered.believed,
      masked: knownOver(source, layer, wide),
      inFrame: insideFrame(wide, grow(wholeOf(source.frame), -reach)),
      lumaWeights: source.space.lumaWeights,
      toLinearSrgb: source.space.toLinearSrgb,
      isClipped: false,
    },
    inner,
    tile,
    effort.kernels,
  );
  return { ...audit, fitted: model.fitted };
}

/** The fitted blur explains most of the change, or nearly every place: what it does not explain can then be told. */
export function isTrusted({ takenBack, leftOver }: FittedBlur, noiseVariance: number): boolean {
  return takenBack >= LEAST_TAKEN_BACK || leftOver <= MOST_LEFT_OVER * noiseVariance;
}

/** The blur that a mask's recovery takes back over `wide`; of a method without a blur model the one that fits. */
export function blurOf(
  source: RenderSource,
  { settings, field }: Layer,
  wide: Region,
  before: Plane,
  after: () => Plane,
  effort: RecoveryEffort,
): { parts: BlurPart[]; fitted: FittedBlur | null } {
  if (source.psf) return { parts: [{ psf: source.psf, share: null }], fitted: null };
  if (isBlurMethod(settings.method)) {
    return {
      parts: field ? blurPartsOver(field, settings, wide) : [{ psf: psfOf(settings), share: null }],
      fitted: null,
    };
  }
  const reach = Math.min(MOST_FITTED_REACH, Math.ceil(settings.blurSizePx) + 3);
  const fitted = psfBetween(before, after(), reach, effort.kernels);
  return { parts: [{ psf: fitted.psf, share: null }], fitted };
}

/** Brightness alone, recovered with less trust; over the tile's wide surroundings. */
function cautiousOf(
  source: RenderSource,
  layer: Layer,
  wide: Region,
  brightness: Plane,
  recovered: Recovered,
  piece: CodePiece,
  fitted: FittedBlur | null,
  effort: RecoveryEffort,
): Plane {
  const { settings } = layer;
  const given = fitted?.psf ?? source.psf;
  const field = given ? null : layer.field;
  const psf = given ?? (field ? undefined : psfOf(settings));
  const mean = (pick: (line: { a: number; b: number }) => number) =>
    settings.noise.reduce((sum, line) => sum + pick(line), 0) / settings.noise.length;
  const cautious: RecoverySettings = {
    ...settings,
    method: isBlurMethod(settings.method) ? settings.method : 'ordinary-softness',
    noise: [{ a: mean(({ a }) => a), b: mean(({ b }) => b) }],
    noiseFloor: [settings.noiseFloor[0]],
    noiseGuard: Math.min(100, settings.noiseGuard + CAUTIOUS_GUARD),
    haloLimitPercent: null,
    grainKeptPercent: 0,
    learnedTexture: false,
    badlySoft: false,
  };
  const input = {
    channels: [brightness],
    lumaWeights: [1],
    // What the recovery did not believe the cautious one need not look at again.
    known: field ? knownOver(source, layer, wide) : recovered.believed,
    clipped: clippedOver(piece, wide),
    originX: wide.x,
    originY: wide.y,
    psf,
  };
  const inner = { ...wide, x: 0, y: 0 };
  const { free } = recoverOverField(
    input,
    cautious,
    field,
    inner,
    { ...effort, iterations: CAUTIOUS_ITERATIONS },
    recover,
  );
  return free[0];
}

/** 1 where a sample of `wide` lies in `inside`. */
export function insideFrame(wide: Region, inside: Region): Plane {
  const out = createPlane(wide.width, wide.height);
  const part = intersect(wide, inside);
  for (let y = part.y; y < part.y + part.height; y++) {
    const from = (y - wide.y) * wide.width + part.x - wide.x;
    out.data.fill(1, from, from + part.width);
  }
  return out;
}
