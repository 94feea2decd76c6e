import { boolean, mixed, number, object } from 'yup';
import { focusBlurPx, handShakePx, movementPx, type Lens } from './thinLens';

export const PRACTICE_FAULTS = ['none', 'missed-focus', 'movement', 'shake', 'softness'] as const;
export type PracticeFault = (typeof PRACTICE_FAULTS)[number];

/** Of the practice camera's sensor. Large ones, so that its small pictures are blurred as large ones are. */
export const PIXEL_PITCH_MM = 0.012;
/** Wider blur leaves nothing of a picture as small as the practice camera's, px. */
export const MOST_PRACTICE_BLUR = 80;

/** A photograph that the practice camera takes, in the trade's own figures; the same spec makes the same photograph. */
export interface PracticeSpec {
  /** A known scene by its number, or a sharp frame of one's own by its id. */
  readonly scene: number | string;
  readonly fault: PracticeFault;
  readonly focalLengthMm: number;
  /** f-number. */
  readonly aperture: number;
  /** Of the diaphragm; 0: round. */
  readonly blades: number;
  /** To the subject, m. */
  readonly distanceM: number;
  /** Focused in front of the subject, mm; behind it below 0. */
  readonly focusErrorMm: number;
  readonly speedMetresPerSecond: number;
  readonly shutterS: number;
  /** By how much the camera turns about the middle while it shakes, degrees. */
  readonly turnDeg: number;
  /** Full width at half maximum of an ordinary softness, px. */
  readonly softnessPx: number;
  readonly iso: number;
  /** Of the JPEG. */
  readonly quality: number;
  /** A raw file in place of a JPEG. */
  readonly isMosaic: boolean;
  readonly seed: number;
}

export const USUAL_SPEC: PracticeSpec = {
  scene: 0,
  fault: 'missed-focus',
  focalLengthMm: 300,
  aperture: 5.6,
  blades: 0,
  distanceM: 10,
  focusErrorMm: 150,
  speedMetresPerSecond: 0.6,
  shutterS: 1 / 125,
  turnDeg: 0,
  softnessPx: 3,
  iso: 400,
  quality: 93,
  isMosaic: false,
  seed: 1,
};

interface Range {
  readonly least: number;
  readonly most: number;
}

export const PRACTICE_RANGES = {
  focalLengthMm: { least: 20, most: 800 },
  aperture: { least: 1.2, most: 32 },
  distanceM: { least: 0.3, most: 200 },
  focusErrorMm: { least: -20_000, most: 20_000 },
  speedMetresPerSecond: { least: 0, most: 30 },
  shutterS: { least: 1 / 8000, most: 2 },
  turnDeg: { least: 0, most: 1 },
  softnessPx: { least: 1, most: 12 },
  iso: { least: 50, most: 102_400 },
  quality: { least: 40, most: 100 },
  seed: { least: 1, most: 1_000_000 },
} as const satisfies Partial<Record<keyof PracticeSpec, Range>>;

const within = ({ least, most }: Range) => number().min(least).max(most).required();

export const practiceSpecSchema = object({
  scene: mixed<number | string>()
    .test(
      'scene',
      'a scene is its number or the id of a frame',
      (value) => (typeof value === 'number' && Number.isInteger(value) && value >= 0) || typeof value === 'string',
    )
    .required(),
  fault: mixed<PracticeFault>()
    .oneOf([...PRACTICE_FAULTS])
    .required(),
  focalLengthMm: within(PRACTICE_RANGES.focalLengthMm),
  aperture: within(PRACTICE_RANGES.aperture),
  blades: number().oneOf([0, 5, 6, 7, 8, 9, 10, 11]).required(),
  distanceM: within(PRACTICE_RANGES.distanceM),
  focusErrorMm: within(PRACTICE_RANGES.focusErrorMm),
  speedMetresPerSecond: within(PRACTICE_RANGES.speedMetresPerSecond),
  shutterS: within(PRACTICE_RANGES.shutterS),
  turnDeg: within(PRACTICE_RANGES.turnDeg),
  softnessPx: within(PRACTICE_RANGES.softnessPx),
  iso: within(PRACTICE_RANGES.iso),
  quality: within(PRACTICE_RANGES.quality).integer(),
  isMosaic: boolean().required(),
  seed: within(PRACTICE_RANGES.seed).integer(),
})
  .noUnknown()
  .required();

const lensOf = ({ focalLengthMm, aperture }: PracticeSpec): Lens => ({
  focalLengthMm,
  aperture,
  pixelPitchMm: PIXEL_PITCH_MM,
});

/**
 * How wide a point becomes, px: a circle of confusion by the thin lens, the way of something that moves, or what a hand
 * shakes by the rule of the reciprocal focal length.
 */
export function practiceBlurPx(spec: PracticeSpec): number {
  const lens = lensOf(spec);
  const subjectMm = spec.distanceM * 1000;
  switch (spec.fault) {
    case 'none':
      return 0;
    case 'missed-focus':
      return focusBlurPx(lens, Math.max(lens.focalLengthMm * 1.1, subjectMm - spec.focusErrorMm), subjectMm);
    case 'movement':
      return movementPx(lens, spec.speedMetresPerSecond, spec.shutterS, subjectMm);
    case 'shake':
      return handShakePx(lens, spec.shutterS);
    case 'softness':
      return spec.softnessPx;
  }
}

/** Null where the camera can take it; else why not. */
export function practiceFaultOf(spec: PracticeSpec): string | null {
  if (spec.distanceM * 1000 <= spec.focalLengthMm) return 'The subject stands nearer than the lens is long.';
  const blur = practiceBlurPx(spec);
  if (blur <= MOST_PRACTICE_BLUR) return null;
  return `That would blur ${Math.round(blur)} px; up to ${MOST_PRACTICE_BLUR} px there is still a picture.`;
}

/**
 * The longest time a hand holds still by the rule of thumb: one over the focal length, s. Common practice, no source.
 */
export const handHeldS = ({ focalLengthMm }: Pick<PracticeSpec, 'focalLengthMm'>): number => 1 / focalLengthMm;
