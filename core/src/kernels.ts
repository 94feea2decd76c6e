import { slidingDct, type SlidingDctOptions } from './fourier/slidingDct';
import { splittingDeconvolve, type Evidence, type SplittingOptions } from './solve/splitting';
import { convolve } from './psf/convolve';
import { fft2d, inverseFft2d, type ComplexPlane } from './fourier/fft2d';
import { runNetwork, type Network, type Stack } from './learned/network';
import type { Plane } from './picture/plane';
import type { Psf } from './psf/psf';
import type { SpectrumSamples } from './spectrum/spectralFit';
import type { PathCurve } from './psf/pathCurve';
import { curveSums, type CurveSums } from './spectrum/curveSums';
import { fewEdges } from './solve/fewEdges';

/** The hot loops. Entry points hand in the WebAssembly ones; the plain ones here are their twins. */
export interface Kernels {
  deconvolve(evidence: Evidence, psf: Psf, options: SplittingOptions): Plane[];
  slidingDct(plane: Plane, options: SlidingDctOptions): Plane;
  convolve(planes: readonly Plane[], psf: Psf, correlates?: boolean): Plane[];
  fewEdges(photograph: Plane, path: Psf, price: number): Plane;
  curveSums(samples: SpectrumSamples, curve: PathCurve, parameters: Float64Array, wantsEquations: boolean): CurveSums;
  /** In place, unscaled. */
  fft2d(plane: ComplexPlane): void;
  /** In place; undoes fft2d. */
  inverseFft2d(plane: ComplexPlane): void;
  runNetwork(stack: Stack, network: Network, shouldStop?: () => boolean): Stack;
  /** What the learned texture runs on; null where its weights were not brought. */
  readonly texture: Network | null;
}

export const PLAIN_KERNELS: Kernels = {
  deconvolve: splittingDeconvolve,
  slidingDct,
  convolve,
  fewEdges,
  curveSums,
  fft2d,
  inverseFft2d,
  runNetwork,
  texture: null,
};
