import { contentKey } from '../contentKey';
import { needsBroad } from '../correct/correctLight';
import { needsGuide } from '../finish/finishLook';
import { cropPlane } from '../picture/crop';
import { keptWith } from '../picture/kept';
import { decodePiece, type CodePiece } from '../picture/picture';
import { placedIn, tilesTouching, wholeOf, type Region, type Size } from '../picture/region';
import type { ColourSpace } from '../picture/colourSpace';
import type { Plane } from '../picture/plane';
import type { Prescription } from '../prescription/prescription';
import type { RecoveryEffort } from '../recover/recovery';
import { cleanStage } from './clean';
import { correctStage } from './correct';
import { finishStage } from './finish';
import { geometryStage } from './geometry';
import { mendStage } from './mend';
import { outputSharpeningStage } from './outputSharpening';
import { recoverStage } from './recover';
import { smallerStage } from './smaller';
import type { SolvedTile } from './solvedTile';
import type { FrameStage, Passed, PictureStage, RenderSource, StageEffort } from './stage';
import { vignetteStage } from './vignette';

/** In this order, on the frame's grid. */
export const FRAME_STAGES = [cleanStage, recoverStage, mendStage, correctStage, finishStage] as FrameStage[];
/** After them, each making a grid of its own. */
export const PICTURE_STAGES = [geometryStage, vignetteStage, smallerStage, outputSharpeningStage] as PictureStage[];

interface Asked<Stage> {
  readonly stage: Stage;
  readonly settings: unknown;
}

const asked = <Stage extends { settingsOf(prescription: Prescription): unknown }>(
  stages: readonly Stage[],
  prescription: Prescription,
): Asked<Stage>[] =>
  stages.flatMap((stage) => {
    const settings = stage.settingsOf(prescription);
    return settings === null ? [] : [{ stage, settings }];
  });

/** Whether the frame's small picture has to be at hand. */
export const needsFrameGuide = ({ corrections, finishing }: Prescription): boolean =>
  (corrections !== undefined && needsBroad(corrections)) || (finishing !== undefined && needsGuide(finishing));

/** Nothing is done to the frame's own px. */
export const isUntouched = (prescription: Prescription): boolean => asked(FRAME_STAGES, prescription).length === 0;

/** px around a tile that its result may depend on. */
export function reachOfPrescription(
  prescription: Prescription,
  source?: Pick<RenderSource, 'psf'>,
  effort?: Pick<RecoveryEffort, 'farthestPx'>,
): number {
  return asked(FRAME_STAGES, prescription).reduce(
    (sum, { stage, settings }) => sum + stage.reach(settings, source, effort),
    0,
  );
}

/** Equal where the px of every region are equal, and what the audit says of them. */
export const keyOfPixels = (prescription: Prescription): string =>
  contentKey(asked(FRAME_STAGES, prescription).map(({ stage, settings }) => [stage.name, stage.keyOf(settings)]));

interface Step extends Asked<FrameStage> {
  readonly wanted: Region;
}

/** What each stage has to give for a tile, and what the first of them has to be given. */
function stepsOver(source: RenderSource, prescription: Prescription, tile: Region, effort: StageEffort) {
  const steps: Step[] = [];
  let wanted = tile;
  for (const { stage, settings } of asked(FRAME_STAGES, prescription).reverse()) {
    if (!stage.touches(settings, wanted, source)) continue;
    steps.unshift({ stage, settings, wanted });
    wanted = stage.regionNeeded(settings, wanted, source, effort);
  }
  return { steps, decoded: wanted };
}

/** The part of the original that a tile's result is made from; may reach past the frame. */
export const regionNeeded = (
  source: RenderSource,
  prescription: Prescription,
  tile: Region,
  effort: StageEffort,
): Region => stepsOver(source, prescription, tile, effort).decoded;

/**
 * Takes a tile of the original through all stages of the frame's grid. Null: nothing is done to it.
 *
 * @param piece - Holds at least the part of `regionNeeded` that lies in the frame.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function passThrough(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  effort: StageEffort,
): Passed | null {
  const { steps, decoded } = stepsOver(source, prescription, tile, effort);
  if (steps.length === 0) return null;
  const original: Passed = { region: decoded, planes: keptDecoded(piece, decoded, source.space), touched: null };
  const keys: unknown[] = [];
  return steps.reduce((before, { stage, settings, wanted }) => {
    const after = stage.apply(before, settings, wanted, { source, piece, tile, effort, keyBefore: [...keys] });
    keys.push([stage.name, stage.keyOf(settings)]);
    return after;
  }, original);
}

/** What the recovery alone found in a tile, for its audit; null where it does nothing there. */
export const solveTile = (...asked: Parameters<typeof passThrough>): SolvedTile | null =>
  passThrough(...asked)?.solved ?? null;

/** Linear light of a region of a piece; the planes are never changed after. */
export function keptDecoded(piece: CodePiece, region: Region, space: ColourSpace): readonly Plane[] {
  return keptWith(piece, contentKey(region), () => decodePiece(piece, region, space));
}

/** What was passed on, cut to `region`. */
export const cutTo = ({ region: covered, planes }: Passed, region: Region): Plane[] =>
  planes.map((plane) => cropPlane(plane, placedIn(region, covered)));

/** The tiles of the fixed grid in which the prescription can change anything; all others are the original's own. */
export function tilesToRender(prescription: Prescription, frame: Size, source?: Partial<RenderSource>): Region[] {
  const stages = asked(FRAME_STAGES, prescription);
  const around = { ...source, frame } as RenderSource;
  return tilesTouching(wholeOf(frame), frame).filter((tile) =>
    stages.some(({ stage, settings }) => stage.touches(settings, tile, around)),
  );
}

/** Whether the finished picture has other px than the frame. */
export const changesGrid = (prescription: Prescription): boolean => asked(PICTURE_STAGES, prescription).length > 0;

/**
 * The size of the finished picture.
 *
 * @throws CoreError where nothing would be left of the frame.
 */
export function sizeAfter(prescription: Prescription, frame: Size): Size {
  const { width, height } = asked(PICTURE_STAGES, prescription).reduce<Size>(
    (size, { stage, settings }) => stage.sizeAfter(settings, size),
    frame,
  );
  return { width, height };
}

/** The part of the frame that a region of the finished picture is made from. */
export function frameRegionFor(prescription: Prescription, frame: Size, region: Region): Region {
  return pictureSteps(prescription, frame)
    .reverse()
    .reduce((wanted, { stage, settings, before }) => stage.regionNeeded(settings, wanted, before), region);
}

/**
 * A region of the finished picture.
 *
 * @param planes - Cover `frameRegionFor` it: what the frame's stages gave, linear light.
 */
export function pictureOver(
  planes: readonly Plane[],
  prescription: Prescription,
  frame: Size,
  region: Region,
): readonly Plane[] {
  const steps = pictureSteps(prescription, frame);
  const wanted = steps.map((_, i) =>
    steps
      .slice(i + 1)
      .reverse()
      .reduce((inner, { stage, settings, before }) => stage.regionNeeded(settings, inner, before), region),
  );
  return steps.reduce<readonly Plane[]>(
    (own, { stage, settings, before }, i) => stage.apply(own, settings, wanted[i], before),
    planes,
  );
}

function pictureSteps(prescription: Prescription, frame: Size) {
  let before = frame;
  return asked(PICTURE_STAGES, prescription).map((one) => {
    const step = { ...one, before };
    before = one.stage.sizeAfter(one.settings, before);
    return step;
  });
}
