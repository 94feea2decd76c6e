import { contentKey } from '../contentKey';
import { keyOfOperations } from '../mask/area';
import { drawMask } from '../mask/drawMask';
import type { Mask } from '../mask/maskOperation';
import { cropPlane } from '../picture/crop';
import { keptWith } from '../picture/kept';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, intersect, joined, placedIn, wholeOf, type Region } from '../picture/region';
import { fieldOf, recoverOverField, widestIn, type BlurField } from '../prescription/byPlace/blurField';
import { cleanedEverywhere } from '../prescription/cleaning';
import { plansOf } from '../prescription/masks';
import type { Prescription } from '../prescription/prescription';
import { QUIET } from '../prescription/quiet';
import { isBlurMethod, psfOf } from '../methods';
import { reachOf, type Psf } from '../psf/psf';
import { reachOfRecovery } from '../recover/reachOfRecovery';
import { recover } from '../recover/recover';
import type { RecoverySettings } from '../recover/recovery';
import { clippedOver } from './clipped';
import { atAmount, reachedBy, shownOf, type SolvedLayer, type SolvedTile } from './solvedTile';
import type { FrameStage, Passed, RenderSource, StageInput } from './stage';

/** One mask under which something is recovered. */
export interface Layer {
  readonly isAtWork: boolean;
  readonly mask: Mask;
  /** Without any mask the whole frame is recovered. */
  readonly coversAll: boolean;
  /** 0..100, over 0. */
  readonly amount: number;
  readonly settings: RecoverySettings;
  /** Null where one blur holds. */
  readonly field: BlurField | null;
}

export interface RecoverStageSettings {
  /** The lowest first. */
  readonly layers: readonly Layer[];
  /** What the audit expects of the sharp picture; see `Measured`. */
  readonly signal: number | undefined;
}

/** Each mask's recovery, from the cleaned frame and never from another recovery; later masks lie on top. */
export const recoverStage: FrameStage<RecoverStageSettings> = {
  name: 'recover',

  settingsOf: (prescription) => keptWith(prescription, 'recover', () => settingsOfStage(prescription)),

  reach: ({ layers }, source, effort) =>
    Math.max(marginIn(layers, source?.psf), ...layers.map((layer) => reachOfLayer(layer, source?.psf, effort))),

  regionNeeded(settings, wanted, source, effort) {
    const wide = grow(wanted, marginIn(settings.layers, source.psf));
    const areas = layersOver(settings, wanted, source).map((layer) => areaOf(layer, wide, wanted, source, effort));
    return areas.reduce(joined, wide);
  },

  keyOf: ({ layers, signal }) => [layers.map((layer) => [layer.amount, keyOfLayer(layer)]), signal],

  touches: (settings, region, source) => layersOver(settings, region, source).length > 0,

  apply(before, settings, wanted, input) {
    const { source, effort, keyBefore } = input;
    const touching = layersOver(settings, wanted, source);
    const solve = () => solveLayers(before, settings, touching, wanted, input);
    const atWork = touching.find(({ isAtWork }) => isAtWork);
    if (!effort.remembered || !atWork) return passedOn(solve());
    const keys = touching.map((layer) => [layer === atWork || layer.amount, keyOfLayer(layer)]);
    const { iterations, farthestPx } = effort;
    const key = contentKey([wanted, keyBefore, keys, settings.signal, iterations, farthestPx]);
    return passedOn(atAmount(effort.remembered(key, solve), atWork.amount));
  },
};

function settingsOfStage(prescription: Prescription): RecoverStageSettings | null {
  const layers = plansOf(prescription).flatMap((plan): Layer[] => {
    const settings = recoverySettingsOf(plan);
    if (!settings || plan.recovery!.amount.value === 0) return [];
    return [
      {
        isAtWork: plan === prescription,
        mask: plan.mask,
        coversAll: coversAll(plan),
        amount: plan.recovery!.amount.value,
        settings,
        field: fieldOf(plan, settings),
      },
    ];
  });
  if (layers.length === 0) return null;
  const signal = prescription.reading?.measured.signal;
  return { layers, signal };
}

/** Null where nothing is recovered under the mask at work. */
export const layerAtWork = (prescription: Prescription): Layer | null =>
  recoverStage.settingsOf(prescription)?.layers.find(({ isAtWork }) => isAtWork) ?? null;

/** The same whatever its amount. */
export function recoverySettingsOf(prescription: Prescription): RecoverySettings | null {
  if (!prescription.recovery) return null;
  const {
    amount: _,
    trialId: __,
    blurSizePx,
    directionDeg,
    noiseGuard,
    grainKeptPercent,
    ...plain
  } = prescription.recovery;
  const known = prescription.reading ?? QUIET;
  return {
    ...plain,
    blurSizePx: blurSizePx.value,
    directionDeg: directionDeg.value,
    noiseGuard: noiseGuard.value,
    grainKeptPercent: grainKeptPercent.value,
    noise: known.noise,
    grain: prescription.reading?.grain,
    noiseFloor: known.noiseFloor,
    isCleaned: cleanedEverywhere(prescription.cleaning) > 0,
    ...(prescription.reading?.hidesNoise ? { hidesNoise: true } : {}),
  };
}

