import {
  atAmount,
  contentKey,
  keyOfOperations,
  type MaskPlan,
  type Prescription,
  type Region,
  type SolvedTile,
} from '@vitrocept/core';

/** About 6 MB each. */
const MOST_TILES = 8;

/** The last tiles that were solved: Amount only mixes the answer with the original, so its slider need not wait. */
export class SolvedTiles {
  private readonly known = new Map<string, SolvedTile>();

  /** What `solve` gives, or what it gave before at another Amount. */
  of(
    frameId: string,
    prescription: Prescription,
    tile: Region,
    effort: string,
    solve: () => SolvedTile | null,
  ): SolvedTile | null {
    const { reading, cleaning, mask, recovery, masksBelow = [], masksAbove = [] } = prescription;
    if (!recovery || recovery.amount.value === 0) return solve();
    const key = contentKey([
      frameId,
      tile,
      effort,
      reading,
      cleaning,
      keyOfMask(mask),
      [masksBelow, masksAbove].map((plans) => plans.map((plan) => [keyOfMask(plan.mask), plan.recovery])),
      { ...recovery, amount: null, trialId: null },
    ]);
    const found = this.known.get(key);
    this.known.delete(key);
    const solved = found ? atAmount(found, recovery.amount.value) : solve();
    if (solved) this.known.set(key, solved);
    for (const old of this.known.keys()) {
      if (this.known.size <= MOST_TILES) break;
      this.known.delete(old);
    }
    return solved;
  }
}

const keyOfMask = ({ operations, opacityPercent }: MaskPlan['mask']) => [keyOfOperations(operations), opacityPercent];
