import type { SettingDescription } from '../methods/settings';
import type { Mask, Stroke } from '../mask/maskOperation';

/** What a local change does, and what can be done to the whole: 0 changes nothing. */
export const CHANGE_KEYS = ['exposureEv', 'saturation', 'warmth', 'localContrast'] as const;
export type ChangeKey = (typeof CHANGE_KEYS)[number];

export const CHANGES: Record<ChangeKey, SettingDescription> = {
  exposureEv: { name: 'Exposure', unit: 'EV', least: -3, most: 3, step: 0.05, help: 'Stops of light.' },
  saturation: { name: 'Saturation', least: -100, most: 100, step: 1, help: '−100 is grey.' },
  warmth: { name: 'Warmth', least: -100, most: 100, step: 1, help: 'Towards evening light, or towards shade.' },
  localContrast: {
    name: 'Local contrast',
    least: -100,
    most: 100,
    step: 1,
    help: 'Contrast of what is a few hundredths of the frame large; edges are left alone.',
  },
};

export const WHOLE_KEYS = ['localContrast', 'haze', 'saturation'] as const;
export type WholeKey = (typeof WHOLE_KEYS)[number];

export const WHOLE: Record<WholeKey, SettingDescription> = {
  localContrast: CHANGES.localContrast,
  haze: { name: 'Haze', least: -100, most: 100, step: 1, help: 'Above 0 haze is taken away, below 0 there is more.' },
  saturation: CHANGES.saturation,
};

export const VIGNETTE_KEYS = ['cornerPercent', 'startPercent', 'softness'] as const;
export type VignetteKey = (typeof VIGNETTE_KEYS)[number];

export const VIGNETTE: Record<VignetteKey, SettingDescription> = {
  cornerPercent: {
    name: 'At the corner',
    unit: '%',
    least: -100,
    most: 100,
    step: 1,
    help: 'Light more or less in the corners.',
  },
  startPercent: {
    name: 'Begins',
    unit: '%',
    least: 0,
    most: 90,
    step: 1,
    help: 'From the middle towards the corner.',
  },
  softness: { name: 'Softness', least: 0, most: 100, step: 1, help: 'How slowly it sets in.' },
};

export type Vignette = { readonly [K in VignetteKey]: number };
export const NO_VIGNETTE: Vignette = { cornerPercent: 0, startPercent: 30, softness: 50 };

/** A change that acts under a mask of its own. */
export type LocalChange = { readonly [K in ChangeKey]: number } & { readonly mask: Mask };
export const MOST_LOCAL_CHANGES = 12;

/** Small and late: for the whole, under masks, and the vignette of the finished picture. */
export type Finishing = { readonly [K in WholeKey]: number } & {
  readonly vignette: Vignette;
  /** In the order in which they act. */
  readonly localChanges: readonly LocalChange[];
};

export const noFinishing = (): Finishing => ({
  localContrast: 0,
  haze: 0,
  saturation: 0,
  vignette: NO_VIGNETTE,
  localChanges: [],
});

/** A small place covered from its surroundings. */
export interface Mend {
  readonly id: string;
  /** What is covered; a spot is a stroke of one point. */
  readonly stroke: Pick<Stroke, 'points' | 'sizePx'>;
  /** From what is covered to what covers it, px of the frame. */
  readonly dx: number;
  readonly dy: number;
  /** The source is turned by so much, counter-clockwise. */
  readonly turnDeg: number;
}
export const MOST_MENDS = 100;
/** Widest brush of a mend, px. */
export const MOST_MEND_PX = 400;

const isChange = (change: LocalChange): boolean =>
  change.mask.opacityPercent > 0 && CHANGE_KEYS.some((key) => change[key] !== 0);

/** The local changes that change anything. */
export const actingChanges = ({ localChanges }: Finishing): LocalChange[] =>
  localChanges.filter((change) => isChange(change) && change.mask.operations.some(({ isOff }) => !isOff));

/** Whether anything but the vignette is changed. */
export const changesLook = (finishing: Finishing): boolean =>
  WHOLE_KEYS.some((key) => finishing[key] !== 0) || actingChanges(finishing).length > 0;
