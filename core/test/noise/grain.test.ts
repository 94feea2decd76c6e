import { describe, expect, it } from 'vitest';
import {
  AS_MEASURED,
  automaticCleaning,
  cleanChannels,
  emptyPrescription,
  fileTraces,
  filledPlane,
  gaussianBlur,
  orderHints,
  PLAIN_KERNELS,
  readNoise,
  srgbDecode,
  srgbEncode,
  stagesOf,
  atStage,
  withNewMask,
  automaticRecovery,
  type AcceptedReading,
  type Plane,
} from '../../src';
import { noiseKind } from '../../src/noise/whiteness';
import { overshoots } from '../../src/picture/edges';
import { deadLeaves, withNoise } from '../synthetic';

const SIDE = 384;
const SIGMA = 0.02;
const scene = gaussianBlur(deadLeaves(SIDE, SIDE, 9, 6), 1);
const sensor = [0, 1, 2].map((c) => withNoise(scene, SIGMA, 10 + c));
const everywhere = filledPlane(SIDE, SIDE, 1);

/** One colour a place, as behind a mosaic of colour filters, the others filled in from their neighbours. */
function filledIn(channels: readonly Plane[]): Plane[] {
  const colourAt = (x: number, y: number) => (y % 2 === 0 ? (x % 2 === 0 ? 0 : 1) : x % 2 === 0 ? 1 : 2);
  return channels.map((plane, c) => {
    const out = filledPlane(SIDE, SIDE, 0);
    for (let y = 0; y < SIDE; y++) {
      for (let x = 0; x < SIDE; x++) {
        let [sum, weight] = [0, 0];
        for (let v = -1; v <= 1; v++) {
          for (let u = -1; u <= 1; u++) {
            const [a, b] = [Math.min(SIDE - 1, Math.max(0, x + u)), Math.min(SIDE - 1, Math.max(0, y + v))];
            if (colourAt(a, b) !== c) continue;
            const share = colourAt(x, y) === c ? (u === 0 && v === 0 ? 1 : 0) : 1 / (1 + Math.abs(u) + Math.abs(v));
            sum += share * plane.data[b * SIDE + a];
            weight += share;
          }
        }
        out.data[y * SIDE + x] = sum / weight;
      }
    }
    return out;
  });
}

const sigmaOf = ({ a, b }: { a: number; b: number }) => Math.sqrt(a * 0.4 + b);

describe('grain', () => {
  it('of a sensor is white and each channel’s own; of a grey picture the same in all; filled in it is coloured', () => {
    expect(noiseKind(sensor)).toBe('independent');
    expect(noiseKind([sensor[0], sensor[0], sensor[0]])).toBe('shared');
    expect(noiseKind(filledIn(sensor))).toBe('coloured');
    expect(readNoise(sensor, everywhere).grain).toBeNull();
  });

  describe('weak white noise over a picture with colours of its own', () => {
    const leaves = [3, 4].map((seed) => gaussianBlur(deadLeaves(SIDE, SIDE, seed, 13), 0.7));
    const coloured = [0, 0.2, 0.4].map((share) => ({
      ...leaves[0],
      data: leaves[0].data.map((value, i) => (1 - share) * value + share * leaves[1].data[i]),
    }));
    const exposed = (sigma: number) => coloured.map((plane, c) => withNoise(plane, sigma, 20 + c));

    it('is not taken for coloured; the same behind a mosaic is', () => {
      expect(noiseKind(exposed(0.002))).toBe('independent');
      expect(noiseKind(exposed(0.02))).toBe('independent');
      expect(noiseKind(filledIn(exposed(0.002)))).toBe('coloured');
    });

    it.each([0.002, 0.005])('is cleaned without making the picture worse (σ %f)', (sigma) => {
      const noisy = exposed(sigma);
      const { noise, grain } = readNoise(noisy, everywhere);
      const cleaned = cleanChannels(noisy, { ...AS_MEASURED, noise, grain: grain ?? undefined }, 0, 0, PLAIN_KERNELS);
      const errorOf = (planes: readonly Plane[]) =>
        planes.reduce(
          (sum, { data }, c) => sum + data.reduce((all, value, i) => all + (value - coloured[c].data[i]) ** 2, 0),
          0,
        );
      expect(errorOf(cleaned)).toBeLessThan(0.8 * errorOf(noisy));
    });
  });

  it('behind a colour mosaic its strength is read, where the finest scale shows hardly any', () => {
    const mosaic = filledIn(sensor);
    const { noise, grain: read } = readNoise(mosaic, everywhere);
    const [finest, grain] = [noise.map(sigmaOf), read!];
    expect(finest[0]).toBeLessThan(0.3 * SIGMA);
    grain.noise.forEach((line) => {
      expect(sigmaOf(line)).toBeGreaterThan(0.7 * SIGMA);
      expect(sigmaOf(line)).toBeLessThan(1.4 * SIGMA);
    });
    // Its finest part is gone, and at no frequency is there more than filling in can make.
    expect(grain.colour[10]).toBeLessThan(0.4 * grain.colour[2]);
    expect(Math.max(...grain.brightness, ...grain.colour)).toBeLessThanOrEqual(2);
  });
});

