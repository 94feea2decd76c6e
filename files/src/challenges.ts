import { focusBlurPx, handShakePx, movementPx } from '@vitrocept/core';
import { practiceFrameAt, type PracticeFrame } from './practiceFrames';

/** A known scene photographed with a fault told in the trade's own figures; some are past recovery on purpose. */
export interface Challenge {
  readonly name: string;
  readonly told: string;
  readonly frame: PracticeFrame;
  /** The best that Automatic makes of it, dB nearer to the truth, by the version that did. */
  readonly best: { readonly gain: number; readonly version: string };
  /** Nothing can be had: leaving it alone earns the point. */
  readonly isBestLeftAlone: boolean;
}

/** The practice camera's lens and sensor, seen at the small size at which it photographs. */
const LENS = { focalLengthMm: 300, aperture: 5.6, pixelPitchMm: 0.012 };
const FOCUSED_MM = 10_000;

const missed = (subjectMm: number) => focusBlurPx(LENS, FOCUSED_MM, subjectMm);
const moved = (metresPerSecond: number, seconds: number) => movementPx(LENS, metresPerSecond, seconds, FOCUSED_MM);
const shaken = (seconds: number) => handShakePx(LENS, seconds);

type Recipe = readonly [
  name: string,
  told: string,
  fault: PracticeFrame['fault'],
  blurPx: number,
  iso: number,
  scene: number,
  best: number,
];

const RECIPES: readonly Recipe[] = [
  [
    'near-miss',
    '300 mm, f/5.6, focused at 10 m, the eye 9 cm behind; ISO 200',
    'missed-focus',
    missed(10_090),
    200,
    0,
    0,
  ],
  ['soft-lens', 'a lens that is a little soft; ISO 200', 'softness', 3, 200, 1, 0.2],
  ['quick-step', 'it took a step, 0.5 m/s, at 1/125 s; ISO 400', 'movement', moved(0.5, 1 / 125), 400, 2, 2.5],
  ['steady-hand', 'held in the hand at 1/125 s; ISO 400', 'shake', shaken(1 / 125) * 2, 400, 1, 8.3],
  ['well-behind', 'focused at 10 m, the subject 25 cm behind; ISO 400', 'missed-focus', missed(10_250), 400, 2, 0.8],
  ['running', 'it ran, 1.2 m/s, at 1/125 s; ISO 800', 'movement', moved(1.2, 1 / 125), 800, 0, 5.8],
  ['slow-hand', 'held in the hand at 1/40 s; ISO 800', 'shake', shaken(1 / 40) * 1.4, 800, 3, 0],
  ['dusk', 'focused at 10 m, the subject 15 cm behind; ISO 6400', 'missed-focus', missed(10_150), 6400, 1, 0],
  ['dusk-hand', 'held in the hand at 1/40 s; ISO 6400', 'shake', shaken(1 / 40), 6400, 2, 5.3],
  ['far-behind', 'focused at 10 m, the subject 40 cm behind; ISO 1600', 'missed-focus', missed(10_400), 1600, 0, 3.4],
  ['lost', 'focused at 10 m, the subject 8 m behind; ISO 25600', 'missed-focus', missed(18_000), 25_600, 2, 0],
  ['nothing-wrong', 'sharp, ISO 3200', 'none', 0, 3200, 3, 0],
];

/** In these nothing can be had. */
const HOPELESS: ReadonlySet<string> = new Set(['lost', 'nothing-wrong']);
/** Whose Automatic was graded (`vitrocept render`, then `practice grade`). */
const MEASURED_WITH = '0.1.0';
const FIRST_SEED = 301;

/** Twelve cases from easy to hopeless, the same for ever. */
export const CHALLENGES: readonly Challenge[] = RECIPES.map(([name, told, fault, blurPx, iso, scene, best], i) => ({
  name,
  told,
  best: { gain: best, version: MEASURED_WITH },
  isBestLeftAlone: HOPELESS.has(name),
  frame: practiceFrameAt(scene, { name: `${name}.jpg`, fault, blurPx, iso, seed: FIRST_SEED + i }),
}));
