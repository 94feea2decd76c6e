import type { FrameGuide } from '../correct/guide';
import type { ColourSpace } from '../picture/colourSpace';
import type { CodePiece } from '../picture/picture';
import type { Plane } from '../picture/plane';
import type { Region, Size } from '../picture/region';
import type { Prescription } from '../prescription/prescription';
import type { Psf } from '../psf/psf';
import type { RecoveryEffort } from '../recover/recovery';
import type { SolvedTile } from './solvedTile';

/** What a rendering works on besides the prescription. */
export interface RenderSource {
  readonly frame: Size;
  readonly space: ColourSpace;
  /** A mask drawn elsewhere (0..1, size of the frame); replaces the prescription's own. */
  readonly mask?: Plane;
  readonly psf?: Psf;
  /** Needed where `needsFrameGuide` says so. */
  readonly guide?: FrameGuide;
}

/** How much work a stage may do, and how a host lets it give up or remember. */
export interface StageEffort extends RecoveryEffort {
  /** What `solve` gives, or what it gave before under this key, which names all that it depends on. */
  readonly remembered?: (key: string, solve: () => SolvedTile) => SolvedTile;
}

/** What a stage is given besides its settings and what comes from the stage before. */
export interface StageInput {
  readonly source: RenderSource;
  /** The original's codes around. */
  readonly piece: CodePiece;
  /** The tile that is wanted in the end. */
  readonly tile: Region;
  readonly effort: StageEffort;
  /** Names all that the stages before were told. */
  readonly keyBefore: unknown;
}

/** What goes from stage to stage of the frame grid: linear light, never clipped. */
export interface Passed {
  /** What the planes cover, px of the frame: at least what was wanted. */
  readonly region: Region;
  /** Never changed after. */
  readonly planes: readonly Plane[];
  /**
   * How far each sample was changed so far, 0..1; null: nothing was. Where it is 0 the sample is the original's own.
   */
  readonly touched: Plane | null;
  /** What the recovery found, for the audit. */
  readonly solved?: SolvedTile;
}

/**
 * One thing that is done to a frame, in px of the original. All that depends on the order, the reach and the keys of
 * the stages is put together from these in pipeline.ts: a new stage is a file like clean.ts and a line in its list.
 */
export interface FrameStage<S = unknown> {
  readonly name: string;
  /** Null: the prescription asks nothing of it. */
  settingsOf(prescription: Prescription): S | null;
  /** px around a sample that its result depends on, at most. */
  reach(settings: S, source?: Pick<RenderSource, 'psf'>, effort?: Pick<RecoveryEffort, 'farthestPx'>): number;
  /** What it must be given for `wanted`; holds it. */
  regionNeeded(settings: S, wanted: Region, source: RenderSource, effort: StageEffort): Region;
  /** Plain data: equal where the result over any region is equal. */
  keyOf(settings: S): unknown;
  /** Whether anything in `region` can change. */
  touches(settings: S, region: Region, source: RenderSource): boolean;
  /** @throws CoreError STOPPED when effort.shouldStop says so. */
  apply(before: Passed, settings: S, wanted: Region, input: StageInput): Passed;
}

/**
 * One thing that changes which px there are: from the frame's grid, or the one that the picture stage before made, to
 * its own. What it gives is the size and place of every px of the finished picture.
 */
export interface PictureStage<S = unknown> {
  readonly name: string;
  settingsOf(prescription: Prescription): S | null;
  /** @throws CoreError where nothing would be left of `before`. */
  sizeAfter(settings: S, before: Size): Size;
  /** What it must be given, in the grid before, for a region of its own grid. */
  regionNeeded(settings: S, wanted: Region, before: Size): Region;
  /** @param planes - Cover `regionNeeded`. @returns Planes that cover `wanted`. */
  apply(planes: readonly Plane[], settings: S, wanted: Region, before: Size): Plane[];
}
