import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  blurred,
  colourSpaceOf,
  discPsf,
  exposed,
  filledPlane,
  handPath,
  linePsf,
  MID_TONE,
  pathPsf,
  seededRandom,
  takeReading,
  throughMosaic,
  type Plane,
} from '../../src';
import { deadLeaves } from '../synthetic';

// What once came out worse than it went in, with other scenes and seeds: nothing may be named here by itself that was
// not there.

const SIDE = 320;
const ROOM = 24;
const space = colourSpaceOf(null, 3);

/** Three channels with colours of their own. */
const scene = (seed: number, leastRadius: number): Plane[] => {
  const shared = deadLeaves(SIDE + 2 * ROOM, SIDE + 2 * ROOM, seed, leastRadius);
  return [1, 0.8, 0.6].map((share, c) => {
    const own = deadLeaves(SIDE + 2 * ROOM, SIDE + 2 * ROOM, seed + 50 + c, 9);
    return { ...shared, data: shared.data.map((value, i) => share * (0.8 * value + 0.2 * own.data[i])) };
  });
};

const lineOf = (percent: number) => ({ a: (0.9 * (percent / 100) ** 2) / MID_TONE, b: 0.1 * (percent / 100) ** 2 });
const photographed = (channels: readonly Plane[], percent: number, seed: number) =>
  exposed(channels, [lineOf(percent), lineOf(percent), lineOf(percent)], seededRandom(seed));

function read(channels: readonly Plane[]) {
  const { width, height } = channels[0];
  return takeReading({
    channels,
    lumaWeights: space.lumaWeights,
    use: filledPlane(width, height, 1),
    clipped: Uint8Array.from(channels[0].data, (_, i) => (channels.some(({ data }) => data[i] >= 0.999) ? 1 : 0)),
    jpeg: false,
    kernels,
  });
}

describe('pictures that are not blurred', () => {
  it('sharp under 1 % noise with some light clipped', () => {
    const bright = scene(301, 3).map((plane) => ({ ...plane, data: plane.data.map((value) => 1.35 * value) }));
    expect(read(photographed(bright, 1, 11)).cause).toBeNull();
  });

  it('sharp under 3 % noise: it is called grainy', () => {
    const reading = read(photographed(scene(302, 2), 3, 12));
    expect(reading.cause).toBeNull();
    expect(reading.pile).toBe('grainy');
    expect(reading.leftAlone).not.toBeNull();
  });

  it('a drawing of flat colours with crisp edges', () => {
    const reading = read(photographed(scene(303, 28), 0.2, 13));
    expect(reading.cause?.method ?? 'none').toBe('none');
  });
});

describe('pictures that are blurred, under noise', () => {
  const truth = scene(304, 2);

  it('a missed focus is no shake, whatever the noise', () => {
    for (const percent of [0.2, 1]) {
      const { cause } = read(photographed(blurred(truth, discPsf(3), ROOM), percent, 14));
      expect(cause?.method).toBe('missed-focus');
      expect(Math.abs(cause!.blurSizePx - 6)).toBeLessThan(0.5);
    }
  });

  it('a movement of 6 px under 1 % noise is not hidden', () => {
    const { cause } = read(photographed(blurred(truth, linePsf(6, 30), ROOM), 1, 15));
    expect(cause?.method).toBe('straight-movement');
    expect(Math.abs(cause!.blurSizePx - 6)).toBeLessThan(0.8);
  });

  it('a missed focus behind a colour mosaic keeps its size, and its noise is counted whole', () => {
    const reading = read(throughMosaic(photographed(blurred(truth, discPsf(3.5), ROOM), 1, 16)));
    expect(reading.grain).not.toBeNull();
    // Brightness of three channels with 1 % each of their own, spread by filling in: 0.67 % and somewhat more.
    expect(reading.noisePercent).toBeGreaterThan(0.55);
    expect(reading.noisePercent).toBeLessThan(1.4);
    expect(reading.cause?.method).toBe('missed-focus');
    expect(Math.abs(reading.cause!.blurSizePx - 7)).toBeLessThan(0.7);
  });

  it('a shake along an arc is seen', () => {
    const path = pathPsf(handPath('arc', seededRandom(17), 14));
    const { cause } = read(photographed(blurred(truth, path, ROOM), 0.2, 17));
    expect(cause?.method).toBe('camera-shake');
  });
});
