import { describe, expect, it } from 'vitest';
import {
  createPlane,
  cropPlane,
  filledPlane,
  PLAIN_KERNELS,
  seededRandom,
  wholeOf,
  type Convolution,
  type Network,
  type Plane,
} from '../../src';
import { foldedStack, unfolded } from '../../src/learned/fold';
import { missingTexture, REACH_OF_NETWORK, type MissingInput } from '../../src/learned/missingTexture';

const SIDE = 60;

function scattered(seed: number): Plane {
  const random = seededRandom(seed);
  const data = Float32Array.from({ length: SIDE * SIDE }, () => 0.1 + 0.5 * random.uniform());
  return { width: SIDE, height: SIDE, data };
}

const inputOf = (part: Partial<MissingInput> = {}): MissingInput => ({
  recovered: [1, 2, 3].map((seed) => scattered(seed)),
  weaker: [4, 5, 6].map((seed) => scattered(seed)),
  given: [7, 8, 9].map((seed) => scattered(seed)),
  noise: [{ a: 1e-4, b: 1e-5 }],
  noiseGuard: 50,
  hidesNoise: false,
  originX: 0,
  originY: 0,
  ...part,
});

/** A network that says its folded channel `from`, weighed, of folded channel `to`; channels 4p + corner, 44 to 12. */
function saying(pairs: readonly (readonly [from: number, to: number, weight?: number])[]): Network {
  const first = new Float32Array(9 * 44 * 12);
  const last = new Float32Array(9 * 12 * 12);
  pairs.forEach(([from, to, weight = 1], k) => {
    first[(k * 44 + from) * 9 + 4] = weight;
    last[(to * 12 + k) * 9 + 4] = 1;
  });
  const of = (inputs: number, weights: Float32Array): Convolution => ({ inputs, outputs: 12, weights });
  return [of(44, first), of(12, last)];
}

/** All four corners of a plane of the input, to those of another of the output. */
const ofPlane = (from: number, to: number, weight = 1): Network =>
  saying([0, 1, 2, 3].map((corner) => [4 * from + corner, 4 * to + corner, weight] as const));

const kernelsWith = (texture: Network | null) => ({ ...PLAIN_KERNELS, texture });

function added(net: Network, part: Partial<MissingInput>): Plane[] {
  const input = inputOf(part);
  return missingTexture(input, wholeOf(input.recovered[0]), kernelsWith(net));
}

const flat = (light: number) => [0, 1, 2].map(() => filledPlane(SIDE, SIDE, light));

describe('folding', () => {
  it('puts the four corners of each square into four channels, and is undone', () => {
    const plane = { width: 4, height: 2, data: Float32Array.from([0, 1, 2, 3, 4, 5, 6, 7]) };
    const folded = foldedStack([plane]);
    expect(folded).toMatchObject({ width: 2, height: 1, channels: 4 });
    expect([...folded.data]).toEqual([0, 2, 1, 3, 4, 6, 5, 7]);
    expect(unfolded(foldedStack([plane, scattered(3)].slice(0, 1)))).toEqual([plane]);
  });
});

describe('missing texture', () => {
  it('is nothing where the network says nothing', () => {
    for (const { data } of added(saying([]), {})) expect(Math.max(...data.map(Math.abs))).toBeLessThan(3e-6);
  });

  it('is told between roots of light: what the weaker recovery has more, fourfold, and a tenth of the answer', () => {
    const [red, green] = added(saying([[12, 0]]), { recovered: flat(0.25), weaker: flat(0.36) });
    expect(red.data[0]).toBeCloseTo((0.5 + 0.1 * 4 * 0.1) ** 2 - 0.25, 4);
    // The other corners of the square.
    expect(red.data[1]).toBeCloseTo(0, 5);
    expect(green.data[0]).toBeCloseTo(0, 5);
  });

  it('is told how strong the noise is, as the guard takes it to be, and its share by tone', () => {
    const grey = [filledPlane(SIDE, SIDE, 0.25)];
    const noise = [{ a: 4e-4, b: 0 }];
    const rise = (noiseGuard: number) => {
      const all = { recovered: grey, weaker: grey, given: grey, noise, noiseGuard };
      // A grey recovery is shown as three channels, and their mean is meant.
      return Math.sqrt(0.25 + added(ofPlane(9, 0, 3), all)[0].data[0]) - 0.5;
    };
    expect(rise(50)).toBeCloseTo((0.1 * 4 * 0.01) / Math.sqrt(0.25 + 0.01), 4);
    expect(rise(70)).toBeCloseTo((0.1 * 4 * 0.02) / Math.sqrt(0.25 + 0.02), 4);
  });

  it('is told where compression hid the noise', () => {
    const net = ofPlane(10, 1);
    expect(added(net, { recovered: flat(0.25), hidesNoise: false })[1].data[0]).toBeCloseTo(0, 5);
    const [red, green] = added(net, { recovered: flat(0.25), hidesNoise: true });
    expect(green.data[0]).toBeCloseTo((0.5 + 0.1 * 0.5) ** 2 - 0.25, 4);
    expect(red.data[0]).toBeCloseTo(0, 5);
  });

  it('hangs on the frame’s places, not on the tile’s', () => {
    const net = saying([
      [12, 0],
      [29, 5, -0.7],
      [36, 8],
    ]);
    const input = inputOf({ originX: 100, originY: 40 });
    const whole = missingTexture(input, wholeOf(input.recovered[0]), kernelsWith(net));
    const part = { x: 19, y: 21, width: 9, height: 7 };
    const seen = { x: 1, y: 2, width: 50, height: 48 };
    const cut = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, seen));
    const tile = missingTexture(
      {
        ...input,
        recovered: cut(input.recovered),
        weaker: cut(input.weaker),
        given: cut(input.given),
        originX: 101,
        originY: 42,
      },
      { ...part, x: part.x - seen.x, y: part.y - seen.y },
      kernelsWith(net),
    );
    expect(tile).toEqual(whole.map((plane) => cropPlane(plane, part)));
    expect(part.x - seen.x).toBeGreaterThanOrEqual(REACH_OF_NETWORK);
  });

  it('is nothing where it is brighter than a sensor can hold', () => {
    const bright = createPlane(SIDE, SIDE);
    bright.data.fill(1.2);
    bright.data.fill(1.05, 0, 10);
    const [red] = added(ofPlane(0, 0), { recovered: [bright, bright, bright] });
    expect(red.data[20]).toBeCloseTo(0, 6);
    // Half of what it would be.
    expect(red.data[2]).toBeCloseTo(0.5 * (1.05 * 1.21 - 1.05), 3);
  });

  it('is refused where the weights were not brought', () => {
    const wanted = { x: 0, y: 0, width: 4, height: 4 };
    expect(() => missingTexture(inputOf(), wanted, kernelsWith(null))).toThrow('not here');
  });
});
