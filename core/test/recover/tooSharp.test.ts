import { describe, expect, it } from 'vitest';
import { filledPlane, FINAL_EFFORT, PLAIN_KERNELS, recover, type Plane } from '../../src';
import { discPsf } from '../../src/psf/discPsf';
import { tooSharpFor } from '../../src/recover/tooSharp';
import { limitHalos, neighbourhoodRange } from '../../src';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const [WIDTH, HEIGHT] = [140, 110];
const none = new Uint8Array(WIDTH * HEIGHT);

/** A soft cheek with a sharp whisker, 4 px wide, before it. */
function whiskerBeforeCheek(diameterPx: number): { picture: Plane; isWhisker: (i: number) => boolean } {
  const picture = convolve(deadLeaves(WIDTH, HEIGHT, 8, 4), discPsf(diameterPx / 2));
  const isWhisker = (i: number) => Math.abs(Math.floor(i / WIDTH) - 50 - ((i % WIDTH) - 70) / 12) < 2;
  const data = picture.data.map((value, i) => (isWhisker(i) ? 0.9 : 0.35 * value));
  return { picture: withNoise({ ...picture, data }, 0.002, 3), isWhisker };
}

describe('edges too sharp for the blur', () => {
  it('a whisker in focus is found, the soft cheek is not', () => {
    const { picture, isWhisker } = whiskerBeforeCheek(9);
    const found = tooSharpFor(9, picture, none)!;
    let [hit, whisker, spill] = [0, 0, 0];
    for (let i = 0; i < found.data.length; i++) {
      const x = i % WIDTH;
      if (x < 10 || x > WIDTH - 10) continue;
      if (isWhisker(i)) {
        whisker++;
        if (found.data[i] > 0.5) hit++;
      } else if (Math.abs(Math.floor(i / WIDTH) - 50 - (x - 70) / 12) > 10 && found.data[i] > 0.1) spill++;
    }
    expect(hit / whisker).toBeGreaterThan(0.9);
    expect(spill).toBe(0);
  });

  it('a picture that really is that soft has none, also with noise', () => {
    const soft = withNoise(convolve(deadLeaves(WIDTH, HEIGHT, 8, 4), discPsf(4)), 0.01, 5);
    expect(tooSharpFor(8, soft, none)).toBeNull();
  });

  it('an edge counts as too sharp from twice the slope that the blur allows', () => {
    // A step seen through a disc of diameter d rises by 4/(πd) of its height a px.
    const edge = (diameterPx: number) => {
      const step = filledPlane(WIDTH, HEIGHT, 0.1);
      for (let y = 0; y < HEIGHT; y++) step.data.fill(0.7, y * WIDTH + 70, (y + 1) * WIDTH);
      return convolve(step, discPsf(diameterPx / 2));
    };
    expect(tooSharpFor(9, edge(3), none)).not.toBeNull();
    expect(tooSharpFor(9, edge(6), none)).toBeNull();
    expect(tooSharpFor(18, edge(6), none)).not.toBeNull();
  });

  it('recovery leaves the whisker as it is and draws no dark line beside it', () => {
    const { picture, isWhisker } = whiskerBeforeCheek(9);
    const input = {
      channels: [picture],
      lumaWeights: [1],
      known: filledPlane(WIDTH, HEIGHT, 1),
      clipped: none,
      originX: 0,
      originY: 0,
    };
    const settings = {
      method: 'missed-focus' as const,
      blurSizePx: 9,
      directionDeg: 0,
      noiseGuard: 50,
      haloLimitPercent: null,
      grainKeptPercent: 0,
      noiseFloor: [4e-6],
      noise: [{ a: 0, b: 4e-6 }],
    };
    const [answer] = recover(input, settings, { ...FINAL_EFFORT, kernels: PLAIN_KERNELS }).answer;
    // A given PSF is taken at its word: then the whisker is believed to be soft as well.
    const [misled] = recover({ ...input, psf: discPsf(4.5) }, settings, {
      ...FINAL_EFFORT,
      kernels: PLAIN_KERNELS,
    }).answer;
    let [darkest, darkestMisled] = [1, 1];
    for (let y = 30; y < 70; y++) {
      for (let x = 30; x < 110; x++) {
        const i = y * WIDTH + x;
        if (isWhisker(i)) expect(Math.abs(answer.data[i] - picture.data[i])).toBeLessThan(0.15);
        darkest = Math.min(darkest, answer.data[i]);
        darkestMisled = Math.min(darkestMisled, misled.data[i]);
      }
    }
    expect(darkest).toBeGreaterThan(-0.1);
    expect(darkest).toBeGreaterThan(darkestMisled + 0.1);
  });
});

describe('halo limit', () => {
  it('the range is that of the square around a sample', () => {
    const plane = filledPlane(9, 7, 0.5);
    plane.data[3 * 9 + 4] = 0.9;
    const { low, high } = neighbourhoodRange(plane, 2);
    expect(low.data.every((value) => value === 0.5)).toBe(true);
    expect(high.data[1 * 9 + 2]).toBeCloseTo(0.9, 6);
    expect(high.data[0]).toBe(0.5);
    expect(high.data[3 * 9 + 7]).toBe(0.5);
  });

  it('holds overshoot to its share of the range between square roots, and touches nothing inside', () => {
    const original = filledPlane(8, 8, 0.04);
    original.data.fill(0.64, 32);
    const result = { ...original, data: original.data.slice() };
    result.data[28] = 0;
    result.data[36] = 2;
    result.data[0] = 0.04;
    limitHalos(result, original, 1, 10);
    // Between 0.2 and 0.8 a tenth is 0.06.
    expect(result.data[28]).toBeCloseTo(0.14 ** 2, 6);
    expect(result.data[36]).toBeCloseTo(0.86 ** 2, 6);
    expect(result.data[0]).toBeCloseTo(0.04, 7);
  });
});
