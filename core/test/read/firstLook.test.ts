import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  discPsf,
  filledPlane,
  gaussianPsf,
  handPath,
  linePsf,
  pathPsf,
  seededRandom,
  sortedAs,
  takeReading,
  type Plane,
  type Psf,
} from '../../src';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const truth = convolve(deadLeaves(420, 380, 23), gaussianPsf(0.6));

function firstLook(luma: Plane) {
  return takeReading({
    channels: [luma],
    lumaWeights: [1],
    use: filledPlane(luma.width, luma.height, 1),
    clipped: new Uint8Array(luma.data.length),
    jpeg: false,
    kernels,
    isTriage: true,
  });
}
const shot = (psf: Psf | null, seed: number) => withNoise(psf ? convolve(truth, psf) : truth, 0.004, seed);

describe('a first look, without a search for paths', () => {
  it.each([
    ['wander', 20],
    ['arc', 18],
  ] as const)('says that the camera shook (%s over %i px), roughly how far, and is not sure', (kind, extent) => {
    const { cause, pile, confidence } = firstLook(shot(pathPsf(handPath(kind, seededRandom(5), extent)), 7));
    expect(cause?.method).toBe('camera-shake');
    expect(cause!.blurSizePx).toBeGreaterThan(extent / 2);
    expect(cause!.blurSizePx).toBeLessThan(3 * extent);
    expect(pile).toBe('soft');
    expect(confidence).toBeLessThanOrEqual(0.5);
  });

  it('takes no missed focus, no movement and no sharp picture for a shake', () => {
    expect(firstLook(shot(discPsf(4), 8)).cause?.method).toBe('missed-focus');
    expect(firstLook(shot(linePsf(14, 20), 9)).cause?.method).toBe('straight-movement');
    expect(firstLook(shot(null, 10)).cause).toBeNull();
  });

  it('is kept short for sheets of thousands', () => {
    const reading = firstLook(shot(discPsf(4), 8));
    const short = sortedAs(reading, 'whole', { x: 5, y: 6 });
    expect(short).toMatchObject({ pile: 'soft', method: 'missed-focus', over: 'whole', place: { x: 5, y: 6 } });
    expect(short.blurSizePx).toBe(reading.cause!.blurSizePx);
    expect(JSON.stringify(short).length).toBeLessThan(400);
    expect(sortedAs(firstLook(shot(null, 10)), null, null)).toMatchObject({ method: null, blurSizePx: 0, place: null });
  });
});
