import type { Kernels } from '../kernels';
import { halved } from '../picture/halved';
import { createPlane, type Plane } from '../picture/plane';
import { DCT_REACH, type SlidingDctOptions } from '../fourier/slidingDct';

/** Coarser than this no blotches are looked for: level k holds what is 8·2ᵏ px across. */
export const MOST_LEVELS = 3;

/** How far a cleaned sample depends on its surroundings, px. */
export function reachOfLevels(levels: number): number {
  let reach = 2 * DCT_REACH;
  for (let level = 1; level <= levels; level++) reach += (DCT_REACH + 2) * 2 ** level;
  return reach;
}

/**
 * Cleans one plane of noise: first its halves, quarters and eighths, as many as there
 * are in `coarser`, then itself, in two passes. What a coarser level changes is spread smoothly over the finer one.
 *
 * @param sigma - Standard deviation of the noise, and how it stands at each frequency over white noise.
 * @param coarser - Standard deviations of the noise in the plane shrunk by 2, 4, 8: for white noise σ/2, σ/4, σ/8.
 * @param originX, originY - Place of the first sample in the frame; keeps tiles and whole in step.
 * Source of the levels: Pierazzo, Morel, Facciolo, "Multi-scale DCT denoising", IPOL 7 (2017).
 */
export function cleanPlane(
  plane: Plane,
  { sigma, shape }: Pick<SlidingDctOptions, 'sigma' | 'shape'>,
  coarser: readonly number[],
  originX: number,
  originY: number,
  kernels: Kernels,
): Plane {
  const calm = coarser.length > 0 ? withoutBlotches(plane, coarser, originX, originY, kernels) : plane;
  const pilot = kernels.slidingDct(calm, { sigma, shape, originX, originY });
  return kernels.slidingDct(calm, { sigma, shape, originX, originY, pilot });
}

function withoutBlotches(
  plane: Plane,
  [sigma, ...coarser]: readonly number[],
  originX: number,
  originY: number,
  kernels: Kernels,
): Plane {
  const [halfX, halfY] = [Math.ceil(originX / 2), Math.ceil(originY / 2)];
  const half = halved(plane, 2 * halfX - originX, 2 * halfY - originY);
  const calm = coarser.length > 0 ? withoutBlotches(half, coarser, halfX, halfY, kernels) : half;
  const clean = kernels.slidingDct(calm, { sigma, originX: halfX, originY: halfY });
  const change = { ...half, data: half.data.map((value, i) => clean.data[i] - value) };
  return withSpread(plane, change, originX - 2 * halfX, originY - 2 * halfY);
}

/** Adds a plane of half the scale, drawn smoothly between its samples; its corner lies at (−left, −top). */
function withSpread(plane: Plane, half: Plane, left: number, top: number): Plane {
  const out = createPlane(plane.width, plane.height);
  const across = Array.from({ length: plane.width }, (_, x) => between((x + left + 0.5) / 2 - 0.5, half.width));
  for (let y = 0; y < plane.height; y++) {
    const down = between((y + top + 0.5) / 2 - 0.5, half.height);
    const [upper, lower] = [down.at * half.width, down.next * half.width];
    for (let x = 0; x < plane.width; x++) {
      const { at, next, share } = across[x];
      const above = half.data[upper + at] * (1 - share) + half.data[upper + next] * share;
      const below = half.data[lower + at] * (1 - share) + half.data[lower + next] * share;
      out.data[y * plane.width + x] = plane.data[y * plane.width + x] + above * (1 - down.share) + below * down.share;
    }
  }
  return out;
}

function between(place: number, length: number): { at: number; next: number; share: number } {
  const within = Math.min(length - 1, Math.max(0, place));
  const at = Math.floor(within);
  return { at, next: Math.min(length - 1, at + 1), share: within - at };
}
