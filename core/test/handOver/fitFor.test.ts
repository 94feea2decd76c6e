import { describe, expect, it } from 'vitest';
import {
  automaticRecovery,
  emptyPrescription,
  finestSeen,
  fitFor,
  type AcceptedReading,
  type Prescription,
} from '../../src';

const FRAME = { width: 6000, height: 4000 };
const read = (finestNowPx: number, finestRecoverablePx: number): Prescription => ({
  ...emptyPrescription(),
  reading: {
    method: 'missed-focus',
    blurSizePx: 7,
    directionDeg: 0,
    noise: [],
    noiseFloor: [],
    sizes: [],
    measured: { finestNowPx, finestRecoverablePx },
  } as unknown as AcceptedReading,
});
const recovered = (amount: number, old = read(6, 2)): Prescription => ({
  ...old,
  recovery: { ...automaticRecovery('missed-focus', old.reading, amount), trialId: null },
});

describe('what a picture is fit for', () => {
  it('an eye tells 0.073 mm apart at 250 mm, 349 to the inch', () => {
    expect(finestSeen(250)).toBeCloseTo(0.0727, 4);
    expect(25.4 / finestSeen(250)).toBeCloseTo(349, 0);
  });

  it('a sharp frame of 6000 px is fit for a print of 436 × 291 mm in the hand', () => {
    const { prints } = fitFor(read(2, 2), FRAME)!;
    expect(prints[0]).toMatchObject({ distanceMm: 250 });
    expect(prints[0].widthMm).toBeCloseTo(436.3, 1);
    expect(prints[0].heightMm).toBeCloseTo(290.9, 1);
    expect(prints[1].widthMm).toBeCloseTo((600 / 250) * prints[0].widthMm, 6);
  });

  it('is told by what is left of the blur: as far as it was recovered', () => {
    const widths = [read(6, 2), recovered(50), recovered(100)].map((one) => fitFor(one, FRAME)!.prints[0].widthMm);
    expect(widths[1] / widths[0]).toBeCloseTo(6 / 4, 6);
    expect(widths[2] / widths[0]).toBeCloseTo(3, 6);
    expect(fitFor(emptyPrescription(), FRAME)).toBeNull();
  });

  it('enlarging adds no sharpness, a crop takes some, making it smaller neither unless its own px are the limit', () => {
    const width = (one: Prescription) => fitFor(one, FRAME)!.prints[0].widthMm;
    const done = recovered(100, read(12, 4));
    const own = width(done);
    const large = { ...done, geometry: { crop: null, quarterTurns: 0 as const, enlarge: 2 } };
    expect(width(large)).toBeCloseTo(own, 6);
    const cropped = {
      ...done,
      geometry: { crop: { x: 0, y: 0, width: 3000, height: 2000 }, quarterTurns: 0 as const },
    };
    expect(width(cropped)).toBeCloseTo(own / 2, 6);
    expect(width({ ...done, size: { longEdgePx: 3000 } })).toBeCloseTo(own, 6);
    expect(width({ ...done, size: { longEdgePx: 1500 } })).toBeCloseTo(own / 2, 6);
  });

  it('a phone forgives what a screen shows', () => {
    const sharp = (px: number) => fitFor(read(px, px), FRAME)!.viewings.map(({ isSharp }) => isSharp);
    expect(sharp(2)).toEqual([true, true, true]);
    // 530 mm over 6000 px are 0.088 mm a px; an eye at 600 mm tells 0.175 mm apart.
    expect(sharp(5)).toEqual([true, false, true]);
    expect(sharp(40)).toEqual([false, false, false]);
  });
});
