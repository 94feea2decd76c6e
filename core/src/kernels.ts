import { splittingDeconvolve, type Evidence, type SplittingOptions } from './recover/splitting';
import type { Plane } from './picture/plane';
import type { Psf } from './psf/psf';

/** The hot loops. Entry points hand in the WebAssembly ones; the plain ones here are their twins. */
export interface Kernels {
  deconvolve(evidence: Evidence, psf: Psf, options: SplittingOptions): Plane[];
}

export const PLAIN_KERNELS: Kernels = { deconvolve: splittingDeconvolve };
