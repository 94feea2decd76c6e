import type { Kernels } from '../kernels';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import type { Psf } from '../psf/psf';
import { logGainOfPsf } from '../read/cause';
import { fitSpectrum, type FitOptions, type SpectrumSamples } from '../read/spectralFit';
import { estimatePath } from './estimatePath';

/** Longest side of the piece that the path is estimated on. */
const PIECE_PX = 300;
/** Too small for a path to be told from the picture. */
const LEAST_PIECE_PX = 128;
const ATTEMPTS = [
  { side: 23, edgePrice: 1e-3 },
  { side: 31, edgePrice: 1e-3 },
];
const ROUNDS = 8;

export interface ShakeFit {
  readonly path: Psf;
  /** Cost of the spectral fit with the path's transfer function, comparable with the other families'. */
  readonly cost: number;
  readonly floor: number;
}

/**
 * The free path that explains the picture best: estimated blindly with several settings on a piece of the used area,
 * and judged by the spectral fit over all of it, which has not seen the estimate.
 *
 * @returns Null where the used area is too small.
 */
export function readShake(
  luma: Plane,
  use: Plane,
  spectrum: SpectrumSamples,
  options: FitOptions,
  kernels: Kernels,
): ShakeFit | null {
  const piece = busiestPiece(luma, use);
  if (!piece) return null;
  return ATTEMPTS.map((attempt) => estimatePath(piece, attempt, kernels))
    .map((path) => ({ path, ...fitPath(path, spectrum, options) }))
    .reduce((best, fit) => (fit.cost < best.cost ? fit : best));
}

function fitPath(path: Psf, spectrum: SpectrumSamples, options: FitOptions) {
  return fitSpectrum(spectrum, logGainOfPsf(path, spectrum), options, ROUNDS);
}

/** The square piece, wholly of the used area where possible, with the most edges. */
function busiestPiece(luma: Plane, use: Plane): Plane | null {
  const width = Math.min(PIECE_PX, luma.width);
  const height = Math.min(PIECE_PX, luma.height);
  if (Math.min(width, height) < LEAST_PIECE_PX) return null;
  let best: { x: number; y: number; edges: number } | null = null;
  for (let y = 0; y + height <= luma.height; y += 50) {
    for (let x = 0; x + width <= luma.width; x += 50) {
      let edges = 0;
      let used = 0;
      for (let row = y; row < y + height - 1; row += 2) {
        for (let i = row * luma.width + x; i < row * luma.width + x + width - 1; i += 2) {
          if (use.data[i] <= 0.5) continue;
          used++;
          edges += Math.abs(luma.data[i + 1] - luma.data[i]) + Math.abs(luma.data[i + luma.width] - luma.data[i]);
        }
      }
      if (used < 0.15 * width * height) continue;
      if (!best || edges > best.edges) best = { x, y, edges };
    }
  }
  return best && cropPlane(luma, { ...best, width, height });
}
