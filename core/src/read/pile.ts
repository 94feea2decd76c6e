export const PILES = ['good-as-is', 'grainy', 'soft', 'beyond-recovery'] as const;
export type Pile = (typeof PILES)[number];

/** Limits of the piles, each with its reason. First limits, from judging at 100 %. */
export const PILE_LIMITS = {
  /** A blur of one and a half pixels is what a demosaiced, unsharpened capture has anyway. */
  blurPx: 1.5,
  /** Grain begins to be seen at 100 % in mid-tones above this. */
  noisePercent: 1.5,
  /** Under 0.06 cycles per px nothing finer than 17 px would come back. */
  detailCyPerPx: 0.06,
} as const;

/**
 * @param detailCyPerPx - Highest frequency that recovery can bring back.
 * @param isSoft - Detail ends far before noise would end it, whatever the cause.
 */
export function pileOf(blurSizePx: number, noisePercent: number, detailCyPerPx: number, isSoft = false): Pile {
  if (detailCyPerPx < PILE_LIMITS.detailCyPerPx) return 'beyond-recovery';
  if (blurSizePx > PILE_LIMITS.blurPx || isSoft) return 'soft';
  return noisePercent > PILE_LIMITS.noisePercent ? 'grainy' : 'good-as-is';
}
