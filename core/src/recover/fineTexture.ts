import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import type { NoiseLine } from '../noise/noise';

/** Differences larger than this, between square roots of linear light, are edges and stay as they are. */
const EDGE = 0.09;
/** Smaller ones grow: d → EDGE·(d/EDGE)^EXPONENT. */
const EXPONENT = 0.6;
/** Differences below this many standard deviations of the noise are left alone; from twice that on they grow fully. */
const NOISE_DEVIATIONS = 2.5;
/**
 * Tones at which the picture is remapped; between two of them answers are blended. Wider steps would miss the growth.
 */
const TONE_STEP = EDGE / 3;
const MOST_LEVELS = 4;

/** How many octaves of detail a texture of this size, px, takes up. */
function levelsFor(sizePx: number): number {
  return Math.min(MOST_LEVELS, Math.max(1, Math.round(Math.log2(Math.max(1, sizePx))) + 1));
}

export function fineTextureReach(sizePx: number): number {
  return 4 * 2 ** levelsFor(sizePx);
}

/**
 * Small-scale contrast without halos: around every tone small differences grow and edges keep their height, level by
 * level of a Laplacian stack (not thinned, so that tiles meet). It models no blur: texture that is there gets stronger.
 *
 * @param luma - Linear light, 0..1.
 * @param sizePx - Size of the coarsest texture that grows.
 * @param noise - Of brightness, by tone; `noiseGuard` 50 takes it as measured, every 10 more doubles its variance.
 * Source: Paris, Hasinoff, Kautz, "Local Laplacian filters", ACM TOG 30 (2011); Aubry et al., "Fast local Laplacian
 * filters", ACM TOG 33 (2014) for the blending of a few remapped tones.
 */
export function fineTexture(luma: Plane, sizePx: number, noise: NoiseLine, noiseGuard: number): Plane {
  const levels = levelsFor(sizePx);
  const tone = mapped(luma, (value) => Math.sqrt(Math.max(0, value)));
  const stack = smoothStack(tone, levels);
  const out = { ...luma, data: Float32Array.from(stack[levels].data) };
  const tones = new Set(stack.slice(0, levels).flatMap(({ data }) => Array.from(new Set(data.map(toneBelow)))));
  const guard = 2 ** ((noiseGuard - 50) / 20);
  for (const step of new Set([...tones].flatMap((tone) => [tone, tone + 1]))) {
    const centre = step * TONE_STEP;
    const quiet = NOISE_DEVIATIONS * guard * deviationAt(centre, noise);
    const remapped = smoothStack(
      mapped(tone, (value) => centre + grown(value - centre, quiet)),
      levels,
    );
    for (let level = 0; level < levels; level++) {
      const [fine, coarse] = [remapped[level].data, remapped[level + 1].data];
      const around = stack[level].data;
      for (let i = 0; i < around.length; i++) {
        const share = 1 - Math.abs(around[i] - centre) / TONE_STEP;
        if (share > 0) out.data[i] += share * (fine[i] - coarse[i]);
      }
    }
  }
  return mapped(out, (value) => Math.max(0, value) ** 2);
}

const toneBelow = (value: number) => Math.floor(value / TONE_STEP);

/** The plane and ever smoother ones, by octaves. */
function smoothStack(plane: Plane, levels: number): Plane[] {
  const stack = [plane];
  // Smoothing twice adds variances: each octave's own share of 4^k.
  for (let level = 0; level < levels; level++) {
    stack.push(gaussianBlur(stack[level], level === 0 ? 1 : Math.sqrt(3) * 2 ** (level - 1)));
  }
  return stack;
}

function grown(difference: number, quiet: number): number {
  const size = Math.abs(difference);
  if (size >= EDGE || size <= quiet) return difference;
  const full = EDGE * (size / EDGE) ** EXPONENT;
  const share = Math.min(1, (size - quiet) / Math.max(quiet, 1e-6));
  return Math.sign(difference) * (size + share * share * (3 - 2 * share) * (full - size));
}

/** Standard deviation of the noise between square roots of linear light, at one of them. */
function deviationAt(root: number, { a, b }: NoiseLine): number {
  return Math.sqrt(Math.max(0, a * root * root + b)) / (2 * Math.max(root, 0.05));
}

function mapped(plane: Plane, change: (value: number) => number): Plane {
  const out = createPlane(plane.width, plane.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = change(plane.data[i]);
  return out;
}
