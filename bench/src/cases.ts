import {
  bladedPsf,
  blurred,
  discPsf,
  exposed,
  gaussianPsf,
  inner,
  linePsf,
  MID_TONE,
  pathPsf,
  seededRandom,
  shakePath,
  subjectBlurred,
  type NoiseLine,
  type Plane,
  type Psf,
} from '@vitrocept/core';
import { loadScene, SCENES } from './pictures';

export type Family = 'focus' | 'movement' | 'shake' | 'softness' | 'text' | 'subject' | 'sharp' | 'noise';

/** What to do to a scene. Sizes: radius, length, σ or the side of the path's box, px. */
export interface CaseRecipe {
  readonly name: string;
  readonly family: Family;
  readonly scene: string;
  readonly blur: 'disc' | 'blades' | 'line' | 'path' | 'gaussian' | 'none';
  readonly size: number;
  readonly directionDeg: number;
  readonly noisePercent: number;
  /** JPEG quality; null is a 16-bit PNG. */
  readonly jpeg: number | null;
}

const recipe = (
  family: Family,
  scene: string,
  blur: CaseRecipe['blur'],
  size: number,
  noisePercent: number,
  directionDeg = 0,
  jpeg: number | null = null,
): CaseRecipe => ({
  name: `${family} ${blur === 'none' ? '' : `${blur} ${size} `}${scene} ${noisePercent}%${jpeg ? ` q${jpeg}` : ''}`,
  family,
  scene,
  blur,
  size,
  directionDeg,
  noisePercent,
  jpeg,
});

export const RECIPES: readonly CaseRecipe[] = [
  recipe('focus', 'coffee', 'disc', 1.5, 0.2),
  recipe('focus', 'cat', 'disc', 3, 0.2),
  recipe('focus', 'motorcycle', 'disc', 4.2, 0.2),
  recipe('focus', 'ladybird', 'blades', 5, 1, 20),
  recipe('focus', 'gravel', 'disc', 2.5, 1),
  recipe('focus', 'marten', 'blades', 3.5, 0.2, 50),
  recipe('focus', 'weevil', 'disc', 6, 1),
  recipe('focus', 'launch', 'disc', 3.4, 3),
  recipe('focus', 'seed heads', 'disc', 4, 0.5, 0, 90),
  recipe('movement', 'cat', 'line', 12, 0.2, 25),
  recipe('movement', 'motorcycle', 'line', 6, 1, 110),
  recipe('movement', 'marten', 'line', 20, 0.2, 0),
  recipe('movement', 'brick', 'line', 28, 0.2, 65),
  recipe('movement', 'dune grass', 'line', 15, 1, 160),
  recipe('movement', 'coffee', 'line', 10, 3, 45),
  recipe('movement', 'weevil', 'line', 9, 0.5, 80, 92),
  recipe('shake', 'coffee', 'path', 15, 0.2),
  recipe('shake', 'motorcycle', 'path', 19, 0.2),
  recipe('shake', 'marten', 'path', 23, 0.2),
  recipe('shake', 'cat', 'path', 17, 1),
  recipe('shake', 'launch', 'path', 31, 0.2),
  recipe('shake', 'weevil', 'path', 15, 1),
  recipe('softness', 'meadow', 'gaussian', 0.8, 0.2),
  recipe('softness', 'tissue', 'gaussian', 1.3, 0.2),
  recipe('softness', 'cat', 'gaussian', 2, 1),
  recipe('text', 'text', 'disc', 3, 0.2),
  recipe('text', 'text', 'line', 9, 1, 30),
  recipe('subject', 'marten', 'line', 16, 0.2, 10),
  recipe('subject', 'ladybird', 'disc', 4, 0.5),
  recipe('sharp', 'coffee', 'none', 0, 0.2),
  recipe('sharp', 'motorcycle', 'none', 0, 0.2),
  recipe('sharp', 'gravel', 'none', 0, 0.2),
  recipe('noise', 'cat', 'none', 0, 3),
  recipe('noise', 'ladybird', 'none', 0, 1),
];

export interface PracticeCase {
  readonly recipe: CaseRecipe;
  readonly truth: readonly Plane[];
  readonly degraded: readonly Plane[];
  readonly psf: Psf;
  /** Sharp coverage of the subject; null where the whole frame is blurred. */
  readonly mask: Plane | null;
}

const SIDE_PX = 512;
const BORDER_PX = 24;

export async function makeCase(recipe: CaseRecipe, seed: number): Promise<PracticeCase> {
  const source = SCENES.find(({ name }) => name === recipe.scene)!;
  const scene = await loadScene(source, SIDE_PX + 2 * BORDER_PX);
  const random = seededRandom(seed);
  const psf = psfOfRecipe(recipe, seed);
  const coverage = recipe.family === 'subject' ? ellipse(scene[0]) : null;
  const soft = coverage ? subjectBlurred(scene, coverage, psf, BORDER_PX) : blurred(scene, psf, BORDER_PX);
  const line = noiseLine(recipe.noisePercent);
  return {
    recipe,
    truth: scene.map((plane) => inner(plane, BORDER_PX)),
    degraded: exposed(soft, [line, line, line], random),
    psf,
    mask: coverage && inner(coverage, BORDER_PX),
  };
}

/** Nine tenths of the variance at the mid-tone from photons, the rest from reading out. */
export function noiseLine(percent: number): NoiseLine {
  const variance = (percent / 100) ** 2;
  return { a: (0.9 * variance) / MID_TONE, b: 0.1 * variance };
}

function psfOfRecipe({ blur, size, directionDeg }: CaseRecipe, seed: number): Psf {
  switch (blur) {
    case 'disc':
      return discPsf(size);
    case 'blades':
      return bladedPsf(size, 6, directionDeg);
    case 'line':
      return linePsf(size, directionDeg);
    case 'path':
      return pathPsf(shakePath(seededRandom(seed + 1000), size - 3));
    case 'gaussian':
      return gaussianPsf(size);
    case 'none':
      return discPsf(0);
  }
}

function ellipse({ width, height }: Plane): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const r = Math.hypot((x - width / 2) / (0.36 * width), (y - height / 2) / (0.32 * height));
      data[y * width + x] = Math.min(1, Math.max(0, (1 - r) * 0.3 * width));
    }
  }
  return { width, height, data };
}
