import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  createPlane,
  filledPlane,
  gaussianBlur,
  normalisedPsf,
  planeOf,
  PLAIN_KERNELS,
  recover,
  type Kernels,
  type Plane,
  type Psf,
  type RecoveryInput,
  type RecoverySettings,
} from '../../src';
import { trustOf } from '../../src/recover/trust';
import { deadLeaves, psnr, withNoise } from '../synthetic';

/** recover() as renders and the Wall call it, not the solver alone. */

const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
  width: number;
  height: number;
  truth: number[];
  noisy: number[];
  psf: { width: number; height: number; values: number[] };
  psnr: Record<string, number>;
};

const settings = (change: Partial<RecoverySettings> = {}): RecoverySettings => ({
  method: 'missed-focus',
  blurSizePx: 6,
  directionDeg: 0,
  noiseGuard: 50,
  haloLimitPercent: null,
  grainKeptPercent: 0,
  noiseFloor: [4e-5, 1e-5, 2e-5],
  noise: [0, 1, 2].map(() => ({ a: 0, b: 0 })),
  ...change,
});

const inputOf = (channels: Plane[], more: Partial<RecoveryInput> = {}): RecoveryInput => ({
  channels,
  lumaWeights: channels.length === 1 ? [1] : [0.2126, 0.7152, 0.0722],
  known: filledPlane(channels[0].width, channels[0].height, 1),
  clipped: new Uint8Array(channels[0].data.length),
  originX: 0,
  originY: 0,
  ...more,
});

const three = (plane: Plane) => [plane, { ...plane, data: plane.data.slice() }, { ...plane, data: plane.data.slice() }];

/** What the solver was asked for, and an answer made up for it. */
function asking(answer: (planes: readonly Plane[]) => Plane[] = (planes) => [...planes]) {
  const asked: { evidence: Parameters<Kernels['deconvolve']>[0]; psf: Psf; lambda: number; iterations: number }[] = [];
  const kernels: Kernels = {
    ...PLAIN_KERNELS,
    deconvolve(evidence, psf, { lambda, iterations }) {
      asked.push({ evidence, psf, lambda, iterations });
      return answer(evidence.blurred);
    },
  };
  return { asked, effort: { iterations: 10, kernels } };
}

describe('against scikit-image, told the same asymmetric point spread function (core/golden/make.py)', () => {
  const truth = planeOf(golden.width, golden.height, golden.truth);
  const blurred = planeOf(golden.width, golden.height, golden.noisy);
  const psf = normalisedPsf(golden.psf.width, golden.psf.height, golden.psf.values);
  // Noise of σ 0.002, as make.py adds it.
  const variance = 0.002 ** 2;
  const told = (noiseGuard: number) => {
    const plan = settings({ noiseGuard, noiseFloor: [variance], noise: [{ a: 0, b: variance }] });
    const { answer } = recover(inputOf([blurred], { psf }), plan, { iterations: 10, kernels: PLAIN_KERNELS });
    return psnr(answer[0], truth, 10);
  };

  it('is ahead of every stored reference, as good as it may be', () => {
    for (const [name, reference] of Object.entries(golden.psnr)) {
      expect(told(50), name).toBeGreaterThan(reference + 0.3);
    }
  });

  it('ten iterations are as good as settled: a hundred change a small part of what was done', () => {
    const plan = settings({ noiseFloor: [variance], noise: [{ a: 0, b: variance }] });
    const [ten, hundred] = [10, 100].map(
      (iterations) => recover(inputOf([blurred], { psf }), plan, { iterations, kernels: PLAIN_KERNELS }).answer[0].data,
    );
    const rms = (difference: (i: number) => number) =>
      Math.sqrt(ten.reduce((sum, _, i) => sum + difference(i) ** 2, 0) / ten.length);
    const share = rms((i) => ten[i] - hundred[i]) / rms((i) => hundred[i] - blurred.data[i]);
    expect(share).toBeLessThan(0.15);
  });

  it('its regularisation stands where it should: a tenth or tenfold of it loses, both ways', () => {
    // The guard doubles λ every 10.
    const [tenth, own, tenfold] = [-33.2, 0, 33.2].map((by) => told(50 + by));
    expect(own).toBeGreaterThan(tenth + 0.3);
    expect(own).toBeGreaterThan(tenfold + 0.3);
  });
});

