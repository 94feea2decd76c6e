import type { SettingDescription } from '../methods/settings';
import type { Setting } from './prescription';

/** What is put right by a number; each is neutral at its `neutral`. */
export const CORRECTION_KEYS = [
  'exposureEv',
  'liftShadows',
  'holdHighlights',
  'blackPercent',
  'whitePercent',
  'fallOffPercent',
  'distortionPercent',
  'redFringePercent',
  'blueFringePercent',
] as const;
export type CorrectionKey = (typeof CORRECTION_KEYS)[number];

export interface CorrectionDescription extends SettingDescription {
  /** At this it changes nothing. */
  readonly neutral: number;
}

/** Every correction that is a number, once: schema, tray and help are made from these. */
export const CORRECTIONS: Record<CorrectionKey, CorrectionDescription> = {
  exposureEv: {
    name: 'Exposure',
    unit: 'EV',
    least: -5,
    most: 5,
    step: 0.05,
    neutral: 0,
    help: 'Stops of light: one more doubles it.',
  },
  liftShadows: {
    name: 'Lift shadows',
    least: 0,
    most: 100,
    step: 1,
    neutral: 0,
    help: 'Dark places come up, detail in them keeps its contrast.',
  },
  holdHighlights: {
    name: 'Hold highlights',
    least: 0,
    most: 100,
    step: 1,
    neutral: 0,
    help: 'Bright places come down, detail in them keeps its contrast.',
  },
  blackPercent: {
    name: 'Black point',
    unit: '%',
    least: -20,
    most: 60,
    step: 0.1,
    neutral: 0,
    help: 'Where black comes to lie, of encoded brightness.',
  },
  whitePercent: {
    name: 'White point',
    unit: '%',
    least: 40,
    most: 200,
    step: 0.1,
    neutral: 100,
    help: 'Where white comes to lie, of encoded brightness.',
  },
  fallOffPercent: {
    name: 'Fall-off',
    unit: '%',
    least: 0,
    most: 90,
    step: 1,
    neutral: 0,
    help: 'Light that the lens lost in the corners, given back.',
  },
  distortionPercent: {
    name: 'Distortion',
    unit: '%',
    least: -20,
    most: 20,
    step: 0.1,
    neutral: 0,
    help: 'Straight lines that bend out (above 0) or in (below 0), at half the diagonal.',
  },
  redFringePercent: {
    name: 'Red fringe',
    unit: '%',
    least: -0.5,
    most: 0.5,
    step: 0.005,
    neutral: 0,
    help: 'By how much the red picture is larger than the green.',
  },
  blueFringePercent: {
    name: 'Blue fringe',
    unit: '%',
    least: -0.5,
    most: 0.5,
    step: 0.005,
    neutral: 0,
    help: 'By how much the blue picture is larger than the green.',
  },
};

/** Where the light's colour comes from. */
export type WhiteBalance =
  | { readonly kind: 'as-taken' }
  /** A place, px of the frame, that is grey in truth, and the gain of each channel that makes it so. */
  | { readonly kind: 'picked'; readonly x: number; readonly y: number; readonly gains: readonly number[] }
  /** The light was of this colour temperature, and this far beside it: −100 magenta, 100 green. */
  | { readonly kind: 'temperature'; readonly kelvin: number; readonly greenMagenta: number };

export const KELVIN = { least: 2000, most: 25000, neutral: 6504 } as const;
export const GREEN_MAGENTA = { least: -100, most: 100 } as const;

/** Encoded brightness 0..1 before and after. */
export interface CurvePoint {
  readonly x: number;
  readonly y: number;
}
export const MOST_CURVE_POINTS = 12;
/** Points of a curve lie at least so far apart. */
export const CURVE_GAP = 0.01;

/** Light, colour and lens put right; after recovery in the computation, shown everywhere. */
export type Corrections = { readonly [K in CorrectionKey]: Setting } & {
  readonly whiteBalance: WhiteBalance;
  /** In order of x; fewer than two: straight. */
  readonly curve: readonly CurvePoint[];
};

export const neutralCorrections = (): Corrections => ({
  ...(Object.fromEntries(
    CORRECTION_KEYS.map((key) => [key, { value: CORRECTIONS[key].neutral, auto: false }]),
  ) as Record<CorrectionKey, Setting>),
  whiteBalance: { kind: 'as-taken' },
  curve: [],
});

/** Those that belong to light and colour; the others move pixels. */
const LENS_KEYS: readonly CorrectionKey[] = ['distortionPercent', 'redFringePercent', 'blueFringePercent'];

const isAway = (corrections: Corrections, key: CorrectionKey) => corrections[key].value !== CORRECTIONS[key].neutral;

/** Whether anything of light or colour is changed. */
export function changesLight(corrections: Corrections): boolean {
  const keys = CORRECTION_KEYS.filter((key) => !LENS_KEYS.includes(key));
  return keys.some((key) => isAway(corrections, key)) || changesColour(corrections) || bendsCurve(corrections.curve);
}

export const changesColour = ({ whiteBalance }: Corrections): boolean =>
  whiteBalance.kind === 'picked' ||
  (whiteBalance.kind === 'temperature' && (whiteBalance.kelvin !== KELVIN.neutral || whiteBalance.greenMagenta !== 0));

export const bendsCurve = (curve: readonly CurvePoint[]): boolean =>
  curve.length >= 2 && curve.some(({ x, y }) => x !== y);

/** The lens straightened, light and colour as taken. */
export function lensOnly(corrections: Corrections): Corrections {
  const lens = Object.fromEntries(LENS_KEYS.map((key) => [key, corrections[key]]));
  return { ...neutralCorrections(), ...lens };
}

/** Whether anything is resampled for the lens's sake. */
export const movesPixels = (corrections: Corrections): boolean => LENS_KEYS.some((key) => isAway(corrections, key));
