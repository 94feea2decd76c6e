/** The longest path of a shake winds; discs and lines stay far below. */
export const MOST_BLUR_PX = 200;

export const SETTING_KEYS = ['amount', 'blurSizePx', 'directionDeg', 'noiseGuard', 'grainKeptPercent'] as const;
export type SettingKey = (typeof SETTING_KEYS)[number];

/** What a point of light became besides its size; left out it is round. */
export const SHAPE_KEYS = ['blades', 'bladesDeg', 'squeezePercent', 'squeezeDeg'] as const;
export type ShapeKey = (typeof SHAPE_KEYS)[number];

export interface SettingDescription {
  readonly name: string;
  readonly unit?: string;
  readonly least: number;
  readonly most: number;
  readonly step: number;
  /** Its slider is finer for small values. */
  readonly isFineBelow?: boolean;
  readonly help: string;
}

/** Every setting of a recovery, once: schema, tray, command line and help are made from these. */
export const SETTINGS: Record<SettingKey, SettingDescription> = {
  amount: { name: 'Amount', least: 0, most: 100, step: 1, help: '0 is the original, 100 the full answer.' },
  blurSizePx: {
    name: 'Blur size',
    unit: 'px',
    least: 0.3,
    most: MOST_BLUR_PX,
    isFineBelow: true,
    step: 0.1,
    help: 'How far the blur spreads, in pixels of the frame.',
  },
  directionDeg: {
    name: 'Direction',
    unit: '°',
    least: 0,
    most: 180,
    step: 0.5,
    help: 'Of the movement; 0 is to the right, counter-clockwise.',
  },
  noiseGuard: {
    name: 'Noise guard',
    least: 0,
    most: 100,
    step: 1,
    help: '50 is the measured noise; higher is smoother, lower brings back more grain.',
  },
  grainKeptPercent: {
    name: 'Grain kept',
    unit: '%',
    least: 0,
    most: 100,
    step: 1,
    help: 'How much of the original grain is added back.',
  },
};

/** @see SETTINGS */
export const SHAPES: Record<ShapeKey, SettingDescription> = {
  blades: {
    name: 'Blades',
    least: 5,
    most: 11,
    step: 1,
    help: 'Look at a point of light in the background: is it round, or has it corners?',
  },
  bladesDeg: {
    name: 'Blades turned',
    unit: '°',
    least: 0,
    most: 180,
    step: 1,
    help: 'Direction of a corner; 0 is to the right, counter-clockwise.',
  },
  squeezePercent: {
    name: 'Squeezed',
    unit: '%',
    least: 0,
    most: 70,
    step: 1,
    help: 'By how much the circle is narrower than long: towards the corners of a frame lenses draw ellipses.',
  },
  squeezeDeg: {
    name: 'Long side',
    unit: '°',
    least: 0,
    most: 180,
    step: 1,
    help: 'Direction in which a squeezed circle is long; 0 is to the right, counter-clockwise.',
  },
};

/** What every method has; some have more. */
export const COMMON_SETTINGS = ['amount', 'blurSizePx', 'noiseGuard', 'grainKeptPercent'] as const;