describe('learned texture', () => {
  const run = (change: Partial<RecoverySettings>, effort: object = {}, more: Partial<RecoveryInput> = {}) => {
    const solver = asking();
    let runs = 0;
    const runNetwork: Kernels['runNetwork'] = ({ width, height }) => {
      runs++;
      return { width, height, channels: 12, data: new Float32Array(12 * width * height) };
    };
    const kernels = { ...solver.effort.kernels, runNetwork, texture: [] };
    recover(inputOf(three(deadLeaves(60, 44, 3)), more), settings(change), { ...solver.effort, kernels, ...effort });
    return { asked: solver.asked, runs };
  };

  it('solves brightness once more, five rounds under a prior weaker by 18 on the guard', () => {
    const { asked, runs } = run({ learnedTexture: true });
    expect(runs).toBe(1);
    const [own, weaker] = asked;
    expect(own.evidence.blurred).toHaveLength(3);
    expect(weaker.evidence.blurred).toEqual(own.evidence.blurred.slice(0, 1));
    expect(weaker.evidence.weight).toEqual(own.evidence.weight.slice(0, 1));
    expect(own.lambda / weaker.lambda).toBeCloseTo(2 ** 1.8, 6);
    expect([own.iterations, weaker.iterations]).toEqual([10, 5]);
  });

  it('is left out unless asked for, of drafts, of methods that undo no blur, and where nothing of it is shown', () => {
    const ways = [
      run({}),
      run({ learnedTexture: true }, { isDraft: true }),
      run({ learnedTexture: true, method: 'edge-contrast' }),
      run({ learnedTexture: true }, {}, { shown: { x: 90, y: 0, width: 8, height: 8 } }),
    ];
    expect(ways.map(({ asked, runs }) => [asked.length, runs])).toEqual([
      [1, 0],
      [1, 0],
      [0, 0],
      [1, 0],
    ]);
  });
});

describe('what the solver is asked for', () => {
  const plain = () => three(deadLeaves(60, 44, 3));
  const lambdaOf = (change: Partial<RecoverySettings>) => {
    const { asked, effort } = asking();
    recover(inputOf(plain()), settings(change), effort);
    return asked[0].lambda;
  };

  it('λ is 12 noise variances, by the root of the channels’ noise, the guard, and half more where hardly any noise is', () => {
    // docs/methods/recover.md; 1e-6 is the variance of rounding to 8 bits near mid-tone.
    const floors = [4e-5, 1e-5, 2e-5].map((floor) => floor + 1e-6);
    const channels = Math.sqrt(floors.reduce((sum, floor) => sum + floor, 0) / floors[0]);
    expect(lambdaOf({}) / (12 * channels * floors[0])).toBeCloseTo(1, 9);
    expect(lambdaOf({ noiseGuard: 60 }) / lambdaOf({})).toBeCloseTo(2, 9);
    expect(lambdaOf({ noiseGuard: 40 }) / lambdaOf({})).toBeCloseTo(0.5, 9);
    // σ 0.002 and less is quiet, 0.005 and more is not; in the middle a quarter more.
    const quiet = (sigma: number) => {
      const floor = sigma ** 2 - 1e-6;
      return lambdaOf({ noiseFloor: [floor, floor, floor] }) / (12 * Math.sqrt(3) * sigma ** 2);
    };
    expect([quiet(0.002), quiet(0.0035), quiet(0.005)].map((value) => Number(value.toFixed(6)))).toEqual([
      1.5, 1.25, 1,
    ]);
  });

  it('opponent colours are believed by their own noise, at most four times as much; white says nothing of colour', () => {
    const { asked, effort } = asking();
    const clipped = new Uint8Array(60 * 44);
    clipped[20 * 60 + 30] = 1;
    recover(inputOf(plain(), { clipped }), settings({ noiseFloor: [8e-5, 3.95e-5, 1e-7] }), effort);
    const [brightness, first, second] = asked[0].evidence.weight;
    const at = 10 * brightness.width + 10;
    expect(brightness.data[at]).toBeGreaterThan(0);
    expect(first.data[at] / brightness.data[at]).toBeCloseTo((8e-5 + 1e-6) / (3.95e-5 + 1e-6), 5);
    expect(second.data[at] / brightness.data[at]).toBeCloseTo(4, 5);
    const white = 20 * brightness.width + 30;
    expect([first.data[white], second.data[white]]).toEqual([0, 0]);
    expect(brightness.data[white]).toBeGreaterThan(0);
    expect((asked[0].evidence.clipped ?? []).map((flags) => flags?.[white] ?? null)).toEqual([1, null, null]);
  });

  it('a blur of the size on screen: diameter, full width at half maximum, length and direction', () => {
    const momentsOf = (change: Partial<RecoverySettings>) => {
      const { asked, effort } = asking();
      recover(inputOf(plain()), settings(change), effort);
      const { width, height, data } = asked[0].psf;
      let [xx, yy, xy] = [0, 0, 0];
      data.forEach((value, i) => {
        const [x, y] = [(i % width) - (width - 1) / 2, Math.floor(i / width) - (height - 1) / 2];
        xx += value * x * x;
        yy += value * y * y;
        xy += value * x * y;
      });
      return { xx, yy, xy };
    };
    // A pixel's own area adds 1/12 to each. Disc: r²/4. Gaussian: σ², FWHM = 2.3548 σ. Line: L²/12 along it.
    expect(momentsOf({ blurSizePx: 9 }).xx).toBeCloseTo(4.5 ** 2 / 4 + 1 / 12, 1);
    const soft = momentsOf({ method: 'ordinary-softness', blurSizePx: 7 });
    expect(soft.yy / ((7 / 2.3548) ** 2 + 1 / 12)).toBeCloseTo(1, 1);
    expect(Math.abs(soft.yy / (7 / 2.3548) ** 2 - 1)).toBeLessThan(0.03);
    const moved = momentsOf({ method: 'straight-movement', blurSizePx: 16, directionDeg: 30 });
    // Counter-clockwise as seen, y down: x and y go against each other.
    expect(moved.xy).toBeLessThan(0);
    expect(moved.xx / ((16 ** 2 / 12) * Math.cos(Math.PI / 6) ** 2)).toBeCloseTo(1, 1);
  });
});

