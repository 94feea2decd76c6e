/** What a figure of the audit comes to. */
export type Verdict = 'safe' | 'check' | 'damaged' | 'not measurable';

/** From what value on a figure wants a look, and from what on the picture is damaged there. */
export interface Limit {
  readonly check: number;
  readonly damaged: number;
}

/** Every limit of the audit with its reason; rates at these limits stand in docs/methods/audit.md. */
export const LIMITS = {
  /**
   * % of the step. From 5 % on an overshoot is seen as a rim at arm's length; at 15 % it is the first thing seen
   * (common practice, no source).
   */
  halo: { check: 5, damaged: 15 },
  /**
   * % of the step. A second stripe beside an edge is noticed from 2 %, since nature has none there (common practice, no
   * source).
   */
  ringing: { check: 2, damaged: 6 },
  /** Noise and a twentieth of the contrast make 1; honest recoveries reach 2.4 in one place of a hundred. */
  brightness: { check: 2.5, damaged: 4 },
  /** As brightness; colours are wrong by less, honest recoveries stay under 1.2. */
  hue: { check: 1.45, damaged: 2 },
  /** √ of energy over the cautious recovery's; honest recoveries reach 2 where hardly anything is known. */
  unsupported: { check: 2.2, damaged: 3.2 },
  /** Levels of 255 beyond the original's range within 3 px: honest recoveries stay below in nine patches of ten. */
  rim: { check: 11, damaged: 22 },
  /** CIEDE2000: 1 is just noticeable side by side, 3 at a glance (common practice, no source). */
  colour: { check: 1, damaged: 3 },
  /**
   * Grain after over before. A fifth more is seen when looked for, nearly twice as much is another picture (common
   * practice, no source).
   */
  grain: { check: 1.2, damaged: 1.8 },
  /**
   * Levels of 255 of structure added to a soft background beyond the mask's edge: honest recoveries add less than half
   * a level.
   */
  leak: { check: 1.5, damaged: 4 },
  /** 0..1: how far what cleaning removed runs along edges. Pure noise stays under 0.3 in 95 squares of a hundred. */
  removedEdges: { check: 0.35, damaged: 0.55 },
  /**
   * 0..1 of the texture. Where a quarter is gone fur begins to look smooth; where half is gone it is wax (common
   * practice, no source).
   */
  textureLost: { check: 0.25, damaged: 0.5 },
  /** % of the distance between the eyes. 1 is a gaze turned by 3°, where the pupil slides 0.6 mm on an eye of 12 mm. */
  partShift: { check: 1, damaged: 2.5 },
  /** CIEDE2000 at equal lightness, of a part's mean; honest recoveries stay under 0.4 in 98 parts of a hundred. */
  partHue: { check: 1, damaged: 3 },
  /** 1 minus similarity of structure; honest recoveries stay under 0.03 in 98 parts of a hundred. */
  partStructure: { check: 0.04, damaged: 0.1 },
} as const satisfies Record<string, Limit>;

export function verdictOf(value: number, { check, damaged }: Limit): Verdict {
  return value < check ? 'safe' : value < damaged ? 'check' : 'damaged';
}

/** One scale for all: 1 where *check* begins, 2 where *damaged* begins. */
export function levelOf(value: number, { check, damaged }: Limit): number {
  return value < check ? value / check : 1 + (value - check) / (damaged - check);
}

const GRAVITY: readonly Verdict[] = ['not measurable', 'safe', 'check', 'damaged'];

export function worstOf(verdicts: readonly Verdict[]): Verdict {
  return verdicts.reduce((worst, verdict) => (GRAVITY.indexOf(verdict) > GRAVITY.indexOf(worst) ? verdict : worst));
}
