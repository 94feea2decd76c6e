import { describe, expect, it } from 'vitest';
import {
  circleOfConfusion,
  MOST_PRACTICE_BLUR,
  PIXEL_PITCH_MM,
  practiceBlurPx,
  practiceFaultOf,
  practiceSpecSchema,
  USUAL_SPEC,
} from '../../src';

describe('what the practice camera is told', () => {
  it('blurs a missed focus by the circle of confusion, the same before and behind at the same ratio', () => {
    const px = practiceBlurPx(USUAL_SPEC);
    expect(px).toBeCloseTo(circleOfConfusion({ focalLengthMm: 300, aperture: 5.6 }, 9850, 10_000) / PIXEL_PITCH_MM, 9);
    // Worked by hand: 300/5.6 · 150/10000 · 300/9550 mm = 0.02524 mm, over 0.012.
    expect(px).toBeCloseTo(2.104, 3);
    expect(practiceBlurPx({ ...USUAL_SPEC, focusErrorMm: 0 })).toBe(0);
    expect(practiceBlurPx({ ...USUAL_SPEC, aperture: 11.2 })).toBeCloseTo(px / 2, 9);
  });

  it('blurs movement by its way on the sensor, and a hand by the reciprocal of the focal length', () => {
    const movement = { ...USUAL_SPEC, fault: 'movement' as const };
    // Worked by hand: 0.6 m/s for 1/125 s is 4.8 mm; imaged at 300/9700: 0.1485 mm.
    expect(practiceBlurPx(movement)).toBeCloseTo(0.14845 / 0.012, 2);
    const shake = { ...USUAL_SPEC, fault: 'shake' as const };
    expect(practiceBlurPx({ ...shake, shutterS: 1 / 30 })).toBeCloseTo(
      2 * practiceBlurPx({ ...shake, shutterS: 1 / 60 }),
      9,
    );
    expect(practiceBlurPx({ ...USUAL_SPEC, fault: 'none' })).toBe(0);
  });

  it('is refused where there would be no picture', () => {
    expect(practiceFaultOf(USUAL_SPEC)).toBeNull();
    expect(practiceFaultOf({ ...USUAL_SPEC, distanceM: 0.3, focalLengthMm: 400 })).toMatch(/nearer than the lens/);
    const wide = { ...USUAL_SPEC, focusErrorMm: 9000 };
    expect(practiceBlurPx(wide)).toBeGreaterThan(MOST_PRACTICE_BLUR);
    expect(practiceFaultOf(wide)).toMatch(/still a picture/);
  });

  it('is checked before it is used', () => {
    expect(practiceSpecSchema.isValidSync(USUAL_SPEC)).toBe(true);
    for (const change of [{ iso: 10 }, { blades: 3 }, { scene: -1 }, { seed: 1.5 }, { fault: 'fog' }, { more: 1 }]) {
      expect(
        practiceSpecSchema.isValidSync({ ...USUAL_SPEC, ...change }, { strict: true }),
        JSON.stringify(change),
      ).toBe(false);
    }
  });
});