describe('traces of what was done before', () => {
  const encoded = (plane: Plane) => ({ ...plane, data: plane.data.map((value) => srgbEncode(Math.max(0, value))) });
  const linear = (plane: Plane) => ({
    ...plane,
    data: plane.data.map((value) => srgbDecode(Math.min(1, Math.max(0, value)))),
  });

  it('JPEG’s blocks stand out from the other places, wherever their grid lies', () => {
    for (const [left, top] of [
      [0, 0],
      [3, 5],
    ]) {
      const blocky = encoded(scene);
      for (let y = 0; y < SIDE; y++) {
        for (let x = 0; x < SIDE; x++) {
          const block = Math.floor((x + left) / 8) * 7 + Math.floor((y + top) / 8) * 13;
          blocky.data[y * SIDE + x] += 0.02 * Math.sin(block);
        }
      }
      expect(fileTraces(linear(blocky), everywhere, 0.2).blocking).toBeGreaterThan(0.3);
    }
    expect(fileTraces(scene, everywhere, 0.2).blocking).toBeLessThan(0.1);
  });

  it('a step that was sharpened to a known overshoot reads as that; an unsharpened one as none', () => {
    const step = filledPlane(80, 80, 0.3);
    for (let i = 0; i < step.data.length; i++) if (i % 80 >= 40) step.data[i] = 0.7;
    const soft = gaussianBlur(step, 0.7);
    const wide = gaussianBlur(soft, 1.2);
    const sharpened = { ...soft, data: soft.data.map((value, i) => value + 1.2 * (value - wide.data[i])) };
    const use = new Uint8Array(6400).fill(1);
    const truth = (100 * (Math.max(...sharpened.data) - 0.7)) / 0.4;
    expect(truth).toBeGreaterThan(5);
    const median = (found: number[]) => found.sort((a, b) => a - b)[found.length >> 1];
    expect(Math.abs(median(overshoots(sharpened, use, 0)) - truth)).toBeLessThan(1);
    expect(median(overshoots(soft, use, 0))).toBeLessThan(0.5);
  });
});

describe('order of work', () => {
  const frame = { width: 2160, height: 1440 };
  const reading = (traces: { blocking: number; overshootPercent: number | null }, noisePercent = 1.5) =>
    ({ noise: [], sizes: [], measured: { noisePercent, traces } }) as unknown as AcceptedReading;
  const hints = (one: AcceptedReading, size = frame, iso: number | null = 6400) =>
    orderHints({ ...emptyPrescription(), reading: one }, size, iso);

  it('says what was done before, each by its own measurement, and nothing else', () => {
    expect(hints(reading({ blocking: 0.05, overshootPercent: 3 }))).toEqual([]);
    expect(hints(reading({ blocking: 0.5, overshootPercent: null }))).toEqual(['blocks']);
    expect(hints(reading({ blocking: 0, overshootPercent: 9 }))).toEqual(['sharpened-before']);
    expect(hints(reading({ blocking: 0, overshootPercent: null }, 0.1))).toEqual(['cleaned-before']);
    expect(hints(reading({ blocking: 0, overshootPercent: null }, 0.1), frame, 100)).toEqual([]);
    expect(hints(reading({ blocking: 0, overshootPercent: null }), { width: 1080, height: 760 })).toEqual([
      'cropped-before',
    ]);
    expect(hints(reading({ blocking: 0, overshootPercent: null }), { width: 1440, height: 2160 })).toEqual([]);
  });

  it('warns of contrast over a recovery, not of contrast under it', () => {
    const recovered = {
      ...emptyPrescription(),
      recovery: { ...automaticRecovery('missed-focus', null, 60), trialId: null },
    };
    const above = withNewMask(recovered, 'mask-2', 'fur');
    const textured = { ...above, recovery: { ...automaticRecovery('fine-texture', null, 60), trialId: null } };
    expect(orderHints(textured, frame, null)).toEqual(['texture-over-recovery']);
    expect(orderHints(above, frame, null)).toEqual([]);
  });

  it('noise comes first whatever was clicked first: the stages of a frame', () => {
    const empty = emptyPrescription();
    expect(stagesOf(empty)).toEqual(['original']);
    const recovery = { ...automaticRecovery('missed-focus', null, 60), trialId: null };
    const both = { ...empty, recovery, cleaning: automaticCleaning(null) };
    expect(stagesOf(both)).toEqual(['original', 'cleaned', 'recovered']);
    expect(atStage(both, 'cleaned').recovery).toBeNull();
    expect(atStage(both, 'cleaned').cleaning).toEqual(both.cleaning);
    expect(atStage(both, 'original')).toMatchObject({ recovery: null, cleaning: null });
    expect(atStage(both, 'recovered')).toBe(both);
  });

  it('after cleaning the automatic noise guard falls; where only a part is cleaned it stays', () => {
    const guard = (cleaning: Parameters<typeof automaticRecovery>[3]) =>
      automaticRecovery('missed-focus', null, 60, cleaning).noiseGuard;
    const cleaning = automaticCleaning(null);
    expect(guard(null)).toEqual({ value: 50, auto: true });
    expect(guard(cleaning).value).toBeLessThan(40);
    expect(guard({ ...cleaning, band: [0, 0, 0.3, 0.6] }).value).toBe(50);
    expect(guard({ ...cleaning, luminance: { value: 0, auto: false } }).value).toBe(50);
  });
});
