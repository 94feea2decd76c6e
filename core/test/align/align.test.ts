import { describe, expect, it } from 'vitest';
import { align, coveredBy, matchTones, resampled, type Placement, type Plane } from '../../src';
import { fastKernels } from '../fastKernels';
import { deadLeaves, seeded } from '../synthetic';

const frame = deadLeaves(320, 240, 31, 4);

/** What `placement` makes of the frame: the version that has to be laid back onto it. */
function versionOf(placement: Placement, width: number, height: number): Plane {
  const { scaleX, scaleY, shiftX, shiftY } = placement;
  const back = { scaleX: 1 / scaleX, scaleY: 1 / scaleY, shiftX: -shiftX / scaleX, shiftY: -shiftY / scaleY };
  return resampled(frame, back, { width, height });
}

const expectPlaced = (found: Placement, placement: Placement) => {
  for (const [x, y] of [
    [60, 50],
    [260, 190],
  ]) {
    expect(Math.abs(found.scaleX * x + found.shiftX - placement.scaleX * x - placement.shiftX)).toBeLessThan(0.2);
    expect(Math.abs(found.scaleY * y + found.shiftY - placement.scaleY * y - placement.shiftY)).toBeLessThan(0.2);
  }
};

describe('aligning an outside version', () => {
  it.each([
    ['shifted by 3.4 px', { scaleX: 1, scaleY: 1, shiftX: 3.4, shiftY: -1.7 }, 320, 240],
    ['at half the size', { scaleX: 0.5, scaleY: 0.5, shiftX: -0.25, shiftY: -0.25 }, 160, 120],
    ['cropped', { scaleX: 1, scaleY: 1, shiftX: -50.3, shiftY: -30.6 }, 230, 170],
    ['cropped and enlarged', { scaleX: 1.37, scaleY: 1.37, shiftX: -60, shiftY: -44 }, 300, 230],
  ] as const)('%s', (_, placement, width, height) => {
    const { isAligned, placement: found } = align(frame, versionOf(placement, width, height), fastKernels);
    expect(isAligned).toBe(true);
    expectPlaced(found, placement);
  });

  it('another tone and noise do not hinder it', () => {
    const random = seeded(4);
    const placement = { scaleX: 1, scaleY: 1, shiftX: 3.4, shiftY: 2.1 };
    const version = versionOf(placement, 320, 240);
    const toned = { ...version, data: version.data.map((v) => Math.max(0, v) ** 0.8 * 0.9 + 0.02 * (random() - 0.5)) };
    expectPlaced(align(frame, toned, fastKernels).placement, placement);
  });

  it('another picture is refused', () => {
    expect(align(frame, deadLeaves(320, 240, 77, 4), fastKernels).isAligned).toBe(false);
  });

  it('a picture bent in itself is refused: one scale and shift cannot lay it on', () => {
    const bent = { ...frame, data: new Float32Array(frame.data.length) };
    for (let y = 0; y < 240; y++) {
      for (let x = 0; x < 320; x++) {
        const from = Math.min(319, Math.max(0, Math.round(x + 6 * Math.sin(y / 30))));
        bent.data[y * 320 + x] = frame.data[y * 320 + from];
      }
    }
    expect(align(frame, bent, fastKernels).isAligned).toBe(false);
  });
});

describe('matching tones', () => {
  it('undoes a curve', () => {
    const curved = { ...frame, data: frame.data.map((value) => 0.8 * value ** 1.4) };
    const back = matchTones(frame, curved, coveredBy(frame, { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 }, frame));
    const error = back.data.reduce((sum, value, i) => sum + Math.abs(value - frame.data[i]), 0) / frame.data.length;
    expect(error).toBeLessThan(0.02);
  });

  it('leaves a picture that is alike as it is', () => {
    const back = matchTones(frame, frame, coveredBy(frame, { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 }, frame));
    const most = back.data.reduce((high, value, i) => Math.max(high, Math.abs(value - frame.data[i])), 0);
    expect(most).toBeLessThan(0.01);
  });
});
