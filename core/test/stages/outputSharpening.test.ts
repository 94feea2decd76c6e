import { describe, expect, it } from 'vitest';
import {
  atStage,
  checkPrescription,
  cropPlane,
  emptyPrescription,
  frameRegionFor,
  pictureOver,
  placedIn,
  prescriptionWords,
  stagesOf,
  wholeOf,
  withOutputSharpening,
  type Plane,
  type Region,
} from '../../src';
import { deadLeaves } from '../synthetic';

const by = (percent: number, longEdgePx?: number) => ({
  ...withOutputSharpening(emptyPrescription(), percent),
  ...(longEdgePx ? { size: { longEdgePx } } : {}),
});
const sharpened = (plane: Plane, percent: number) => pictureOver([plane], by(percent), plane, wholeOf(plane))[0];

/** An edge as a lens draws it, from dark to bright, the same in every row. */
const edge: Plane = {
  width: 40,
  height: 12,
  data: Float32Array.from({ length: 480 }, (_, i) => 0.1 + 0.5 / (1 + Math.exp(-((i % 40) - 19.5) / 0.8))),
};
const steepest = ({ data }: Plane) =>
  Math.max(...Array.from({ length: 39 }, (_, x) => data[6 * 40 + x + 1] - data[6 * 40 + x]));

describe('output sharpening', () => {
  it('is none by default: not a stage, not a word', () => {
    expect(stagesOf(by(0))).toEqual(['original']);
    expect(by(0)).toEqual(emptyPrescription());
    expect(prescriptionWords(by(0))).toEqual([]);
  });

  it('makes an edge steeper, more with more percent, and leaves a level as it is', () => {
    const slopes = [30, 60, 100].map((percent) => steepest(sharpened(edge, percent)));
    expect(slopes[0]).toBeGreaterThan(1.03 * steepest(edge));
    expect(slopes[1]).toBeGreaterThan(slopes[0]);
    expect(slopes[2]).toBeGreaterThan(slopes[1]);
    const flat = { ...edge, data: edge.data.map(() => 0.3) };
    for (const value of sharpened(flat, 100).data) expect(value).toBeCloseTo(0.3, 6);
  });

  it('goes beyond what lies near by less than a halo is', () => {
    const leaves = deadLeaves(64, 48, 5);
    const out = sharpened(leaves, 100);
    for (let y = 2; y < 46; y++) {
      for (let x = 2; x < 62; x++) {
        const near: number[] = [];
        for (let v = -2; v <= 2; v++) for (let u = -2; u <= 2; u++) near.push(leaves.data[(y + v) * 64 + x + u]);
        const [low, high] = [Math.sqrt(Math.min(...near)), Math.sqrt(Math.max(...near))];
        const own = Math.sqrt(out.data[y * 64 + x]);
        expect(own).toBeLessThanOrEqual(high + 0.05 * (high - low) + 1e-6);
        expect(own).toBeGreaterThanOrEqual(low - 0.05 * (high - low) - 1e-6);
      }
    }
  });

  it('keeps the ratio of the channels, so that nothing changes its hue', () => {
    const red = { ...edge, data: edge.data.map((value) => 1.4 * value) };
    const out = pictureOver([red, edge, edge], by(80), edge, wholeOf(edge));
    out[0].data.forEach((value, i) => expect(value).toBeCloseTo(1.4 * out[1].data[i], 5));
  });

  it('is the same in parts as whole, to the bit, at the copy’s own size', () => {
    const plane = deadLeaves(97, 61, 4);
    const whole = pictureOver([plane], by(70, 70), plane, wholeOf({ width: 70, height: 44 }))[0];
    const parts: Region[] = [
      { x: 0, y: 0, width: 9, height: 7 },
      { x: 31, y: 20, width: 17, height: 11 },
      { x: 60, y: 37, width: 10, height: 7 },
    ];
    for (const part of parts) {
      const needed = frameRegionFor(by(70, 70), plane, part);
      const out = pictureOver([cropPlane(plane, needed)], by(70, 70), plane, part)[0];
      expect(out).toEqual(cropPlane(whole, placedIn(part, wholeOf(whole))));
    }
  });

  it('belongs to the finished picture only, and says so in words', () => {
    expect(stagesOf(by(40))).toEqual(['original', 'finished']);
    expect(atStage(by(40), 'original')).toEqual(emptyPrescription());
    expect(prescriptionWords(by(40))).toEqual([{ term: 'Output sharpening', text: '40 %, last of all' }]);
  });

  it('is kept in a prescription, within limits', () => {
    expect(checkPrescription(by(40)).outputSharpeningPercent).toBe(40);
    for (const outputSharpeningPercent of [-1, 101, Number.NaN]) {
      expect(() => checkPrescription({ ...emptyPrescription(), outputSharpeningPercent })).toThrow();
    }
  });
});
