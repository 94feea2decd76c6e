import { isBlurMethod, psfOf } from '../methods';
import { lumaNoiseLine } from '../noise/noise';
import type { Plane } from '../picture/plane';
import { broughtUp, reducedInput, reducedSettings } from './badlySoft';
import { cleanedFirst } from './cleanedFirst';
import { recoverBlurred } from './deconvolve';
import { edgeContrast } from './edgeContrast';
import { fineTexture } from './fineTexture';
import { keepGrain } from './keepGrain';
import { keptLuma } from './keptLuma';
import type { RecoverySettings, RecoveryInput, Recovered, RecoveryEffort } from './recovery';

/**
 * The full answer of a method (amount 100) on the given samples.
 * All channels are recovered together under one prior, so that colours do not fringe.
 *
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function recover(given: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort): Recovered {
  const input = cleanedFirst(given, settings, effort.kernels);
  const luma = keptLuma(input);
  const blurred = isBlurMethod(settings.method);
  const recovered = blurred ? deblurred(input, settings, effort, luma) : sharpenLuma(input, settings, luma);
  if (settings.grainKeptPercent === 0) return recovered;
  return { ...recovered, answer: keepGrain(recovered.answer, input, settings) };
}

function sharpenLuma(input: RecoveryInput, settings: RecoverySettings, luma: Plane): Recovered {
  const { method, blurSizePx, haloLimitPercent, noise, noiseGuard } = settings;
  const result =
    method === 'fine-texture'
      ? fineTexture(luma, blurSizePx, lumaNoiseLine(noise, input.lumaWeights), noiseGuard)
      : edgeContrast(luma, blurSizePx, haloLimitPercent);
  const answer = input.channels.map((channel) => ({
    ...channel,
    data: channel.data.map((value, i) => value + result.data[i] - luma.data[i]),
  }));
  return { answer, free: answer, believed: input.known };
}

function deblurred(input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort, luma: Plane): Recovered {
  if (!settings.badlySoft) return recoverBlurred(input, settings, effort, luma);
  const small = reducedInput(input, input.psf ?? psfOf(settings));
  const solved = recoverBlurred(small, reducedSettings(settings), effort, keptLuma(small));
  const up = (plane: Plane) => broughtUp(plane, input.known, input.originX, input.originY);
  const believed = up(solved.believed);
  const data = believed.data.map((value) => Math.min(1, Math.max(0, value)));
  return { answer: solved.answer.map(up), free: solved.free.map(up), believed: { ...believed, data } };
}
