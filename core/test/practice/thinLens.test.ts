import { describe, expect, it } from 'vitest';
import { circleOfConfusion, depthOfField, focusBlurPx, handShakePx, movementPx } from '../../src';

const TELE = { focalLengthMm: 300, aperture: 4, pixelPitchMm: 0.0043 };

describe('the thin lens', () => {
  it('300 mm at f/4 focused at 10 m: a subject half a metre behind becomes 0.110 mm, 25.7 px of 4.3 µm', () => {
    // By hand: 75 mm · 0.5/10.5 · 300/9700.
    expect(circleOfConfusion(TELE, 10_000, 10_500)).toBeCloseTo(0.11045, 4);
    expect(focusBlurPx(TELE, 10_000, 10_500)).toBeCloseTo(25.69, 1);
    expect(circleOfConfusion(TELE, 10_000, 10_000)).toBe(0);
  });

  it('50 mm at f/8 and 0.03 mm: hyperfocal at 10.47 m, from which all beyond 5.2 m is sharp (worked example, from memory)', () => {
    const lens = { focalLengthMm: 50, aperture: 8 };
    const { hyperfocalMm } = depthOfField(lens, 3000, 0.03);
    expect(hyperfocalMm).toBeCloseTo(10_466.7, 1);
    const far = depthOfField(lens, hyperfocalMm, 0.03);
    expect(far.farMm).toBe(Infinity);
    expect(far.nearMm).toBeCloseTo(hyperfocalMm / 2, 0);
  });

  it('at the limits of the depth of field the circle is the one allowed', () => {
    const lens = { focalLengthMm: 105, aperture: 5.6 };
    const { nearMm, farMm } = depthOfField(lens, 1200, 0.02);
    expect(circleOfConfusion(lens, 1200, nearMm)).toBeCloseTo(0.02, 6);
    expect(circleOfConfusion(lens, 1200, farMm)).toBeCloseTo(0.02, 6);
  });

  it('movement: 2 m/s across, 1/500 s, 10 m away, is 4 mm there and 28.8 px on the sensor', () => {
    expect(movementPx(TELE, 2, 1 / 500, 10_000)).toBeCloseTo((4 * 300) / 9700 / 0.0043, 9);
  });

  it('a hand at the reciprocal of the focal length moves the usual circle of confusion', () => {
    expect(handShakePx(TELE, 1 / 300) * TELE.pixelPitchMm).toBeCloseTo(0.03, 12);
    expect(handShakePx(TELE, 1 / 30)).toBeCloseTo(10 * handShakePx(TELE, 1 / 300), 9);
  });
});
