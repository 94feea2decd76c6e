import { CoreError } from '../errors';
import type { Kernels } from '../kernels';
import type { NoiseLine } from '../noise/noise';
import { cropPlane } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import { grow, placedIn, type Region } from '../picture/region';
import { foldedStack, unfolded } from './fold';

/**
 * px around a sample that its texture hangs on in a way that matters: eight 3 × 3 convolutions over folded samples see
 * 18, but with 8 a tile and the whole frame differ by no more than with these (files/test/tiles.test.ts).
 */
export const REACH_OF_NETWORK = 8;
/** What tells the recoveries apart is small beside them, and so is what is to be added. */
const MORE = 4;
const LESS = 0.1;
const DARKEST = 1e-6;
/** Light from which on nothing is added: it was trained on what a sensor can hold. */
const LIGHTEST = 1.1;
const FADES_OVER = 0.1;

/** All in linear light, of one size; three channels, or one. */
export interface MissingInput {
  readonly recovered: readonly Plane[];
  /** The same with a prior WEAKER_GUARD weaker, after WEAKER_ITERATIONS. */
  readonly weaker: readonly Plane[];
  /** What was recovered. */
  readonly given: readonly Plane[];
  readonly noise: readonly NoiseLine[];
  /** 0..100; 50 is the measured noise. */
  readonly noiseGuard: number;
  /** JPEG, a mosaic or cleaning took the finest noise away: it is not white. */
  readonly hidesNoise: boolean;
  /** Of the first sample, px of the frame: folding follows the frame, not the tile. */
  readonly originX: number;
  readonly originY: number;
}

/**
 * What a small trained network (training/README.md) finds missing in a recovery, over `wanted` of its samples: linear
 * light to be added, a plane a channel.
 *
 * @throws CoreError NO_WEIGHTS where the host brought none; STOPPED.
 */
export function missingTexture(
  input: MissingInput,
  wanted: Region,
  kernels: Kernels,
  shouldStop?: () => boolean,
): Plane[] {
  if (!kernels.texture) throw new CoreError('NO_WEIGHTS', 'The weights of the learned texture are not here.');
  const seen = evenAround(grow(wanted, REACH_OF_NETWORK), input);
  const over = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, seen));
  const own = over(input.recovered);
  const shown = shownTo({ ...input, recovered: own, weaker: over(input.weaker), given: over(input.given) });
  const said = unfolded(kernels.runNetwork(foldedStack(shown), kernels.texture, shouldStop));
  return own.map((plane, c) =>
    cropPlane(lightToAdd(plane, own.length === 1 ? meanOf(said) : said[c]), placedIn(wanted, seen)),
  );
}

/** From even px of the frame to even px. */
function evenAround({ x, y, width, height }: Region, { originX, originY }: MissingInput): Region {
  const evenBelow = (value: number) => 2 * Math.floor(value / 2);
  const evenAbove = (value: number) => 2 * Math.ceil(value / 2);
  const left = evenBelow(originX + x) - originX;
  const top = evenBelow(originY + y) - originY;
  const right = evenAbove(originX + x + width) - originX;
  const bottom = evenAbove(originY + y + height) - originY;
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** Square root of linear light, so that a step is about as visible in shadows as in lights. */
const rootOf = (light: number) => Math.sqrt(Math.max(0, light) + DARKEST);

function lightToAdd(own: Plane, said: Plane): Plane {
  const data = own.data.map((light, i) => {
    const root = Math.max(0, rootOf(light) + LESS * said.data[i]);
    const share = Math.min(1, Math.max(0, (LIGHTEST - light) / FADES_OVER));
    return share * (root * root - Math.max(0, light));
  });
  return { ...own, data };
}

/**
 * The three channels of the recovery, of what sets the weaker one and the given apart from it, the noise, and
 * brightness where noise is hidden.
 */
function shownTo({ recovered, weaker, given, noise, noiseGuard, hidesNoise }: MissingInput): Plane[] {
  const own = recovered.map((plane) => ({ ...plane, data: plane.data.map(rootOf) }));
  const apart = (planes: readonly Plane[]) =>
    planes.map(({ data }, c) => {
      const mine = own[c].data;
      return { ...own[c], data: data.map((light, i) => MORE * (rootOf(light) - mine[i])) };
    });
  const three = (planes: readonly Plane[]) => (planes.length === 1 ? [planes[0], planes[0], planes[0]] : planes);
  const light = meanOf(recovered);
  const brightness = { ...light, data: light.data.map(hidesNoise ? rootOf : () => 0) };
  return [
    ...three(own),
    ...three(apart(weaker)),
    ...three(apart(given)),
    noiseMap(light, noise, noiseGuard),
    brightness,
  ];
}

/** The noise of roots of light, as strong as the guard takes it to be. */
function noiseMap(light: Plane, noise: readonly NoiseLine[], noiseGuard: number): Plane {
  const taken = Math.pow(2, (noiseGuard - 50) / 10);
  const mean = (pick: (line: NoiseLine) => number) =>
    taken * Math.max(0, noise.reduce((sum, line) => sum + pick(line), 0) / noise.length);
  const [a, b] = [mean((line) => line.a), mean((line) => line.b)];
  const data = light.data.map((value) => {
    const sigma = Math.sqrt(a * Math.max(0, value) + b);
    return (MORE * sigma) / rootOf(Math.max(0, value) + sigma);
  });
  return { ...light, data };
}

export function meanOf(planes: readonly Plane[]): Plane {
  const out = createPlane(planes[0].width, planes[0].height);
  for (const { data } of planes) for (let i = 0; i < data.length; i++) out.data[i] += data[i] / planes.length;
  return out;
}
