import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import type { Kernels } from '../kernels';
import { normalisedPsf, type Psf } from '../psf/psf';
import { binsOf, GAIN_FLOOR, logGainOfPsf, transferOnGrid } from '../spectrum/psfGain';
import { fitSpectrum, sharpSpectrum, type FitOptions, type SpectrumSamples } from '../spectrum/spectralFit';
import { HUBER } from '../spectrum/spectralSums';

const FIT_ROUNDS = 8;
const STEPS = 10;
const FIRST_STEP = 0.1;
const STEP_GROWTH = 1.6;
const STEP_SHRINK = 0.4;
const MOST_TRIES = 8;
/** Empty places may fill up as fast as places of this value. */
const LEAST_PACE = 3e-4;

/**
 * A path bent towards the measured power spectrum: a few steps of projected gradients on the cost of the spectral fit,
 * strong places moving more than faint ones. The spectrum knows no phase, so this only mends a path that is nearly
 * right; but it brings a path and a family to the same footing, where their costs can be compared.
 */
export function matchSpectrum(path: Psf, samples: SpectrumSamples, options: FitOptions, kernels: Kernels): Psf {
  const { width, height } = path;
  const fit = fitSpectrum(samples, logGainOfPsf(path, samples), options, FIT_ROUNDS);
  const target = { samples, bins: binsOf(samples), signal: sharpSpectrum(samples, fit), floor: fit.floor };
  let now = path;
  let state = stateOf(now, target, kernels);
  let step = FIRST_STEP;
  for (let round = 0; round < STEPS; round++) {
    const slope = slopeOf(now, state.pull, samples.count, kernels);
    const mean = slope.reduce((sum, value, i) => sum + value * now.data[i], 0);
    let tries = 0;
    for (; tries < MOST_TRIES; tries++) {
      const moved = now.data.map((value, i) =>
        Math.max(0, value - step * (slope[i] - mean) * Math.max(value, LEAST_PACE)),
      );
      const next = moved.some((value) => value > 0) ? normalisedPsf(width, height, moved) : null;
      const nextState = next && stateOf(next, target, kernels);
      if (next && nextState && nextState.cost < state.cost) {
        [now, state] = [next, nextState];
        step *= STEP_GROWTH;
        break;
      }
      step *= STEP_SHRINK;
    }
    if (tries === MOST_TRIES) break;
  }
  return now;
}

interface Target {
  readonly samples: SpectrumSamples;
  readonly bins: Int32Array;
  /** Power before blur at every sample, and the noise floor. */
  readonly signal: Float64Array;
  readonly floor: number;
}

interface State {
  /** Mean Huber loss of the log residual. */
  readonly cost: number;
  /** Spectrum of its derivative by the samples of the path. */
  readonly pull: ComplexPlane;
}

function stateOf(path: Psf, { samples, bins, signal, floor }: Target, kernels: Kernels): State {
  const { side, count, logPower } = samples;
  const { re, im } = transferOnGrid(path, side, kernels.fft2d);
  const pull = createComplex(side, side);
  let cost = 0;
  for (let i = 0; i < count; i++) {
    const at = bins[i];
    const total = signal[i] * (re[at] * re[at] + im[at] * im[at] + GAIN_FLOOR) + floor;
    const residual = logPower[i] - Math.log(total);
    const size = Math.abs(residual);
    cost += size <= HUBER ? 0.5 * residual * residual : HUBER * (size - 0.5 * HUBER);
    const weight = (-2 * signal[i] * Math.max(-HUBER, Math.min(HUBER, residual))) / total;
    pull.re[at] = weight * re[at];
    pull.im[at] = weight * im[at];
  }
  return { cost: cost / count, pull };
}

/** Derivative of the cost by every sample of the path; the pull is spent. */
function slopeOf({ width, height }: Psf, pull: ComplexPlane, count: number, kernels: Kernels): Float32Array {
  kernels.inverseFft2d(pull);
  const side = pull.width;
  const slope = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) slope[i] = (pull.re[(y % side) * side + (x % side)] * side * side) / count;
  }
  return slope;
}
