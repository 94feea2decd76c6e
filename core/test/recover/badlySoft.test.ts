import { describe, expect, it } from 'vitest';
import {
  createPlane,
  cropPlane,
  discPsf,
  filledPlane,
  grow,
  placedIn,
  reachOfRecovery,
  recover,
  type Plane,
  type RecoveryInput,
  type RecoverySettings,
} from '../../src';
import { broughtUp, reducedInput, reducedPsf, reducedSettings } from '../../src/recover/badlySoft';
import { fastKernels } from '../fastKernels';
import { convolve, deadLeaves, psnr, withNoise } from '../synthetic';

const SIGMA = 0.01;
const settings: RecoverySettings = {
  method: 'missed-focus',
  blurSizePx: 36,
  directionDeg: 0,
  noiseGuard: 50,
  haloLimitPercent: null,
  grainKeptPercent: 0,
  noiseFloor: [SIGMA ** 2],
  noise: [{ a: 0, b: SIGMA ** 2 }],
};
const effort = { iterations: 10, kernels: fastKernels };
const inputOf = (plane: Plane, originX = 0, originY = 0): RecoveryInput => ({
  channels: [plane],
  lumaWeights: [1],
  known: filledPlane(plane.width, plane.height, 1),
  clipped: new Uint8Array(plane.data.length),
  originX,
  originY,
});

describe('half size and back', () => {
  it.each([
    [0, 0],
    [3, 6],
    [-5, 1],
  ])('a slope comes back where it was, from a tile that begins at %s, %s', (originX, originY) => {
    const slope = createPlane(37, 30);
    slope.data.forEach((_, i) => (slope.data[i] = 0.1 + 0.01 * (i % 37) + 0.004 * Math.floor(i / 37)));
    const input = inputOf(slope, originX, originY);
    const { channels, originX: smallX } = reducedInput(input, discPsf(18));
    expect(smallX).toBe(Math.floor(originX / 2));
    const back = broughtUp(channels[0], slope, originX, originY);
    const inner = { x: 6, y: 6, width: 24, height: 18 };
    const [was, is] = [cropPlane(slope, inner), cropPlane(back, inner)];
    is.data.forEach((value, i) => expect(value).toBeCloseTo(was.data[i], 5));
  });

  it('a blur is half as wide and lets all light through, noise a quarter of its variance, shared noise half', () => {
    const psf = reducedPsf(discPsf(18));
    const moment = (of: typeof psf) =>
      of.data.reduce((sum, value, i) => sum + value * ((i % of.width) - (of.width - 1) / 2) ** 2, 0);
    expect(psf.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
    expect(Math.sqrt(moment(psf) / moment(discPsf(18)))).toBeCloseTo(0.5, 1);
    expect(reducedSettings(settings)).toMatchObject({ blurSizePx: 18, noiseFloor: [SIGMA ** 2 / 4] });
    expect(reducedSettings({ ...settings, hidesNoise: true }).noiseFloor).toEqual([SIGMA ** 2 / 2]);
  });
});

describe('badly soft', () => {
  const truth = deadLeaves(300, 280, 5, 5);
  const seen = withNoise(convolve(truth, discPsf(18)), SIGMA, 8);
  const answerOf = (badlySoft: boolean) => recover(inputOf(seen), { ...settings, badlySoft }, effort).answer[0];

  it('of a wide blur under noise half size shows no less than full size, at a fraction of the work', () => {
    const [half, full] = [answerOf(true), answerOf(false)].map((answer) => psnr(answer, truth, 40));
    expect(half).toBeGreaterThan(psnr(seen, truth, 40) + 1);
    expect(half).toBeGreaterThan(full - 0.1);
  });

  it('a tile sees as far as it must to agree with the whole, though it begins at an odd px', () => {
    const wide = withNoise(convolve(deadLeaves(520, 500, 6, 5), discPsf(9)), SIGMA, 9);
    const soft = { ...settings, blurSizePx: 18, badlySoft: true };
    const [whole] = recover(inputOf(wide), soft, effort).answer;
    const tile = { x: 231, y: 220, width: 40, height: 40 };
    const around = grow(tile, reachOfRecovery(soft));
    expect(around.width).toBeLessThan(wide.width);
    const [part] = recover(inputOf(cropPlane(wide, around), around.x, around.y), soft, effort).answer;
    const own = cropPlane(part, placedIn(tile, around));
    const there = cropPlane(whole, tile);
    const worst = own.data.reduce((most, value, i) => Math.max(most, Math.abs(value - there.data[i])), 0);
    expect(worst).toBeLessThan(0.005);
    expect(worst).toBeGreaterThan(0);
  });
});
