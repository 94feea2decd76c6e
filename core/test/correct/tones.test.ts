import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addCurvePoint,
  automaticLight,
  colourSpaceOf,
  correctLight,
  emptyPrescription,
  fallOffGain,
  isUntouched,
  monotoneCubic,
  moveCurvePoint,
  neutralCorrections,
  pointsAtClipping,
  removeCurvePoint,
  resized,
  srgbDecode,
  srgbEncode,
  wholeOf,
  withAutomaticLight,
  withCorrection,
  withCorrections,
  type CorrectionKey,
  type Corrections,
  type CurvePoint,
  type FrameGuide,
  type Plane,
} from '../../src';
import { logLight } from '../../src/picture/arithmetic';
import { ToneTable } from '../../src/correct/toneTable';

const SPACE = colourSpaceOf(null, 3);
const set = (key: CorrectionKey, value: number, base: Corrections = neutralCorrections()): Corrections => ({
  ...base,
  [key]: { value, auto: false },
});
const flat = (value: number, width = 8, height = 8): Plane => ({
  width,
  height,
  data: new Float32Array(width * height).fill(value),
});
const guideOf = (planes: readonly Plane[]): FrameGuide => {
  const { width, height } = planes[0];
  const side = Math.min(1, 256 / Math.max(width, height));
  const size = [Math.round(width * side), Math.round(height * side)] as const;
  return { frame: { width, height }, channels: planes.map((plane) => resized(plane, ...size)) };
};
const lit = (planes: readonly Plane[], corrections: Corrections) =>
  correctLight(planes, corrections, SPACE, planes[0], { region: wholeOf(planes[0]), scale: 1 }, guideOf(planes));

describe('the logarithm of light', () => {
  it('is right to two parts in a million over all that light can be, and has a floor', () => {
    for (let i = -1400; i <= 400; i += 7) {
      const value = 2 ** (i / 100) * 1.0137;
      expect(Math.abs(logLight(value) - Math.log2(Math.fround(value)))).toBeLessThan(2e-6);
    }
    for (const dark of [0, -1, 1e-9]) expect(logLight(dark)).toBe(-14);
  });
});

describe('exposure', () => {
  it('one stop more and less of 18 % grey, encoded: 0.6356 and 0.3316 by the curve of IEC 61966-2-1', () => {
    // By hand: 1.055 · 0.36^(1/2.4) − 0.055 and 1.055 · 0.09^(1/2.4) − 0.055.
    const grey = [0.18, 0.18, 0.18].map((value) => flat(value));
    expect(srgbEncode(lit(grey, set('exposureEv', 1))[0].data[5])).toBeCloseTo(0.6343, 3);
    expect(srgbEncode(lit(grey, set('exposureEv', -1))[1].data[5])).toBeCloseTo(0.3319, 3);
  });

  it('changes nothing at all where nothing is set, to the prescription neither', () => {
    const old = emptyPrescription();
    expect(isUntouched({ ...old, corrections: neutralCorrections() })).toBe(true);
    expect(withCorrection(old, 'exposureEv', 0)).toEqual(old);
    const away = withCorrection(withCorrection(old, 'exposureEv', 1), 'exposureEv', 0);
    expect(away.corrections).toBeUndefined();
  });
});

