import { describe, expect, it } from 'vitest';
import {
  automaticCleaning,
  automaticRecovery,
  cropPlane,
  emptyPrescription,
  filledPlane,
  FINAL_EFFORT,
  PLAIN_KERNELS,
  planeOf,
  type AcceptedReading,
  type Cleaning,
  type Kernels,
  type Prescription,
} from '../../src';
import { recoverOverField } from '../../src/prescription/byPlace/blurField';
import { recoverySettingsOf } from '../../src/stages/recover';
import { recover } from '../../src/recover/recover';
import type { RecoveryInput, RecoverySettings } from '../../src/recover/recovery';
import { discPsf } from '../../src/psf/discPsf';
import { convolve, deadLeaves, psnr, withNoise } from '../synthetic';

const [WIDTH, HEIGHT] = [112, 80];
const sharp = deadLeaves(WIDTH, HEIGHT, 12, 4);
const soft = convolve(sharp, discPsf(2));

function inputOf(sigma: number): RecoveryInput {
  return {
    channels: [1, 2, 3].map((seed) => withNoise(soft, sigma, seed)),
    lumaWeights: [0.2126, 0.7152, 0.0722],
    known: filledPlane(WIDTH, HEIGHT, 1),
    clipped: new Uint8Array(WIDTH * HEIGHT),
    originX: 0,
    originY: 0,
  };
}

const settingsFor = (sigma: number): RecoverySettings => ({
  method: 'missed-focus',
  blurSizePx: 4,
  directionDeg: 0,
  noiseGuard: 50,
  haloLimitPercent: null,
  grainKeptPercent: 0,
  noise: [0, 1, 2].map(() => ({ a: 0, b: sigma ** 2 })),
  noiseFloor: [0, 1, 2].map(() => sigma ** 2),
});

/** Counts how often planes are cleaned. */
function counting(): { kernels: Kernels; passes: () => number } {
  let passes = 0;
  const slidingDct: Kernels['slidingDct'] = (plane, options) => {
    passes++;
    return PLAIN_KERNELS.slidingDct(plane, options);
  };
  return { kernels: { ...PLAIN_KERNELS, slidingDct }, passes: () => passes };
}

describe('cleaned before the blur is taken back', () => {
  it('plain noise is, and that is worth it; hardly any noise is not, nor a frame that was cleaned before', () => {
    const answerOf = (sigma: number, part: Partial<RecoverySettings>) => {
      const { kernels, passes } = counting();
      const { answer } = recover(inputOf(sigma), { ...settingsFor(sigma), ...part }, { ...FINAL_EFFORT, kernels });
      return { answer: answer[1], passes: passes() };
    };
    const noisy = answerOf(0.03, {});
    const plain = answerOf(0.03, { isCleaned: true });
    // Two passes over brightness and both opponent colours.
    expect(noisy.passes).toBe(6);
    expect(plain.passes).toBe(0);
    expect(psnr(noisy.answer, sharp, 12)).toBeGreaterThan(psnr(plain.answer, sharp, 12) + 0.2);
    expect(answerOf(0.001, {}).passes).toBe(0);
  });

  it('grain that cleaning cannot take as white noise is left to the prior', () => {
    const { kernels, passes } = counting();
    // The floor lies far over what the noise lines know of.
    const settings = { ...settingsFor(0.004), noiseFloor: [9e-4, 9e-4, 9e-4] };
    recover(inputOf(0.03), settings, { ...FINAL_EFFORT, kernels });
    expect(passes()).toBe(0);
  });

  it('once, however many sizes are solved, and with grain kept as well', () => {
    const { kernels, passes } = counting();
    const places = [
      [10, 40, 3],
      [60, 40, 5],
      [100, 40, 8],
    ].map(([x, y, blurSizePx]) => ({ x, y, blurSizePx }));
    const field = { places, ladder: [3, 3 * 1.4, 3 * 1.4 ** 2, 3 * 1.4 ** 3] };
    const settings = { ...settingsFor(0.03), grainKeptPercent: 40 };
    const whole = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
    const { answer } = recoverOverField(inputOf(0.03), settings, field, whole, { ...FINAL_EFFORT, kernels }, recover);
    expect(passes()).toBe(6);
    expect(answer).toHaveLength(3);
  });

  it('grain kept is the original’s: half of it stands out half as far', () => {
    const input = inputOf(0.03);
    const effort = { ...FINAL_EFFORT, kernels: PLAIN_KERNELS };
    const at = (grainKeptPercent: number) =>
      recover(input, { ...settingsFor(0.03), grainKeptPercent }, effort).answer[1];
    const [none, half, all] = [0, 50, 100].map(at);
    const inner = { x: 12, y: 12, width: 60, height: 50 };
    const added = (plane: typeof none) => {
      const [p, q] = [plane, none].map((one) => cropPlane(one, inner));
      return Math.sqrt(p.data.reduce((sum, value, i) => sum + (value - q.data[i]) ** 2, 0) / p.data.length);
    };
    expect(added(all)).toBeGreaterThan(0.01);
    expect(added(half) / added(all)).toBeCloseTo(0.5, 3);
  });
});

describe('what counts as a cleaned frame', () => {
  const reading = {
    noise: [{ a: 0, b: 9e-4 }],
    noiseFloor: [9e-4],
    sizes: [],
    measured: { noisePercent: 3 },
  } as unknown as AcceptedReading;
  const isCleaned = (part: Partial<Cleaning> | null) => {
    const recovery = { ...automaticRecovery('missed-focus', null, 100), trialId: null };
    const cleaning = part && { ...automaticCleaning(reading), ...part };
    const prescription: Prescription = { ...emptyPrescription(), reading, recovery, cleaning };
    return recoverySettingsOf(prescription)!.isCleaned;
  };

  it('cleaned everywhere it is; in a band, in a mask, in one channel or in colour alone it is not', () => {
    expect(isCleaned({})).toBe(true);
    expect(isCleaned(null)).toBe(false);
    expect(isCleaned({ band: [0, 0, 0.3, 0.6] })).toBe(false);
    expect(isCleaned({ maskId: 'mask-1' })).toBe(false);
    expect(isCleaned({ channelPercents: [0, 0, 100] })).toBe(false);
    expect(isCleaned({ luminance: { value: 0, auto: false } })).toBe(false);
  });
});

describe('planes of one sample', () => {
  it('too small for a block are left as they are', () => {
    const tiny = [0.2, 0.3, 0.4].map((value) => planeOf(1, 1, [value]));
    const input = { ...inputOf(0.03), channels: tiny, known: filledPlane(1, 1, 1), clipped: new Uint8Array(1) };
    const { answer } = recover(
      input,
      { ...settingsFor(0.03), blurSizePx: 0.3 },
      { ...FINAL_EFFORT, kernels: PLAIN_KERNELS },
    );
    answer.forEach((plane) => expect(Number.isFinite(plane.data[0])).toBe(true));
  });
});
