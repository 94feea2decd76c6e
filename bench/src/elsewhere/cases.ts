import {
  bladedPsf,
  blurred,
  discPsf,
  exposed,
  gaussianPsf,
  HAND_PATHS,
  handPath,
  inner,
  linePsf,
  pathPsf,
  reachOf,
  seededRandom,
  throughMosaic,
  type HandPath,
  type Plane,
  type Psf,
} from '@vitrocept/core';
import { noiseLine } from '../cases';
import { loadScene } from '../pictures';
import { SCENES_OF, type Part } from './scenes';

/**
 * How light becomes a file: `linear` 16 bits as they are; `mosaic` 16 bits filled in from a colour mosaic; `jpeg` of
 * quality 90.
 */
export const CHAINS = ['linear', 'mosaic', 'jpeg'] as const;
export type Chain = (typeof CHAINS)[number];

export type Blur =
  | { readonly kind: 'disc' | 'blades' | 'gaussian'; readonly size: number }
  | { readonly kind: 'line'; readonly size: number; readonly directionDeg: number }
  | { readonly kind: HandPath; readonly size: number }
  | { readonly kind: 'none'; readonly size: 0 };

/** A case: sizes are radius, σ, length or the longer side of a path's box, px. */
export interface ElsewhereCase {
  readonly name: string;
  readonly scene: string;
  readonly blur: Blur;
  readonly noisePercent: number;
  readonly chain: Chain;
  /** Exposed so far that so much of the picture is clipped, percent. */
  readonly clippedPercent: number;
  readonly seed: number;
}

const BLURS: readonly (readonly [blur: Blur, noisePercent: number])[] = [
  [{ kind: 'disc', size: 1.5 }, 0.2],
  [{ kind: 'disc', size: 2.2 }, 1],
  [{ kind: 'disc', size: 3 }, 1],
  [{ kind: 'disc', size: 3.4 }, 3],
  [{ kind: 'blades', size: 3.5 }, 0.2],
  [{ kind: 'blades', size: 5 }, 1],
  [{ kind: 'disc', size: 4.2 }, 0.2],
  [{ kind: 'disc', size: 6 }, 1],
  [{ kind: 'disc', size: 8 }, 0.2],
  [{ kind: 'line', size: 6, directionDeg: 110 }, 1],
  [{ kind: 'line', size: 9, directionDeg: 20 }, 0.2],
  [{ kind: 'line', size: 12, directionDeg: 65 }, 1],
  [{ kind: 'line', size: 14, directionDeg: 140 }, 3],
  [{ kind: 'line', size: 20, directionDeg: 0 }, 0.2],
  [{ kind: 'line', size: 28, directionDeg: 85 }, 0.2],
  [{ kind: 'wander', size: 17 }, 1],
  [{ kind: 'spline', size: 13 }, 0.2],
  [{ kind: 'spline', size: 21 }, 1],
  [{ kind: 'arc', size: 15 }, 0.2],
  [{ kind: 'arc', size: 27 }, 0.2],
  [{ kind: 'tremor', size: 13 }, 1],
  [{ kind: 'tremor', size: 19 }, 0.2],
  [{ kind: 'jolt', size: 15 }, 1],
  [{ kind: 'jolt', size: 23 }, 0.2],
  [{ kind: 'gaussian', size: 0.8 }, 0.2],
  [{ kind: 'gaussian', size: 1.3 }, 1],
  [{ kind: 'gaussian', size: 2 }, 0.2],
  [{ kind: 'gaussian', size: 1.6 }, 1],
];
const NONE: Blur = { kind: 'none', size: 0 };
const UNBLURRED: readonly (readonly [noisePercent: number, clippedPercent: number])[] = [
  [0.2, 0],
  [0.2, 6],
  [1, 0],
  [1, 6],
  [1, 0],
  [3, 0],
  [3, 0],
];

/**
 * Every blur once and the sharp ones, on the part's scenes in turn, through the chains in turn; `round` draws all anew.
 */
export function casesOf(part: Part, round = 0): ElsewhereCase[] {
  const scenes = SCENES_OF[part].map(({ name }) => name);
  const wanted = [
    ...BLURS.map(([blur, noisePercent]) => ({ blur, noisePercent, clippedPercent: 0 })),
    ...UNBLURRED.map(([noisePercent, clippedPercent]) => ({ blur: NONE, noisePercent, clippedPercent })),
  ];
  return wanted.map(({ blur, noisePercent, clippedPercent }, i) => {
    const at = i + round * (wanted.length + 5);
    const scene = scenes[at % scenes.length];
    const chain = CHAINS[(Math.floor(i / 2) + round) % CHAINS.length];
    const name = `${blur.kind} ${blur.size || ''} ${scene} ${noisePercent}% ${chain}${clippedPercent ? ' clipped' : ''}`;
    return { name, scene, blur, noisePercent, chain, clippedPercent, seed: 7919 * (round + 1) + i };
  });
}

