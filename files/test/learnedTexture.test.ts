import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import {
  blurred,
  createPlane,
  cropPlane,
  decodePiece,
  exposed,
  filledPlane,
  FINAL_EFFORT,
  MID_TONE,
  normalisedPsf,
  pathPsf,
  recover,
  seededRandom,
  shakePath,
  srgbEncode,
  wholeOf,
  type Kernels,
  type Plane,
  type Psf,
  type RecoverySettings,
} from '@vitrocept/core';
import { discPsf } from '../../core/src/psf/discPsf';
import { nodeKernels, pieceOf, readPicture } from '../src';

/** The weights that ship, on truths of the demo, which training never saw. */
const TRUTHS = new URL('../../demo/truth/', import.meta.url).pathname;
const SIDE = 240;
const BORDER = 24;

let kernels: Kernels;
beforeAll(async () => {
  kernels = await nodeKernels();
});

async function sharp(name: string, x: number, y: number): Promise<Plane[]> {
  const truth = await readPicture(join(TRUTHS, name));
  const cut = { x, y, width: SIDE + 2 * BORDER, height: SIDE + 2 * BORDER };
  return decodePiece(pieceOf(truth, wholeOf(truth)), wholeOf(truth), truth.space).map((plane) => cropPlane(plane, cut));
}

const noiseOf = (percent: number) => {
  const variance = (percent / 100) ** 2;
  return [0, 1, 2].map(() => ({ a: (0.9 * variance) / MID_TONE, b: 0.1 * variance }));
};

/** A photograph of the scene, recovered knowing its blur and noise. */
function recovered(scene: readonly Plane[], psf: Psf, percent: number, learnedTexture: boolean): Plane[] {
  const noise = noiseOf(percent);
  const channels = exposed(blurred(scene, psf, BORDER), noise, seededRandom(3));
  const variance = (percent / 100) ** 2;
  const settings: RecoverySettings = {
    method: 'camera-shake',
    blurSizePx: 8,
    directionDeg: 0,
    noiseGuard: 50,
    haloLimitPercent: null,
    grainKeptPercent: 0,
    noise,
    noiseFloor: [variance, variance, variance],
    learnedTexture,
  };
  const input = {
    channels,
    lumaWeights: [0.2126, 0.7152, 0.0722],
    known: filledPlane(SIDE, SIDE, 1),
    clipped: new Uint8Array(SIDE * SIDE),
    originX: 0,
    originY: 0,
    psf,
  };
  return recover(input, settings, { ...FINAL_EFFORT, kernels }).answer;
}

/** dB of encoded light, without the border that the blur brought in. */
function psnr(planes: readonly Plane[], scene: readonly Plane[]): number {
  const inside = { x: 24, y: 24, width: SIDE - 48, height: SIDE - 48 };
  const encoded = (plane: Plane) => plane.data.map((light) => srgbEncode(Math.min(1, Math.max(0, light))));
  let squares = 0;
  planes.forEach((plane, c) => {
    const truth = encoded(cropPlane(scene[c], { ...inside, x: inside.x + BORDER, y: inside.y + BORDER }));
    encoded(cropPlane(plane, inside)).forEach((value, i) => (squares += (value - truth[i]) ** 2));
  });
  return -10 * Math.log10(squares / (planes.length * inside.width * inside.height));
}

const gain = (scene: readonly Plane[], psf: Psf, percent: number) =>
  psnr(recovered(scene, psf, percent, true), scene) - psnr(recovered(scene, psf, percent, false), scene);

describe('learned texture as it ships', () => {
  it.each([
    ['fur under a disc of 7 px', 'marten.jpg', 420, 200, discPsf(3.5), 1, 0.2],
    ['fur under a lopsided path', 'marten.jpg', 420, 200, pathPsf(shakePath(seededRandom(7), 14)), 1, 0.05],
  ])('%s comes nearer to the truth', async (_, name, x, y, psf, percent, least) => {
    expect(gain(await sharp(name, x, y), psf, percent)).toBeGreaterThan(least);
  });

  it('leaves a frame that is sharp as it is, within 0.1 dB', async () => {
    const point = normalisedPsf(3, 3, [0, 0.02, 0, 0.02, 0.92, 0.02, 0, 0.02, 0]);
    expect(Math.abs(gain(await sharp('marten.jpg', 420, 200), point, 0.2))).toBeLessThan(0.1);
  });

  it('makes no picture of noise: over a plain ground it adds less than the noise that was there', () => {
    const plain = [0.2, 0.25, 0.3].map((light) => filledPlane(SIDE + 2 * BORDER, SIDE + 2 * BORDER, light));
    const [without, within] = [false, true].map((learned) => recovered(plain, discPsf(3.5), 1, learned));
    const rms = (data: Float32Array) => Math.sqrt(data.reduce((sum, value) => sum + value * value, 0) / data.length);
    without.forEach(({ data }, c) => {
      const added = data.map((value, i) => within[c].data[i] - value);
      expect(rms(added)).toBeLessThan(0.1 * 0.01);
      expect(rms(added)).toBeGreaterThan(0);
    });
  });

  it('recovers a grey frame too', async () => {
    const [, green] = await sharp('marten.jpg', 420, 200);
    const dark = createPlane(green.width, green.height);
    dark.data.set(green.data);
    const variance = 1e-4;
    const [channel] = exposed(blurred([dark], discPsf(3.5), BORDER), noiseOf(1).slice(0, 1), seededRandom(3));
    const answer = (learnedTexture: boolean) =>
      recover(
        {
          channels: [channel],
          lumaWeights: [1],
          known: filledPlane(SIDE, SIDE, 1),
          clipped: new Uint8Array(SIDE * SIDE),
          originX: 1,
          originY: 1,
          psf: discPsf(3.5),
        },
        {
          method: 'camera-shake',
          blurSizePx: 7,
          directionDeg: 0,
          noiseGuard: 50,
          haloLimitPercent: null,
          grainKeptPercent: 0,
          noise: noiseOf(1).slice(0, 1),
          noiseFloor: [variance],
          learnedTexture,
        },
        { ...FINAL_EFFORT, kernels },
      ).answer;
    expect(psnr(answer(true), [dark])).toBeGreaterThan(psnr(answer(false), [dark]));
  });
});
