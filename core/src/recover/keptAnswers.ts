import { contentKey, keyOfSamples } from '../contentKey';
import { LastUsed } from '../lastUsed';
import type { Kernels } from '../kernels';
import type { Plane } from '../picture/plane';

/** 48 MB a thread. */
const MOST_SAMPLES = 12 * 2 ** 20;

/**
 * Kernels that keep what they deconvolved, by the content of all that went in: a halo limit, grain or an amount that
 * changes, a step taken back, a second trial that differs in these only need not be solved again. The longest unused
 * goes first. Nobody may change an answer.
 */
export function keepingAnswers(kernels: Kernels, mostSamples = MOST_SAMPLES): Kernels {
  const kept = new LastUsed<string, Plane[]>(mostSamples, (planes) =>
    planes.reduce((sum, { data }) => sum + data.length, 0),
  );
  return {
    ...kernels,
    deconvolve(evidence, psf, options) {
      const { blurred, weight, clipped } = evidence;
      const { lambda, iterations, dataPenalty } = options;
      const sizes = [blurred[0].width, psf.width, psf.height];
      const planes = [...blurred, ...weight, psf].map(({ data }) => data);
      // Channels often share a weight.
      const different = [...new Set(planes)];
      const content = keyOfSamples([...different, ...(clipped ?? [])]);
      const which = planes.map((data) => different.indexOf(data));
      const key = contentKey([sizes, which, lambda, iterations, dataPenalty, content]);
      return kept.of(key, () => kernels.deconvolve(evidence, psf, options));
    },
  };
}
