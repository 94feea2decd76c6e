import { describe, expect, it } from 'vitest';
import { exposed, seededRandom } from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { psnr } from '../src/measures';
import { cleanedByReading, encodedChannels, noiseLine, referencesOf } from '../src/noise';
import { loadScene, SCENES } from '../src/pictures';

/** scikit-image's cleaners are given the truth to choose their best parameter; ours measures the noise by itself. */
describe('cleaning beside scikit-image, in one run', () => {
  it.each([
    ['marten', 1],
    ['puppet face', 3],
    ['beetle wing', 5],
  ])(
    '%s with %i %% noise: better than denoise_nl_means, denoise_wavelet and denoise_tv_chambolle',
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
