import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  automaticRecovery,
  emptyPrescription,
  sizeFieldOf,
  recoverOverField,
  recoverySettingsOf,
  sizeAt,
  filledPlane,
  PLAIN_KERNELS,
  type Prescription,
  type Reading,
  type RecoveryInput,
} from '../../src';

const places = [
  { x: 40, y: 40, blurSizePx: 3 },
  { x: 200, y: 40, blurSizePx: 9 },
];
const reading: Reading = {
  cause: { method: 'missed-focus', blurSizePx: 9, directionDeg: 0 },
  runnerUp: null,
  sizes: places,
  confidence: 0.6,
  noise: [{ a: 1e-4, b: 1e-6 }],
  grain: null,
  traces: { blocking: 0, overshootPercent: null },
  noisePercent: 0.5,
  floor: [1e-5],
  clippedWhitePercent: 0,
  clippedBlackPercent: 0,
  signal: 1e-4,
  finestNowPx: 6,
  finestRecoverablePx: 4,
  pile: 'soft',
  hidesNoise: false,
  leftAlone: null,
};

function prescribed(change: (old: Prescription) => Prescription = (old) => old): Prescription {
  const accepted = acceptReading(reading, { kind: 'mask', key: 'a' });
  const recovery = { ...automaticRecovery('missed-focus', accepted, 100), trialId: null };
  return change({ ...emptyPrescription(), reading: accepted, recovery });
}
const field = (plan: Prescription) => sizeFieldOf(plan, recoverySettingsOf(plan)!);

describe('size by place', () => {
  it('is a place’s own where it was measured, and between the two in between', () => {
    const found = field(prescribed())!;
    expect(sizeAt(found, 40, 40)).toBeCloseTo(3, 0);
    expect(sizeAt(found, 200, 40)).toBeCloseTo(9, 0);
    const middle = sizeAt(found, 120, 40);
    expect(middle).toBeCloseTo(Math.sqrt(27), 1);
  });

  it('is told by near places only, where there are any, whichever list is asked', () => {
    const found = field(prescribed())!;
    const [near, far] = found.places;
    // 160 px is the farthest say: at 30 px the second place has none.
    expect(sizeAt(found, 30, 40)).toBeCloseTo(3, 10);
    expect(sizeAt(found, 30, 40, [near])).toBe(sizeAt(found, 30, 40));
    // Where no place is near, all of them speak.
    expect(sizeAt(found, 5000, 40, [])).toBe(sizeAt(found, 5000, 40));
    expect(sizeAt(found, 5000, 40)).toBeGreaterThan(near.blurSizePx);
    expect(sizeAt(found, 5000, 40)).toBeLessThan(far.blurSizePx);
  });

  it('climbs a ladder from the smallest to the largest size, no rung more than half again the last', () => {
    const { ladder } = field(prescribed())!;
    expect(ladder[0]).toBe(3);
    expect(ladder[ladder.length - 1]).toBeGreaterThanOrEqual(9 / 1.02);
    ladder.slice(1).forEach((size, i) => expect(size / ladder[i]).toBeLessThanOrEqual(1.5));
  });

  it('is off for a size set by hand, an overruled reading, another method or a single place', () => {
    const byHand = prescribed((old) => ({
      ...old,
      recovery: { ...old.recovery!, blurSizePx: { value: 5, auto: false } },
    }));
    const overruled = prescribed((old) => ({ ...old, reading: { ...old.reading!, auto: false } }));
    const other = prescribed((old) => ({ ...old, recovery: { ...old.recovery!, method: 'ordinary-softness' } }));
    const single = prescribed((old) => ({ ...old, reading: { ...old.reading!, sizes: places.slice(0, 1) } }));
    for (const plan of [byHand, overruled, other, single]) expect(field(plan)).toBeNull();
  });

  it('blends the rungs’ answers sample by sample, and leaves sharp places as they are', () => {
    const width = 160;
    const input: RecoveryInput = {
      channels: [filledPlane(width, 32, 0.5)],
      lumaWeights: [1],
      known: filledPlane(width, 32, 1),
      clipped: new Uint8Array(width * 32),
      originX: 0,
      originY: 0,
    };
    const settings = recoverySettingsOf(prescribed())!;
    const asked: number[] = [];
    // An answer that is the rung's size itself shows what was blended.
    const answer = (piece: RecoveryInput, { blurSizePx }: { blurSizePx: number }) => {
      asked.push(blurSizePx);
      return piece.channels.map((plane) => ({ ...plane, data: plane.data.map(() => blurSizePx) }));
    };
    const sized = {
      places: [
        { x: 10, y: 16, blurSizePx: 1.5 },
        { x: 150, y: 16, blurSizePx: 6 },
      ],
      ladder: [1.5, 1.5 * 1.45, 1.5 * 1.45 ** 2, 1.5 * 1.45 ** 3, 1.5 * 1.45 ** 4],
    };
    const inner = { x: 0, y: 0, width, height: 32 };
    const effort = { iterations: 1, kernels: PLAIN_KERNELS };
    const solve = (...given: Parameters<typeof answer>) => {
      const planes = answer(...given);
      return { answer: planes, free: planes, believed: given[0].known };
    };
    const [{ data }] = recoverOverField(input, settings, sized, inner, effort, solve).answer;
    expect(Math.min(...asked)).toBeGreaterThan(2.2);
    expect(data[16 * width + 2]).toBeCloseTo(0.5, 1);
    expect(data[16 * width + 152]).toBeCloseTo(6, 0);
    for (let x = 1; x < width; x++) {
      expect(Math.abs(data[16 * width + x] - data[16 * width + x - 1])).toBeLessThan(0.6);
    }
  });
});