/** Without any mask the whole frame is recovered; beside others an empty mask covers nothing. */
function coversAll({ mask, masksBelow, masksAbove }: Prescription): boolean {
  return mask.operations.length === 0 && !masksBelow?.length && !masksAbove?.length;
}

/** px around a tile that its audit looks at: evidence lies as far away as the blur reaches. 0 where there is none. */
export function auditMargin(prescription: Prescription, psf?: Psf): number {
  return marginIn(recoverStage.settingsOf(prescription)?.layers ?? [], psf);
}

/** Only the mask at work is audited. */
function marginIn(layers: readonly Layer[], psf?: Psf): number {
  const atWork = layers.find(({ isAtWork }) => isAtWork);
  if (!atWork) return 0;
  const widest = widestOf(atWork.settings, atWork.field);
  if (!psf && !isBlurMethod(widest.method)) return FITTED_MARGIN;
  return Math.max(30, Math.ceil(reachOf(psf ?? psfOf(widest))) + 14);
}

/** Where the blur must be fitted first. */
const FITTED_MARGIN = 40;

/** The settings with the largest blur that holds anywhere. */
const widestOf = (settings: RecoverySettings, field: BlurField | null) =>
  field ? widestIn(field, settings) : settings;

const reachOfLayer = (
  { settings, field }: Layer,
  psf: Psf | undefined,
  effort: Parameters<typeof reachOfRecovery>[2],
): number => reachOfRecovery(widestOf(settings, field), psf, effort);

function keyOfLayer({ isAtWork, mask, coversAll: all, settings, field }: Layer): unknown {
  const own = keptWith(settings, 'key', () => contentKey([settings, field]));
  return [isAtWork, all, keyOfOperations(mask.operations), mask.opacityPercent, own];
}

const layersOver = ({ layers }: RecoverStageSettings, region: Region, source: RenderSource): Layer[] =>
  layers.filter((layer) => maskOver(source, layer, region).data.some((value) => value > 0));

/** What a layer is solved over: the tile's wide surroundings, and of the frame as far as the recovery reaches. */
function areaOf(
  layer: Layer,
  wide: Region,
  wanted: Region,
  source: RenderSource,
  effort: Parameters<typeof reachOfRecovery>[2],
): Region {
  const seen = intersect(grow(wanted, reachOfLayer(layer, source.psf, effort)), wholeOf(source.frame));
  return joined(wide, seen);
}

function solveLayers(
  before: Passed,
  all: RecoverStageSettings,
  layers: readonly Layer[],
  wanted: Region,
  { source, piece, effort }: StageInput,
): SolvedTile {
  const wide = grow(wanted, marginIn(all.layers, source.psf));
  const within = (region: Region) =>
    keptWith(before.planes[0], contentKey(['part', region]), () =>
      before.planes.map((plane) => cropPlane(plane, placedIn(region, before.region))),
    );
  const solveOne = (layer: Layer): SolvedLayer => {
    const area = areaOf(layer, wide, wanted, source, effort);
    const input = {
      channels: within(area),
      lumaWeights: source.space.lumaWeights,
      known: knownOver(source, layer, area),
      clipped: clippedOver(piece, area),
      originX: area.x,
      originY: area.y,
      psf: source.psf,
    };
    const field = source.psf ? null : layer.field;
    return {
      isAtWork: layer.isAtWork,
      alpha: maskOver(source, layer, wide),
      share: layer.amount / 100,
      recovered: recoverOverField(
        input,
        layer.settings,
        field,
        placedIn(wide, area),
        effort,
        recover,
        placedIn(wanted, area),
      ),
    };
  };
  return {
    wide,
    base: within(wide),
    cleaned: before.touched && cropPlane(before.touched, placedIn(wide, before.region)),
    layers: layers.map(solveOne),
  };
}

const passedOn = (solved: SolvedTile): Passed => ({
  region: solved.wide,
  planes: shownOf(solved),
  touched: reachedBy(solved),
  solved,
});

/** Mask times opacity. */
export function maskOver(source: RenderSource, layer: Layer, region: Region): Plane {
  const opacity = layer.mask.opacityPercent / 100;
  const drawn = coverageOver(source, layer, region);
  return opacity === 1 ? drawn : { ...drawn, data: drawn.data.map((value) => value * opacity) };
}

function coverageOver(source: RenderSource, layer: Layer, region: Region): Plane {
  if (source.mask) return cropPlane(source.mask, region);
  return layer.coversAll ? filledPlane(region.width, region.height, 1) : drawMask(layer.mask.operations, region);
}

/** 1 where a sample lies in the frame and under the mask: only there the solver believes what it sees. */
export function knownOver(source: RenderSource, layer: Layer, area: Region): Plane {
  const coverage = coverageOver(source, layer, area);
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