const DRAWN = 35;
const SHARE_UNBLURRED = 0.2;
const SHARE_CLIPPED = 0.15;

/** Cases whose every figure is drawn: what is fitted on them cannot learn the few sizes of `casesOf`. */
export function drawnCases(part: Part, round: number): ElsewhereCase[] {
  const random = seededRandom(104729 + round);
  const drawn = <T>(from: readonly T[]) => from[Math.floor(random.uniform() * from.length)];
  const between = (low: number, high: number) => low * (high / low) ** random.uniform();
  const blur = (): Blur => {
    if (random.uniform() < SHARE_UNBLURRED) return NONE;
    const kind = drawn(['disc', 'disc', 'blades', 'gaussian', 'line', 'line', ...HAND_PATHS] as const);
    if (kind === 'gaussian') return { kind, size: between(0.6, 3) };
    if (kind === 'disc' || kind === 'blades') return { kind, size: between(0.9, 10) };
    if (kind === 'line') return { kind, size: between(2.5, 30), directionDeg: 180 * random.uniform() };
    return { kind, size: between(5, 30) };
  };
  return Array.from({ length: DRAWN }, (_, i) => {
    const one = {
      scene: drawn(SCENES_OF[part]).name,
      blur: blur(),
      noisePercent: between(0.15, 4),
      chain: drawn(CHAINS),
    };
    const clippedPercent = random.uniform() < SHARE_CLIPPED ? 6 : 0;
    return { ...one, name: `drawn ${round}.${i}`, clippedPercent, seed: 15485863 + 100 * round + i };
  });
}

export interface MadeCase {
  readonly truth: readonly Plane[];
  readonly degraded: readonly Plane[];
  readonly psf: Psf;
}

const SIDE_PX = 512;
const BORDER_PX = 24;

/** Linear light; the truth has the same exposure and is clipped as the photograph is. */
export async function makeElsewhere(part: Part, wanted: ElsewhereCase): Promise<MadeCase> {
  const source = SCENES_OF[part].find(({ name }) => name === wanted.scene)!;
  const loaded = await loadScene(source, SIDE_PX + 2 * BORDER_PX);
  const scene = exposedBy(loaded, wanted.clippedPercent);
  const random = seededRandom(wanted.seed);
  const psf = psfOfBlur(wanted.blur, wanted.seed);
  const border = Math.max(BORDER_PX, reachOf(psf));
  const line = noiseLine(wanted.noisePercent);
  const noisy = exposed(blurred(scene, psf, border), [line, line, line], random);
  const degraded = wanted.chain === 'mosaic' ? throughMosaic(noisy) : noisy;
  return { truth: scene.map((plane) => clipped(inner(plane, border))), degraded, psf };
}

const clipped = (plane: Plane): Plane => ({ ...plane, data: plane.data.map((value) => Math.min(1, value)) });

/** Brighter until that share of samples lies at white in some channel. */
function exposedBy(scene: readonly Plane[], clippedPercent: number): readonly Plane[] {
  if (clippedPercent === 0) return scene;
  const brightest = Float32Array.from(scene[0].data, (_, i) => Math.max(...scene.map(({ data }) => data[i]))).sort();
  const limit = brightest[Math.floor((1 - clippedPercent / 100) * (brightest.length - 1))];
  return scene.map((plane) => ({ ...plane, data: plane.data.map((value) => value / limit) }));
}

function psfOfBlur(blur: Blur, seed: number): Psf {
  switch (blur.kind) {
    case 'disc':
      return discPsf(blur.size);
    case 'blades':
      return bladedPsf(blur.size, 6, seed % 60);
    case 'gaussian':
      return gaussianPsf(blur.size);
    case 'line':
      return linePsf(blur.size, blur.directionDeg);
    case 'none':
      return discPsf(0);
    default:
      return pathPsf(handPath(blur.kind, seededRandom(seed + 1000), blur.size));
  }
}

export type TrueCause = 'missed-focus' | 'straight-movement' | 'camera-shake' | 'ordinary-softness' | 'none';

export function trueCauseOf({ blur }: ElsewhereCase): TrueCause {
  if (blur.kind === 'disc' || blur.kind === 'blades') return 'missed-focus';
  if (blur.kind === 'gaussian') return 'ordinary-softness';
  if (blur.kind === 'line') return 'straight-movement';
  return (HAND_PATHS as readonly string[]).includes(blur.kind) ? 'camera-shake' : 'none';
}
