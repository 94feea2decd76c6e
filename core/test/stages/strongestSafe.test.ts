import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  acceptReading,
  atAmount,
  atFullAmount,
  auditTile,
  automaticRecovery,
  blurred,
  colourSpaceOf,
  discPsf,
  emptyPrescription,
  encodeChannels,
  exposed,
  figuresOver,
  filledPlane,
  FINAL_EFFORT,
  seededRandom,
  solveTile,
  strongestSafe,
  takeReading,
  withCorrection,
  withWhole,
  type CodePiece,
  type SolvedTile,
} from '../../src';
import { deadLeaves } from '../synthetic';

const SIDE = 128;
const whole = { x: 0, y: 0, width: SIDE, height: SIDE };
const space = colourSpaceOf(null, 3);
const effort = { ...FINAL_EFFORT, kernels };
const scene = [1, 0.85, 0.7].map((share) => {
  const leaves = deadLeaves(SIDE + 16, SIDE + 16, 43, 4);
  return { ...leaves, data: leaves.data.map((value) => share * value) };
});
const line = { a: 1e-5, b: 4e-6 };
const photograph = exposed(blurred(scene, discPsf(2), 8), [line, line, line], seededRandom(7));
const piece: CodePiece = { region: whole, channels: 3, codes: encodeChannels(photograph, space) };
const source = { frame: whole, space };
const told = takeReading({
  channels: photograph,
  lumaWeights: space.lumaWeights,
  use: filledPlane(SIDE, SIDE, 1),
  clipped: new Uint8Array(SIDE * SIDE),
  jpeg: false,
  kernels,
  psf: discPsf(2),
});

/** A blur twice as wide as it was overshoots at every edge. */
const planOf = (blurSizePx: number) => {
  const reading = { ...acceptReading(told, { kind: 'mask', key: '' }), method: 'missed-focus' as const, blurSizePx };
  const recovery = { ...automaticRecovery('missed-focus', reading, 30), haloLimitPercent: null, trialId: null };
  return { ...emptyPrescription(), reading, recovery };
};
const found = (blurSizePx: number) =>
  strongestSafe(source, atFullAmount(planOf(blurSizePx)), [{ tile: whole, piece }], 16, effort);
const worstAt = (blurSizePx: number, amount: number) => {
  const full = atFullAmount(planOf(blurSizePx));
  const solved = solveTile(source, full, piece, whole, effort)!;
  return figuresOver([auditTile(source, full, piece, whole, atAmount(solved, amount), 16, effort)], whole).worst;
};

describe('the strongest safe amount', () => {
  it('is safe, and what it stopped at is not', () => {
    const { amount, limit } = found(8);
    expect(amount).toBeLessThan(100);
    expect(limit).not.toBeNull();
    expect(limit!.atAmount).toBeGreaterThan(amount);
    expect(limit!.atAmount - amount).toBeLessThanOrEqual(4);
    expect(['check', 'damaged']).toContain(worstAt(8, limit!.atAmount));
    if (amount > 0) expect(['safe', 'not measurable']).toContain(worstAt(8, amount));
  });

  it('looks for unproven detail once, whatever the amount, and finds what it would find anew', () => {
    const full = atFullAmount(planOf(8));
    const auditAt = (solved: SolvedTile, amount: number) =>
      auditTile(source, full, piece, whole, atAmount(solved, amount), 16, effort);
    const solved = solveTile(source, full, piece, whole, effort)!;
    const [half, all] = [auditAt(solved, 50), auditAt(solved, 100)];
    expect(half.unproven).toBe(all.unproven);
    expect(half).toEqual(auditAt(solveTile(source, full, { ...piece }, whole, effort)!, 50));
    expect(half.rim).not.toEqual(all.rim);
  });

  it('is more for a blur that is right than for one that is twice as wide', () => {
    expect(found(4).amount).toBeGreaterThan(found(8).amount);
  });

  it('does not hang on light and finishing, and asks for nothing that only they need', () => {
    const finished = withWhole(withCorrection(planOf(8), 'liftShadows', 60), 'haze', 40);
    const { amount } = strongestSafe(source, atFullAmount(finished), [{ tile: whole, piece }], 16, effort);
    expect(amount).toBe(found(8).amount);
  });

  it('does not hang on the amount that was set', () => {
    const full = atFullAmount(planOf(8));
    expect(full.recovery!.amount.value).toBe(100);
    expect(atFullAmount(emptyPrescription())).toEqual(emptyPrescription());
  });
});
