import { WEAKER_GUARD, WEAKER_ITERATIONS, withTexture } from '../learned/texture';
import { psfOf } from '../methods';
import { fromOpponent, keptOpponent } from '../picture/opponentColours';
import { copyPlane, type Plane } from '../picture/plane';
import { intersect, isEmpty, wholeOf } from '../picture/region';
import { reachOf, type Psf } from '../psf/psf';
import { calmness } from './calmness';
import { evidenceOf, firstOf } from './evidence';
import { guessing, placesWhere, TOO_SHARP } from './guessSharp';
import { limitHalos } from './haloLimit';
import { keepWhite } from './keepWhite';
import { flooredAtRounding, lambdaFor } from './noiseGuard';
import { cutBack } from './padding';
import type { RecoverySettings, RecoveryInput, Recovered, RecoveryEffort } from './recovery';
import { tooSharpFor } from './tooSharp';

const DATA_PENALTY = 0.2;

/**
 * Deconvolves; where a missed focus is contradicted by sharp edges the original stays, and its data are not believed.
 */
export function recoverBlurred(
  input: RecoveryInput,
  settings: RecoverySettings,
  effort: RecoveryEffort,
  luma: Plane,
): Recovered {
  const sharp =
    settings.method === 'missed-focus' && !input.psf ? tooSharpFor(settings.blurSizePx, luma, input.clipped) : null;
  if (!sharp) return deconvolveAll(input, settings, effort);
  const known = copyPlane(input.known);
  for (let i = 0; i < known.data.length; i++) if (sharp.data[i] > TOO_SHARP) known.data[i] = 0;
  const started = guessing(sharp, known, settings.blurSizePx / 2);
  const solved = deconvolveAll({ ...input, known }, settings, effort, started);
  const kept = sharp.data;
  const places = placesWhere(sharp, (i) => kept[i] > 0);
  const answer = solved.answer.map((plane, c) => {
    const mixed = plane === solved.free[c] ? copyPlane(plane) : plane;
    const { data } = mixed;
    const original = input.channels[c].data;
    for (const i of places) data[i] += kept[i] * (original[i] - data[i]);
    return mixed;
  });
  return { ...solved, answer };
}

/** @param started - What the solver starts from, given the data; it matters where these are not believed. */
function deconvolveAll(
  input: RecoveryInput,
  settings: RecoverySettings,
  effort: RecoveryEffort,
  started: (plane: Plane) => Plane = (plane) => plane,
): Recovered {
  const { blurSizePx, haloLimitPercent } = settings;
  const psf = input.psf ?? psfOf(settings);
  const calm =
    settings.method === 'camera-shake' && !input.psf
      ? calmness(keptOpponent(input.channels)[0], input.clipped, Math.ceil(reachOf(psf)))
      : null;
  const believed = calm
    ? { ...input.known, data: input.known.data.map((value, i) => value * calm.data[i]) }
    : input.known;
  const { evidence, variances } = evidenceOf(input, believed, settings, psf, started);
  const solve = (count: number, noiseGuard: number, iterations: number) => {
    const lambda = lambdaFor(variances, noiseGuard);
    const options = { lambda, iterations, dataPenalty: DATA_PENALTY, shouldStop: effort.shouldStop };
    const components = effort.kernels.deconvolve(firstOf(evidence, count), psf, options);
    return components.map((plane) => cutBack(plane, input.channels[0]));
  };
  const inChannels = (components: readonly Plane[]) => {
    const channels = fromOpponent(components);
    keepWhite(channels, input, reachOf(psf));
    return channels;
  };
  const components = solve(variances.length, settings.noiseGuard, effort.iterations);
  const recovered = inChannels(components);
  let free = recovered;
  if (settings.learnedTexture && !effort.isDraft) {
    const weaker = () => {
      const [brightness] = solve(1, settings.noiseGuard - WEAKER_GUARD, WEAKER_ITERATIONS);
      return inChannels([brightness, ...components.slice(1)]);
    };
    free = textured(recovered, weaker, input, settings, psf, effort);
  }
  if (haloLimitPercent === null) return { answer: free, free, believed };
  const answer = free.map((plane, c) => {
    const limited = copyPlane(plane);
    limitHalos(limited, input.channels[c], Math.max(1, Math.round(blurSizePx / 2)), haloLimitPercent);
    return limited;
  });
  return { answer, free, believed };
}

function textured(
  recovered: readonly Plane[],
  weaker: () => Plane[],
  input: RecoveryInput,
  settings: RecoverySettings,
  psf: Psf,
  { kernels, shouldStop }: RecoveryEffort,
): Plane[] {
  const [variance] = flooredAtRounding(settings.noiseFloor);
  const { channels, originX, originY, shown = wholeOf(channels[0]) } = input;
  const { noise, noiseGuard, hidesNoise = false } = settings;
  const wanted = intersect(shown, wholeOf(channels[0]));
  if (isEmpty(wanted)) return [...recovered];
  const free = withTexture(
    { recovered, weaker: weaker(), given: channels, noise, noiseGuard, hidesNoise, psf, variance, originX, originY },
    wanted,
    kernels,
    shouldStop,
  );
  keepWhite(free, input, reachOf(psf));
  return free;
}
