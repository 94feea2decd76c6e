import type { Corrections } from './corrections';
import type { Finishing, Mend } from './finishing';
import type { Handles, Mask } from '../mask/maskOperation';
import type { Face, FacePartName } from '../audit/face';
import type { Verdict } from '../audit/limits';
import type { Region } from '../picture/region';
import type { FileTraces } from '../noise/fileTraces';
import type { Grain } from '../noise/grain';
import type { NoiseLine } from '../noise/noise';
import type { LeftAlone } from '../read/causeReading';
import type { Pile } from '../read/pile';
import type { BlurShape, Method } from '../methods';
import type { StoredPath } from '../psf/storedPath';

export const PRESCRIPTION_VERSION = 3;
export const MOST_TRIALS = 12;
export const MOST_PROBES = 8;
export const MOST_FACES = 20;
export const MOST_MASKS = 12;
export const MOST_HALO_PERCENT = 200;

/** A number with where it came from: automatic values are stored, never measured again while rendering. */
export interface Setting {
  readonly value: number;
  readonly auto: boolean;
}

/** One way of recovering with all its settings. */
export interface Recovery extends BlurShape {
  readonly method: Method;
  readonly amount: Setting;
  readonly blurSizePx: Setting;
  readonly directionDeg: Setting;
  readonly noiseGuard: Setting;
  /** 0..MOST_HALO_PERCENT; null is off. */
  readonly haloLimitPercent: number | null;
  readonly grainKeptPercent: Setting;
  /** A trained network adds the texture that it finds missing: only with methods that take back a blur. */
  readonly learnedTexture?: boolean;
  /** Recovered at half size and brought up: of a blur so wide that nothing finer is left. */
  readonly badlySoft?: boolean;
  /** The path of a camera shake; the other methods have none. */
  readonly path?: StoredPath;
}

export interface Trial extends Recovery {
  readonly id: string;
  /** The person's own name for it; left out or empty, it goes by its method. */
  readonly name?: string;
}

/** Sides of the square that a probe watches, px of the frame. */
export const PROBE_SIZES = [64, 96, 128, 192, 256] as const;
export const USUAL_PROBE_SIZE = 96;

export interface Probe {
  readonly id: string;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  /** One of PROBE_SIZES; left out it is 96. */
  readonly size?: number;
}

/** The square of the frame that a probe watches. */
export function regionOfProbe({ x, y, size = USUAL_PROBE_SIZE }: Probe): Region {
  return { x: Math.round(x) - size / 2, y: Math.round(y) - size / 2, width: size, height: size };
}

/** One figure of an audit as it is kept. */
export interface KeptFigure {
  readonly verdict: Verdict;
  readonly value: number;
}

/** The audit of the chosen trial at one probe, as it stood when it was chosen. */
export interface KeptAudit {
  readonly probe: string;
  readonly x: number;
  readonly y: number;
  readonly size: number;
  readonly halo: KeptFigure;
  readonly ringing: KeptFigure;
  readonly unproven: KeptFigure;
  readonly colour: KeptFigure;
  readonly grain: KeptFigure;
  /** Audits kept before the background was judged have none. */
  readonly leak?: KeptFigure;
  /** 10–90 % width of edges, px. */
  readonly gain: { readonly before: number; readonly after: number } | null;
}

/** How one part of a face had changed in the chosen trial when it was chosen. */
export interface KeptLikeness {
  readonly face: string;
  readonly part: FacePartName;
  readonly shift: KeptFigure;
  readonly hue: KeptFigure;
  readonly structure: KeptFigure;
}

/** One answer to "Which is better?": two trials, and the one that was preferred; null is no difference. */
export interface Comparison {
  readonly left: string;
  readonly right: string;
  readonly preferred: string | null;
  readonly probe: string;
}

export const MOST_COMPARISONS = 400;

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Of richest places and whole frames the program's own first Readings; the centre is where a box begins. */
export const MEASURED_OVER = ['mask', 'box', 'centre', 'richest', 'whole'] as const;

/** Where a reading was taken. `key` tells whether that place has changed since. */
export interface MeasuredOver {
  readonly kind: (typeof MEASURED_OVER)[number];
  readonly key: string;
}

/** A reading as it came out, for showing and for going back to Automatic. */
export interface Measured {
  readonly over: MeasuredOver;
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  readonly confidence: number;
  readonly runnerUp: Method | null;
  readonly runnerUpSizePx: number;
  readonly runnerUpDirectionDeg: number;
  readonly noisePercent: number;
  readonly traces?: FileTraces;
  readonly clippedWhitePercent: number;
  readonly clippedBlackPercent: number;
  /** Power of the sharp picture at frequency 1; prescriptions saved before it was kept have none. */
  readonly signal?: number;
  readonly finestNowPx: number;
  readonly finestRecoverablePx: number;
  readonly pile: Pile;
  /** Why nothing is recovered by itself, where that is so. */
  readonly leftAlone?: LeftAlone;
}

