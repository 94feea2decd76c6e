import type {
  AreaOperation,
  AreaWish,
  Corrections,
  CleaningCheck,
  StrongestSafe,
  CombineMode,
  FacePart,
  FinishingFault,
  Lab,
  MaskOperation,
  Mend,
  PartLikeness,
  Placement,
  Point,
  Prescription,
  ProbeProposal,
  Region,
  Size,
  TileAudit,
} from '@vitrocept/core';

/** A frame as the worker must know it to fetch and decode its samples. */
export interface WorkerFrame {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
}

/** An outside version as the worker must know it. */
export interface JobVersion extends Size {
  readonly id: string;
  readonly placement: Placement;
}

/** One tile of the result of a prescription, for showing. */
export interface TileJob {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly tile: Region;
  readonly effort: 'draft' | 'final';
  /** Also hold the result against the photograph; only final tiles are audited. */
  readonly audits: boolean;
  /** Not the result, but what cleaning removed, held against the picture. */
  readonly shows?: 'removed';
  /** An outside version laid onto the frame; then the prescription only says what was read. */
  readonly version?: JobVersion;
}

/** sRGB, 8 bits, opaque, row by row. */
export interface ShownTile {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8ClampedArray<ArrayBuffer>;
  readonly audit: TileAudit | null;
  /** With what was removed: what cleaning took along. */
  readonly check: CleaningCheck | null;
  /** Of a badly soft recovery that was solved for it: what all that it covers would take. */
  readonly whole?: { readonly trialId: string; readonly seconds: number };
}

/** A mask drawn small for the page. */
export interface MaskJob {
  readonly operations: readonly MaskOperation[];
  readonly region: Region;
  readonly scale: number;
}

export interface DrawnMask {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array<ArrayBuffer>;
}

/** Makes an area of a mask from the whole frame. */
export interface AreaJob {
  readonly frame: WorkerFrame;
  readonly mode: CombineMode;
  readonly wish: AreaWish;
}

/** Asks for the colour of a place, px of the frame. */
export interface ColourJob {
  readonly frame: WorkerFrame;
  readonly x: number;
  readonly y: number;
}

/** Looks over the whole frame for places worth a probe. */
export interface ProposeJob {
  readonly frame: WorkerFrame;
  readonly operations: readonly MaskOperation[];
}

/** One part of a face as a trial shows it, to be held against the photograph. */
export interface FacePartJob {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly part: FacePart;
  /** All parts of the face. */
  readonly face: readonly FacePart[];
  /** An outside version is judged; then the prescription only says what was read. */
  readonly version?: JobVersion;
}

/** A trial whose strongest safe amount is wanted, judged around places of the frame, px. */
export interface SafestJob {
  readonly frame: WorkerFrame;
  /** With the trial as its recovery. */
  readonly prescription: Prescription;
  readonly places: readonly { readonly x: number; readonly y: number }[];
}

/** The whole frame as a view shows it, with its light and finishing, its long side `side`. */
export interface LightJob {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly side: number;
  /** Framed as the finished picture is, with its vignette; else the whole frame. */
  readonly isFramed: boolean;
  /** Where something clips is hatched. */
  readonly marksClipping: boolean;
  /** Half as large as it says. */
  readonly isDraft: boolean;
}

/** What the picture itself tells of the lens, percent; null where it does not tell. */
export interface LensMeasured {
  readonly fallOff: number | null;
  readonly distortion: number | null;
  /** By how much red and blue are larger than green; null of a grey frame. */
  readonly fringes: { readonly red: number; readonly blue: number } | null;
}

export interface LitPicture extends Size {
  readonly bitmap: ImageBitmap;
  /** Of each channel, over encoded brightness. */
  readonly counts: readonly (readonly number[])[];
}

/** A part of the finished picture, px for px, with all that is prescribed. */
export interface FinishedJob {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  /** Px of the finished picture. */
  readonly region: Region;
}

/** Asks for automatic corrections of a frame. */
export interface AutomaticJob {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
}

export interface MendJob {
  readonly frame: WorkerFrame;
  readonly stroke: Mend['stroke'];
  /** Places that are covered already. */
  readonly avoid: readonly Mend['stroke'][];
}

/** Where the kernels' parts are fetched from. */
export interface KernelUrls {
  readonly binary: string;
  readonly texture: string;
  readonly subject: string;
}

/** What a worker offers. Word 0 of `stop` set to 1 asks it to give up soon with an error named STOPPED. */
export interface WorkerApi {
  warmUp(urls: KernelUrls): Promise<void>;
  showTile(job: TileJob, stop: SharedArrayBuffer): Promise<ShownTile>;
  drawMask(job: MaskJob): Promise<DrawnMask>;
  /** Places in px of the frame. */
  proposeProbes(job: ProposeJob): Promise<ProbeProposal[]>;
  makeArea(job: AreaJob): Promise<AreaOperation>;
  /** Finds the subject before it is asked for. */
  lookAhead(frame: WorkerFrame): Promise<void>;
  pickColour(job: ColourJob): Promise<Lab>;
  judgeFacePart(job: FacePartJob): Promise<PartLikeness>;
  strongestSafe(job: SafestJob): Promise<StrongestSafe>;
  showLight(job: LightJob): Promise<LitPicture>;
  showFinished(job: FinishedJob): Promise<ImageBitmap>;
  automaticLight(job: AutomaticJob): Promise<Corrections>;
  /** Black and white point at the edge of clipping, %. */
  pointsAtClipping(job: AutomaticJob): Promise<{ readonly blackPercent: number; readonly whitePercent: number }>;
  /** Gains that make a place grey; null where a channel is black there. */
  pickGrey(job: ColourJob): Promise<readonly number[] | null>;
  measureLens(frame: WorkerFrame): Promise<LensMeasured>;
  /** Which settings of the finishing strengthen halos or grain too far, around places of the frame. */
  judgeFinishing(job: SafestJob): Promise<readonly FinishingFault[]>;
  /** Where a place is best covered from; null where there is no room. */
  findSource(job: MendJob): Promise<Point | null>;
}
