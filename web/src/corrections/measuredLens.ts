import type { Corrections } from '@vitrocept/core';
import type { LensMeasured } from '@vitrocept/workers';

/** Smaller fringes than this are not worth resampling the picture, %. */
const LEAST_FRINGE = 0.008;
const STEPS_PER_PERCENT = 200;

const worthIt = (percent: number) =>
  Math.abs(percent) < LEAST_FRINGE ? 0 : Math.round(STEPS_PER_PERCENT * percent) / STEPS_PER_PERCENT;

/** The corrections with what was measured; what the picture does not tell stays as it was. */
export function withLens(old: Corrections, { fallOff, distortion, fringes }: LensMeasured): Corrections {
  const auto = (value: number) => ({ value, auto: true });
  return {
    ...old,
    ...(fallOff === null ? {} : { fallOffPercent: auto(Math.round(fallOff)) }),
    ...(distortion === null ? {} : { distortionPercent: auto(Math.round(10 * distortion) / 10) }),
    ...(fringes
      ? { redFringePercent: auto(worthIt(fringes.red)), blueFringePercent: auto(worthIt(fringes.blue)) }
      : {}),
  };
}

/** What was found, in a sentence each. */
export function lensSentences({ fallOff, distortion, fringes }: LensMeasured): string {
  const [red, blue] = fringes ? [worthIt(fringes.red), worthIt(fringes.blue)] : [0, 0];
  const edges =
    red === 0 && blue === 0
      ? 'No fringes worth resampling.'
      : `Fringes: red ${red.toFixed(3)} %, blue ${blue.toFixed(3)} %.`;
  return [
    fallOff === null
      ? 'Fall-off cannot be told from the light of the scene.'
      : fallOff === 0
        ? 'No fall-off.'
        : `Fall-off ${Math.round(fallOff)} %.`,
    distortion === null
      ? 'Too few long straight edges to tell distortion.'
      : distortion === 0
        ? 'Straight edges are straight.'
        : `Distortion ${distortion.toFixed(1)} %.`,
    ...(fringes ? [edges] : []),
  ].join(' ');
}