describe('what is done with its answer', () => {
  it('farther inside of white than the blur reaches it stays what was taken', () => {
    const light = filledPlane(80, 60, 1);
    const clipped = new Uint8Array(80 * 60);
    for (let y = 10; y < 50; y++) clipped.fill(1, y * 80 + 10, y * 80 + 70);
    const { effort } = asking((planes) => planes.map((plane) => createPlane(plane.width, plane.height)));
    const { answer } = recover(inputOf(three(light), { clipped }), settings(), effort);
    // The blur reaches 3 px: 12 px inside is beyond it, the border itself is not.
    for (const plane of answer) {
      expect(plane.data[30 * 80 + 40]).toBe(1);
      expect(plane.data[10 * 80 + 40]).toBeCloseTo(0, 6);
    }
  });

  it('grain that is kept is added: what cleaning would take comes back, finer than half the blur, with its own sign', () => {
    const noise = Array.from({ length: 3 }, () => ({ a: 0, b: 4e-4 }));
    const noisy = [1, 2, 3].map((seed) => withNoise(filledPlane(96, 80, 0.4), 0.02, seed));
    const clean = three(filledPlane(96, 80, 0.4));
    const { effort } = asking();
    const plan = settings({ noise, noiseFloor: [4e-4, 4e-4, 4e-4], isCleaned: true });
    const at = (grainKeptPercent: number) =>
      recover(inputOf(noisy, { clean }), { ...plan, grainKeptPercent }, effort).answer[1].data;
    const [none, half] = [at(0), at(50)];
    const grain = { ...noisy[1], data: noisy[1].data.map((value) => value - 0.4) };
    const coarse = gaussianBlur(grain, 3).data;
    for (const i of [3000, 3500, 4100]) {
      expect(half[i] - none[i]).toBeCloseTo(0.5 * (grain.data[i] - coarse[i]), 6);
    }
  });

  it('Edge contrast adds twice the difference to the smoothed brightness, to all channels alike', () => {
    const ripple = planeOf(
      64,
      48,
      Array.from({ length: 64 * 48 }, (_, i) => 0.4 + 0.05 * Math.sin((i % 64) / 2)),
    );
    const channels = [0.5, 1, 0.8].map((share) => ({ ...ripple, data: ripple.data.map((value) => share * value) }));
    const { answer } = recover(inputOf(channels), settings({ method: 'edge-contrast', blurSizePx: 4 }), {
      iterations: 1,
      kernels: PLAIN_KERNELS,
    });
    const luma = 0.2126 * 0.5 + 0.7152 + 0.0722 * 0.8;
    const smooth = gaussianBlur(ripple, 2).data;
    for (const i of [1000, 1511, 2040]) {
      for (const c of [0, 1, 2]) {
        expect(answer[c].data[i] - channels[c].data[i]).toBeCloseTo(2 * luma * (ripple.data[i] - smooth[i]), 5);
      }
    }
  });
});

describe('trust in a sample', () => {
  it('is the root of the noise assumed over the noise there, from a hundredth to three', () => {
    const [width, height] = [120, 60];
    const calm = withNoise(filledPlane(width, height, 0.3), 0.01, 5);
    const level = (assumed: number, line = { a: 0, b: 1e-9 }, share = 1, tone = 0.3) => {
      // Each a plane of its own: answers are kept by plane.
      const plane = { ...calm, data: calm.data.slice() };
      const { data } = trustOf(plane, assumed, filledPlane(width, height, tone), line, share);
      return data.reduce((sum, value) => sum + value, 0) / data.length;
    };
    expect(level(1e-4)).toBeCloseTo(1, 1);
    expect(level(2.5e-5)).toBeCloseTo(0.5, 1);
    // A calm dark place counts as at least as noisy as the line says there: at 0.01 of light a shot noise of 1/18.
    expect(level(1, { a: 1, b: 0 }, 1, 0.045)).toBeCloseTo(2, 2);
    expect(level(1, { a: 1, b: 0 }, 1, 0.005)).toBeCloseTo(3, 6);
    expect(level(1e-10)).toBeCloseTo(0.01, 6);
    // Half of the way only.
    expect(level(2.5e-5, { a: 0, b: 1e-9 }, 0.5)).toBeCloseTo(0.75, 1);
  });
});
