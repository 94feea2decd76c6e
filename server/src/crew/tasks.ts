/** What the server's worker threads are asked to do. Everything here can be copied between threads. */
import type { Box, CopyWishes, MaskOperation, Prescription, Region, SaveFormat } from '@vitrocept/core';
import type { HowMade, PlainTiff, PracticeFrame, Proved, SampleFile } from '@vitrocept/files';

export interface ReadingTask {
  readonly kind: 'reading';
  readonly file: SampleFile;
  readonly jpeg: boolean;
  /** Over a mask, or else a box; null for the centre of the frame. */
  readonly mask: readonly MaskOperation[] | null;
  readonly box: Box | null;
}

/** Sorts a frame that came in. */
export interface TriageTask {
  readonly kind: 'triage';
  readonly file: SampleFile;
  readonly jpeg: boolean;
}

/** The practice camera takes one of its frames of the demo's scenes. */
export interface PracticeTask {
  readonly kind: 'practice';
  readonly truths: string;
  readonly frame: PracticeFrame;
  /** Where it is written. */
  readonly path: string;
}

/** The same, to be looked at only: at most `side` px long, or as large as it is. */
export interface PracticeViewTask {
  readonly kind: 'practice-view';
  readonly truths: string;
  readonly frame: PracticeFrame;
  readonly side: number | null;
}

/** What the practice camera would have taken without fault, as a PNG. */
export interface TruthTask {
  readonly kind: 'truth';
  readonly truths: string;
  readonly frame: PracticeFrame;
  readonly file: SampleFile;
  /** Where its samples are written, on the frame's grid. */
  readonly samples: string;
}

/** Grades what a prescription makes of a practice frame. */
export interface GradeTask {
  readonly kind: 'grade';
  readonly file: SampleFile;
  readonly prescription: Prescription;
  readonly truths: string;
  readonly frame: PracticeFrame;
}

/** Finds a frame's subject, reads over it and proposes probes. */
export interface LookAfterTask {
  readonly kind: 'look-after';
  readonly file: SampleFile;
  readonly jpeg: boolean;
}

/** The frame's small picture in its own linear light, 32-bit floats, channel after channel. */
export interface GuideTask {
  readonly kind: 'guide';
  readonly file: SampleFile;
}

/** Finds the faces of people in a frame. */
export interface FacesTask {
  readonly kind: 'faces';
  readonly file: SampleFile;
}

/** The whole of a frame of sensor data, as a JPEG to be looked at. */
export interface ViewTask {
  readonly kind: 'view';
  readonly file: SampleFile;
  readonly side: number;
}

/** Finds the subject of a frame from its samples. */
export interface SubjectTask {
  readonly kind: 'subject';
  readonly file: SampleFile;
}

export interface TilesTask {
  readonly kind: 'tiles';
  readonly file: SampleFile;
  readonly prescription: Prescription;
}

export interface TileTask {
  readonly kind: 'tile';
  readonly file: SampleFile;
  readonly prescription: Prescription;
  readonly tile: Region;
  /** The whole result, on disk, written to by all threads: codes, or linear light where it has 32 bits. */
  readonly result: PlainTiff;
  readonly stop: SharedArrayBuffer;
}

/** Makes a tile of the finished picture, on its own grid, from the linear light of the frame's. */
export interface PictureTask {
  readonly kind: 'picture';
  readonly file: SampleFile;
  readonly prescription: Prescription;
  readonly tile: Region;
  /** Of the frame's size, 32 bits. */
  readonly linear: PlainTiff;
  readonly result: PlainTiff;
}

export interface EncodeTask {
  readonly kind: 'encode';
  readonly file: SampleFile;
  /** Several become pages of one TIFF. */
  readonly pages: readonly { readonly name: string; readonly result: PlainTiff }[];
  readonly format: SaveFormat;
  readonly quality: number;
  readonly wishes: CopyWishes;
  readonly how: HowMade;
  readonly place: string;
  /** What stands there may be replaced. */
  readonly mayReplace: boolean;
}

/** Draws the proof sheets of copies. */
export interface ProofTask {
  readonly kind: 'proof';
  readonly copies: readonly Proved[];
  readonly as: 'pdf' | 'png';
}

/** Asks the audit at a few places, and how much of the recovery is safe there if that is wanted. */
export interface JudgeTask {
  readonly kind: 'judge';
  readonly file: SampleFile;
  readonly prescription: Prescription;
  readonly findsAmount: boolean;
}

/** Whether what a cleaning takes away looks like noise. */
export interface CleaningHoldsTask {
  readonly kind: 'cleaning-holds';
  readonly file: SampleFile;
  readonly prescription: Prescription;
}

/** Two pictures of one place, written beside each other: as taken, and as rendered. */
export interface BeforeAfterTask {
  readonly kind: 'before-after';
  readonly file: SampleFile;
  readonly result: PlainTiff;
  readonly place: Region;
  readonly before: string;
  readonly after: string;
}

/** Makes the result, with the original's codes, or its linear light where it has 32 bits. */
export interface BeginTask {
  readonly kind: 'begin';
  readonly file: SampleFile;
  readonly result: PlainTiff;
}

export interface InspectTask {
  readonly kind: 'inspect';
  readonly path: string;
  /** Where the decoded samples go. */
  readonly samples: string;
}

export interface MaskTask {
  readonly kind: 'mask';
  readonly width: number;
  readonly height: number;
  readonly operations: readonly MaskOperation[];
  readonly bits: 8 | 16;
  readonly format: 'png' | 'tiff';
}

export interface MaskFileTask {
  readonly kind: 'mask-file';
  readonly path: string;
  /** The file's own. */
  readonly name: string;
  /** Of the frame. */
  readonly width: number;
  readonly height: number;
}

export interface TonesTask {
  readonly kind: 'tones';
  readonly file: SampleFile;
}

export interface ClippingTask {
  readonly kind: 'clipping';
  readonly file: SampleFile;
  readonly side: number;
}

export interface AlignTask {
  readonly kind: 'align';
  readonly original: string;
  readonly version: string;
  /** Where the version's samples on the frame's grid go, when it can be laid on. */
  readonly samples: string;
}

export type Task =
  | AlignTask
  | TonesTask
  | ClippingTask
  | ReadingTask
  | TriageTask
  | PracticeTask
  | PracticeViewTask
  | GradeTask
  | TruthTask
  | LookAfterTask
  | FacesTask
  | ViewTask
  | GuideTask
  | SubjectTask
  | TilesTask
  | TileTask
  | PictureTask
  | EncodeTask
  | ProofTask
  | BeginTask
  | InspectTask
  | MaskTask
  | MaskFileTask
  | JudgeTask
  | CleaningHoldsTask
  | BeforeAfterTask;
