import { describe, expect, it } from 'vitest';
import {
  filledPlane,
  keepingAnswers,
  PLAIN_KERNELS,
  recover,
  type Evidence,
  type Kernels,
  type Plane,
} from '../../src';
import { keyOfSamples } from '../../src/contentKey';
import { discPsf } from '../../src/psf/discPsf';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const SIDE = 48;
const options = { lambda: 1e-3, iterations: 3, dataPenalty: 0.2 };
const evidenceOf = (value: number): Evidence => ({
  blurred: [filledPlane(SIDE, SIDE, value)],
  weight: [filledPlane(SIDE, SIDE, 1)],
  clipped: null,
});

function counted(): { kernels: Kernels; solved: () => number } {
  let solved = 0;
  const deconvolve: Kernels['deconvolve'] = (...given) => {
    solved++;
    return PLAIN_KERNELS.deconvolve(...given);
  };
  return { kernels: { ...PLAIN_KERNELS, deconvolve }, solved: () => solved };
}

describe('kept answers', () => {
  it('the same evidence, blur and options are solved once; anything else anew', () => {
    const { kernels, solved } = counted();
    const keeping = keepingAnswers(kernels);
    const first = keeping.deconvolve(evidenceOf(0.4), discPsf(2), options);
    expect(keeping.deconvolve(evidenceOf(0.4), discPsf(2), options)).toEqual(first);
    expect(solved()).toBe(1);
    keeping.deconvolve(evidenceOf(0.5), discPsf(2), options);
    keeping.deconvolve(evidenceOf(0.4), discPsf(2.5), options);
    keeping.deconvolve(evidenceOf(0.4), discPsf(2), { ...options, lambda: 2e-3 });
    keeping.deconvolve(evidenceOf(0.4), discPsf(2), { ...options, iterations: 4 });
    keeping.deconvolve({ ...evidenceOf(0.4), weight: [filledPlane(SIDE, SIDE, 0.9)] }, discPsf(2), options);
    const flags = new Uint8Array(SIDE * SIDE).fill(1, 7, 9);
    keeping.deconvolve({ ...evidenceOf(0.4), clipped: [flags] }, discPsf(2), options);
    expect(solved()).toBe(7);
  });

  it('no more is held than there is room for: the longest unused goes', () => {
    const { kernels, solved } = counted();
    const keeping = keepingAnswers(kernels, 2 * SIDE * SIDE);
    const ask = (value: number) => keeping.deconvolve(evidenceOf(value), discPsf(2), options);
    [0.1, 0.2, 0.1, 0.3, 0.1].forEach(ask);
    expect(solved()).toBe(3);
    ask(0.2);
    expect(solved()).toBe(4);
  });

  it('another halo limit or more grain solves nothing, and gives what a fresh recovery gives', () => {
    const picture = withNoise(convolve(deadLeaves(SIDE, SIDE, 4, 3), discPsf(2)), 0.004, 2);
    const input = {
      channels: [picture],
      lumaWeights: [1],
      known: filledPlane(SIDE, SIDE, 1),
      clipped: new Uint8Array(SIDE * SIDE),
      originX: 0,
      originY: 0,
    };
    const settings = (haloLimitPercent: number) => ({
      method: 'missed-focus' as const,
      blurSizePx: 4,
      directionDeg: 0,
      noiseGuard: 50,
      haloLimitPercent,
      grainKeptPercent: 0,
      noiseFloor: [1.6e-5],
      noise: [{ a: 0, b: 1.6e-5 }],
    });
    const { kernels, solved } = counted();
    const keeping = keepingAnswers(kernels);
    recover(input, settings(50), { iterations: 4, kernels: keeping });
    const limited = recover(input, settings(10), { iterations: 4, kernels: keeping });
    expect(solved()).toBe(1);
    expect(limited).toEqual(recover(input, settings(10), { iterations: 4, kernels: PLAIN_KERNELS }));
  });

  it('planes shared by channels count once, and those that only look alike are told apart from others', () => {
    const { kernels, solved } = counted();
    const keeping = keepingAnswers(kernels);
    const [plane, other] = [deadLeaves(24, 24, 1), deadLeaves(24, 24, 2)];
    const solve = (blurred: Plane[], weight: Plane[]) =>
      keeping.deconvolve({ blurred, weight, clipped: null }, discPsf(2), {
        lambda: 1e-3,
        iterations: 1,
        dataPenalty: 0.2,
      });
    const full = filledPlane(24, 24, 1);
    const shared = solve([plane, other], [full, full]);
    expect(solve([plane, other], [full, full])).toBe(shared);
    expect(solve([other, plane], [full, full])).not.toBe(shared);
    solve([plane, plane], [full, full]);
    expect(solved()).toBe(3);
  });

  it('a key tells samples, their order and their number apart', () => {
    const keys = [
      [new Float32Array([1, 2])],
      [new Float32Array([2, 1])],
      [new Float32Array([1]), new Float32Array([2])],
      [new Float32Array([1, 2, 0])],
      [new Float32Array([1, -2])],
      [new Float32Array([1, 2]), null],
      [new Uint8Array([1, 2])],
    ].map(keyOfSamples);
    expect(new Set(keys).size).toBe(keys.length);
    // One sample changed, or two of them exchanged, anywhere among many.
    const many = Float32Array.from({ length: 501 }, (_, i) => Math.sin(i));
    const others = [0, 1, 249, 250, 499, 500].flatMap((i) => {
      const [changed, exchanged] = [many.slice(), many.slice()];
      changed[i] += 1e-6;
      const j = (i + 2) % many.length;
      [exchanged[i], exchanged[j]] = [many[j], many[i]];
      return [keyOfSamples([changed]), keyOfSamples([exchanged])];
    });
    expect(new Set([keyOfSamples([many]), ...others]).size).toBe(13);
    expect(keyOfSamples([new Float32Array([0, 1, 2]).subarray(1)])).toBe(keys[0]);
  });
});
