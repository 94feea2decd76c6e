import { describe, expect, it } from 'vitest';
import { gaussianBlur, gradeResult, gradeSentence, type Plane } from '../../src';
import { deadLeaves, withNoise } from '../synthetic';

const truth = deadLeaves(160, 160, 8, 2);
const three = (plane: Plane) => [plane, plane, plane];
const photographed = gaussianBlur(truth, 2);

describe('a grade', () => {
  it('of the truth is the best there is, of what was photographed none', () => {
    const best = gradeResult(three(truth), three(truth), three(photographed));
    expect(best.ssim).toBeCloseTo(1, 6);
    expect([best.halo, best.colour]).toEqual([0, 0]);
    expect(gradeSentence(best)).toMatch(/dB nearer to the truth than what was photographed\.$/);
    const none = gradeResult(three(photographed), three(truth), three(photographed));
    expect(none.gain).toBe(0);
    expect(gradeSentence(none)).toBe('As near to the truth as what was photographed.');
  });

  it('tells rims and what was never there, and when leaving it alone was better', () => {
    const overdone: Plane = {
      ...photographed,
      data: photographed.data.map((value, i) => value + 3 * (value - gaussianBlurred.data[i])),
    };
    const grade = gradeResult(three(overdone), three(truth), three(photographed));
    expect(gradeSentence(grade)).toMatch(/rims stand beside its edges/);
    const noisy = gradeResult(three(withNoise(truth, 0.08, 3)), three(truth), three(truth));
    expect(noisy.gain).toBeLessThan(-3);
    expect(gradeSentence(noisy)).toMatch(/leaving it alone was better; .*never there/);
  });

  it('is refused where the sizes are not one', () => {
    const small = { width: 8, height: 8, data: new Float32Array(64) };
    expect(() => gradeResult(three(small), three(truth), three(truth))).toThrow(/8 × 8 px, the case 160 × 160 px/);
  });
});

const gaussianBlurred = gaussianBlur(photographed, 2);
