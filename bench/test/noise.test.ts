import { describe, expect, it } from 'vitest';
import { exposed, filledPlane, fitNoise, MID_TONE, seededRandom } from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { psnr } from '@vitrocept/core';
import { cleanedByReading, encodedChannels, referencesOf } from '../src/noise';
import { noiseLine } from '../src/cases';
import { loadScene, SCENES } from '../src/pictures';

/** scikit-image's cleaners are given the truth to choose their best parameter; ours measures the noise by itself. */
describe('cleaning beside scikit-image, in one run', () => {
  it.each([
    ['marten', 1],
    ['puppet face', 3],
    ['beetle wing', 5],
  ])(
    '%s with %i percent noise: better than denoise_nl_means, denoise_wavelet and denoise_tv_chambolle',
    async (name, percent) => {
      const kernels = await nodeKernels();
      const scene = await loadScene(
        SCENES.find((source) => source.name === name)!,
        192,
      );
      const line = noiseLine(percent);
      const noisy = exposed(scene, [line, line, line], seededRandom(percent));
      const [encoded, truth] = [noisy, scene].map(encodedChannels);
      const ours = psnr(encodedChannels(cleanedByReading(noisy, kernels)), truth);
      const answers = Object.entries(referencesOf(encoded, truth)).filter(([way]) => way.startsWith('denoise_'));
      expect(answers).toHaveLength(3);
      for (const [, answer] of answers) expect(ours).toBeGreaterThan(answer.psnr);
      expect(ours).toBeGreaterThan(psnr(encoded, truth));
    },
  );
});

describe('weak noise over the finest texture', () => {
  it.each([
    // Fur alone; a whole frame with an iridescent beetle in it.
    ['marten back', 384, 0.5],
    ['weevil', 1280, 0.5],
  ])('%s, %i px a side, %d percent: cleaned it is better than before', async (name, side, percent) => {
    const scene = await loadScene(
      SCENES.find((source) => source.name === name)!,
      side,
    );
    const line = noiseLine(percent);
    const noisy = exposed(scene, [line, line, line], seededRandom(100));
    const [before, after] = [noisy, cleanedByReading(noisy, await nodeKernels())].map(encodedChannels);
    const truth = encodedChannels(scene);
    expect(psnr(after, truth)).toBeGreaterThan(psnr(before, truth) + 0.5);
  });
});

describe('noise read on fur', () => {
  it.each([
    ['marten', 1],
    ['marten', 4],
    ['marten back', 1],
    ['marten back', 2],
    ['puppet hair', 3],
  ])('%s with %i percent noise: within 15 percent at mid-tone in every channel', async (name, percent) => {
    const scene = await loadScene(
      SCENES.find((source) => source.name === name)!,
      512,
    );
    const line = noiseLine(percent);
    const noisy = exposed(scene, [line, line, line], seededRandom(7));
    for (const { a, b } of fitNoise(noisy, filledPlane(noisy[0].width, noisy[0].height, 1))) {
      expect(Math.abs((100 * Math.sqrt(a * MID_TONE + b)) / percent - 1)).toBeLessThan(0.15);
    }
  });
});