/** The reading that was accepted; the base of every automatic value. Overruled by hand where `auto` is false. */
export interface AcceptedReading {
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  readonly auto: boolean;
  readonly noise: readonly NoiseLine[];
  readonly noiseFloor: readonly number[];
  /** The grain where it is not white; left out it is, as `noise` says. */
  readonly grain?: Grain;
  /** JPEG, a mosaic or cleaning took the finest noise away. */
  readonly hidesNoise?: boolean;
  /** The path of a camera shake, where the reading or its runner-up found one. */
  readonly path?: StoredPath;
  /** Where the blur changes over the subject: its size at several places. Empty where one size holds. */
  readonly sizes: readonly SizePlace[];
  readonly measured: Measured;
}

export interface SizePlace {
  readonly x: number;
  readonly y: number;
  readonly blurSizePx: number;
}

/** How the frame is cleaned of noise, before anything is recovered. */
export interface Cleaning {
  /** How much noise of brightness and of colour is taken to be there, % of what was measured: 0..200. */
  readonly luminance: Setting;
  readonly colour: Setting;
  /** The widest blotches of colour that are cleaned, px: 8..64. */
  readonly blotchPx: Setting;
  /** Share of what was removed that is mixed back, %. */
  readonly detailKept: Setting;
  /** How far each channel is cleaned, %; a missing one is cleaned wholly. */
  readonly channelPercents: readonly number[];
  /** The tones that are cleaned, over encoded brightness 0..1; null: all. */
  readonly band: Handles | null;
  /** The mask inside which it is cleaned; null: everywhere. */
  readonly maskId: string | null;
}

/** Which part of the frame is shown, and which way up. */
export interface Geometry {
  /** Px of the frame; null: all of it. What lies outside the frame is left out. */
  readonly crop: Box | null;
  /** By 90° clockwise, after the crop. */
  readonly quarterTurns: 0 | 1 | 2 | 3;
  /** Turned clockwise about the frame's middle before the crop, which is then a place of the turned frame; °. */
  readonly straightenDeg?: number;
  /** Left and right changed over, last. */
  readonly isMirrored?: boolean;
  /** So many px across for every one of the crop. */
  readonly enlarge?: number;
}
export const MOST_STRAIGHTEN_DEG = 45;
export const MOST_ENLARGE = 6;

/** The finished picture made smaller. */
export interface PictureSize {
  /** Its longer side, px; a smaller picture stays as it is. */
  readonly longEdgePx: number;
}
export const LONG_EDGE_PX = { least: 64, most: 30_000 } as const;

/** What belongs to one mask: how it is recovered under, and how that was chosen. */
export interface MaskPlan {
  readonly mask: Mask;
  readonly trials: readonly Trial[];
  /** The trial that was chosen, as it was when chosen. */
  readonly recovery: (Recovery & { readonly trialId: string | null }) | null;
  /** What the audit said of it then. */
  readonly audit?: readonly KeptAudit[];
  /** Which mask, cleaning and reading it said that of. */
  readonly auditKey?: string;
  readonly likeness?: readonly KeptLikeness[];
  /** Answers to "Which is better?". */
  readonly comparisons?: readonly Comparison[];
}

/**
 * Everything done to one frame: pure data, replayable. The mask at work and its plan stand in the prescription itself.
 */
/** Parts that the program set by itself and that nobody has used or changed yet. */
export const PROPOSED_PARTS = ['mask', 'probes', 'trials'] as const;
export type ProposedPart = (typeof PROPOSED_PARTS)[number];

export interface Prescription extends MaskPlan {
  readonly version: typeof PRESCRIPTION_VERSION;
  /** Where to measure while there is no mask; null is the centre 50 %. */
  readonly box: Box | null;
  readonly reading: AcceptedReading | null;
  /** Null: noise is left as it is. */
  readonly cleaning: Cleaning | null;
  /** Null: the finished picture is the whole frame, as it stands. */
  readonly geometry: Geometry | null;
  /** Left out: as large as it is. */
  readonly size?: PictureSize;
  /** The copy sharpened for paper or a screen, 0..100; left out: not at all. */
  readonly outputSharpeningPercent?: number;
  /** Light, colour and lens; left out: as taken. */
  readonly corrections?: Corrections;
  /** Small places covered, after recovery. */
  readonly mends?: readonly Mend[];
  /** What guides the eye, last. */
  readonly finishing?: Finishing;
  readonly probes: readonly Probe[];
  /** Faces whose likeness is judged. */
  readonly faces?: readonly Face[];
  /** The other masks, the lowest first: under the mask at work, and over it. */
  readonly masksBelow?: readonly MaskPlan[];
  readonly masksAbove?: readonly MaskPlan[];
  /** None: all of it is the person's own. */
  readonly proposed?: readonly ProposedPart[];
}

export function emptyPrescription(): Prescription {
  return {
    version: PRESCRIPTION_VERSION,
    box: null,
    reading: null,
    cleaning: null,
    geometry: null,
    mask: { id: 'mask-1', name: 'subject', opacityPercent: 100, operations: [] },
    probes: [],
    trials: [],
    recovery: null,
  };
}