describe('the tone curve', () => {
  const points = fc
    .array(fc.tuple(fc.double({ min: 0.02, max: 0.98, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
      minLength: 1,
      maxLength: 8,
    })
    .map((pairs): CurvePoint[] => {
      const xs = [...new Set(pairs.map(([x]) => Math.round(x * 40) / 40))].filter((x) => x > 0 && x < 1);
      const ys = pairs.map(([, y]) => y).sort((a, b) => a - b);
      const inner = xs.sort((a, b) => a - b).map((x, i) => ({ x, y: ys[i] ?? 1 }));
      return [{ x: 0, y: 0 }, ...inner, { x: 1, y: 1 }];
    });

  it('goes through its points and never falls where they do not', () => {
    fc.assert(
      fc.property(points, (curve) => {
        const bend = monotoneCubic(curve);
        for (const { x, y } of curve) expect(bend(x)).toBeCloseTo(y, 9);
        for (let i = 1; i <= 200; i++) expect(bend(i / 200)).toBeGreaterThanOrEqual(bend((i - 1) / 200) - 1e-12);
      }),
    );
  });

  it('beside a steep piece a flat one stays flat', () => {
    const bend = monotoneCubic([
      { x: 0, y: 0 },
      { x: 0.5, y: 0.02 },
      { x: 0.55, y: 0.9 },
      { x: 1, y: 1 },
    ]);
    for (let i = 1; i <= 1000; i++) expect(bend(i / 1000)).toBeGreaterThanOrEqual(bend((i - 1) / 1000) - 1e-12);
    expect(bend(0.7)).toBeLessThan(1);
  });

  it('of points on the diagonal is the diagonal', () => {
    const bend = monotoneCubic([0, 0.2, 0.55, 1].map((x) => ({ x, y: x })));
    for (let i = 0; i <= 50; i++) expect(bend(i / 50)).toBeCloseTo(i / 50, 12);
  });

  it('brightness that rises stays rising through points and curve, and hue stays', () => {
    const curve = [
      { x: 0, y: 0 },
      { x: 0.3, y: 0.15 },
      { x: 0.7, y: 0.9 },
      { x: 1, y: 1 },
    ];
    const table = new ToneTable({ ...set('blackPercent', 3, set('whitePercent', 92)), curve });
    let last = -1;
    for (let i = 0; i < 4000; i++) {
      const value = (i / 4000) ** 2 * 2;
      const own = value * table.gainsOf(flat(value)).data[0];
      expect(own).toBeGreaterThanOrEqual(last - 1e-9);
      last = own;
    }
    const [r, g, b] = lit(
      [0.4, 0.2, 0.1].map((value) => flat(value)),
      { ...neutralCorrections(), curve },
    );
    expect(r.data[0] / g.data[0]).toBeCloseTo(2, 5);
    expect(g.data[0] / b.data[0]).toBeCloseTo(2, 5);
  });

  it('black and white point come to lie at 0 and 1', () => {
    const corrections = set('blackPercent', 10, set('whitePercent', 80));
    const at = (encoded: number) =>
      lit(
        [srgbDecode(encoded)].map((value) => flat(value)),
        corrections,
      )[0].data[3];
    expect(at(0.8)).toBeCloseTo(1, 4);
    expect(at(0.1)).toBeCloseTo(0, 5);
    expect(srgbEncode(at(0.45))).toBeCloseTo(0.5, 3);
  });

  it('points are added, moved between their neighbours, and removed; the ends stay', () => {
    const old = emptyPrescription();
    const one = addCurvePoint(old, { x: 0.5, y: 0.7 });
    expect(one.corrections!.curve).toHaveLength(3);
    expect(moveCurvePoint(one, 1, { x: 2, y: 3 }).corrections!.curve[1]).toEqual({ x: 0.99, y: 1 });
    expect(moveCurvePoint(one, 0, { x: 0.4, y: 0.1 }).corrections!.curve[0]).toEqual({ x: 0, y: 0.1 });
    // Put on the straight curve it is there to be moved, though it changes nothing yet.
    const still = addCurvePoint(old, { x: 0.5, y: 0.5 });
    expect(still.corrections!.curve).toHaveLength(3);
    expect(moveCurvePoint(still, 1, { x: 0.5, y: 0.6 }).corrections!.curve[1]).toEqual({ x: 0.5, y: 0.6 });
    expect(isUntouched(still)).toBe(true);
    expect(removeCurvePoint(one, 0)).toEqual(one);
    expect(removeCurvePoint(one, 1).corrections).toBeUndefined();
  });
});

describe('broad light', () => {
  const [width, height] = [480, 160];
  const step: Plane = { width, height, data: new Float32Array(width * height) };
  for (let i = 0; i < step.data.length; i++) step.data[i] = i % width < width / 2 ? 0.01 : 0.7;
  const grey = [step, step, step];

  it.each([
    ['liftShadows', 100],
    ['holdHighlights', 100],
  ] as const)('%s leaves a step edge without a halo over 1 %%', (key, value) => {
    const after = lit(grey, set(key, value))[1].data.subarray(80 * width, 81 * width);
    const [dark, bright] = [after[8], after[width - 8]];
    for (let x = 0; x < width; x++) {
      const side = x < width / 2 ? dark : bright;
      expect(Math.abs(after[x] / side - 1)).toBeLessThan(0.01);
    }
    // It does what it says, on its own side.
    const change = [dark / 0.01, bright / 0.7];
    if (key === 'liftShadows') expect(change[0]).toBeGreaterThan(2.5);
    else expect(change[1]).toBeLessThan(0.6);
    expect(change[key === 'liftShadows' ? 1 : 0]).toBeCloseTo(1, 2);
  });

  it('keeps the contrast of fine detail in the shadows it lifts', () => {
    const data = step.data.map((_, i) => 0.01 * (1 + 0.06 * Math.sin((i % width) * 1.9)));
    const fine: Plane = { width, height, data };
    const after = lit([fine, fine, fine], set('liftShadows', 100))[0].data;
    const spread = (values: ArrayLike<number>) => {
      const logs = Array.from(values, (value) => Math.log(value)).slice(80 * width + 60, 80 * width + 400);
      const mean = logs.reduce((sum, value) => sum + value, 0) / logs.length;
      return Math.sqrt(logs.reduce((sum, value) => sum + (value - mean) ** 2, 0) / logs.length);
    };
    expect(spread(after) / spread(data)).toBeGreaterThan(0.9);
  });
});

describe('fall-off', () => {
  it('gives back what the cos⁴ law takes: exactly so much at the corner', () => {
    for (const percent of [10, 40, 75]) {
      const gain = fallOffGain(percent);
      expect(gain(1) * (1 - percent / 100)).toBeCloseTo(1, 12);
      expect(gain(0)).toBe(1);
      // Half way to the corner the tangent is half: cos⁴ = 1 / (1 + tan²/4)².
      const tangent = (1 - percent / 100) ** -0.5 - 1;
      expect(gain(0.25)).toBeCloseTo((1 + tangent / 4) ** 2, 12);
    }
  });
});

describe('by itself', () => {
  const ramp = (low: number, high: number): Plane => ({
    width: 200,
    height: 100,
    data: Float32Array.from({ length: 20_000 }, (_, i) => srgbDecode(low + ((i % 200) / 199) * (high - low))),
  });
  const guide = (low: number, high: number) => guideOf([ramp(low, high), ramp(low, high), ramp(low, high)]);

  it('the edge of clipping is where the first thousandth of the samples clips', () => {
    const { blackPercent, whitePercent } = pointsAtClipping(guide(0.12, 0.8), neutralCorrections(), SPACE);
    expect(whitePercent).toBeGreaterThan(79);
    expect(whitePercent).toBeLessThan(80.2);
    expect(blackPercent).toBeGreaterThan(11.8);
    expect(blackPercent).toBeLessThan(13);
  });

  it('an underexposed frame comes up to 18 % grey in its subject; one that lies well is left alone', () => {
    const dark = automaticLight(guide(0.02, 0.3), undefined, SPACE, null);
    expect(dark.exposureEv.auto).toBe(true);
    expect(dark.exposureEv.value).toBeGreaterThan(1.5);
    const well = automaticLight(guide(0, 0.98), undefined, SPACE, null);
    expect(well.exposureEv.value).toBe(0);
    expect(Math.abs(well.whitePercent.value - 100)).toBeLessThan(3);
    expect(well.blackPercent.value).toBeLessThan(1);
  });

  it('takes the place of light set by hand, and leaves colour and lens as they are', () => {
    let old = withCorrection(withCorrection(emptyPrescription(), 'fallOffPercent', 20), 'liftShadows', 30);
    const whiteBalance = { kind: 'temperature', kelvin: 4000, greenMagenta: 0 } as const;
    const found = automaticLight(guide(0.02, 0.3), old.corrections, SPACE, null);
    old = withCorrections(old, (now) => ({ ...now, whiteBalance }));
    const after = withAutomaticLight(old, found).corrections!;
    expect(after).toMatchObject({ whiteBalance, fallOffPercent: { value: 20 }, liftShadows: { value: 0 } });
    expect(after.exposureEv).toEqual(found.exposureEv);
  });

  it('the subject counts alone where one is known', () => {
    const own = guide(0.02, 0.98);
    const { width, height } = own.channels[0];
    const subject: Plane = { width, height, data: new Float32Array(width * height) };
    for (let i = 0; i < subject.data.length; i++) subject.data[i] = i % width < width / 5 ? 1 : 0;
    const found = automaticLight(own, undefined, SPACE, subject);
    expect(found.exposureEv.value).toBeGreaterThan(automaticLight(own, undefined, SPACE, null).exposureEv.value + 1);
  });
});
