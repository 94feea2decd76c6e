import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaOperation,
  ciede2000,
  colourAt,
  colourRange,
  createPlane,
  drawMask,
  feathered,
  filledPlane,
  focusRange,
  followEdges,
  gaussianBlur,
  grown,
  holesOf,
  keptCoverage,
  labOf,
  makeArea,
  operationsNear,
  originOf,
  shrunkBy,
  specksOf,
  srgbDecode,
  toneRange,
  trapezoid,
  type CombineMode,
  type Handles,
  type MaskOperation,
  type Plane,
} from '../../src';
import '../fastKernels';
import { seeded } from '../synthetic';

const WHOLE = { x: 0, y: 0, width: 120, height: 90 };
const sum = ({ data }: Plane) => data.reduce((total, value) => total + value, 0);
const disc = (x: number, y: number, r: number, mode: CombineMode = 'add', featherPercent = 0): MaskOperation => ({
  kind: 'radial',
  mode,
  x,
  y,
  rx: r,
  ry: r,
  featherPercent,
});
const stroke = (points: number[], sizePx = 20, pressures?: number[]): MaskOperation => ({
  kind: 'stroke',
  mode: 'add',
  sizePx,
  featherPercent: 0,
  points,
  pressures,
});

describe('shapes', () => {
  it('a hard ellipse covers its area', () => {
    const { data } = drawMask([{ ...disc(60, 45, 30), ry: 18 } as MaskOperation], WHOLE);
    expect(data.reduce((a, b) => a + b, 0) / (Math.PI * 30 * 18)).toBeCloseTo(1, 1.7);
  });

  it('feather falls inwards: whole in the core, half midway, nothing at the rim', () => {
    const { data } = drawMask([disc(60, 45, 40, 'add', 50)], WHOLE);
    const at = (x: number) => data[45 * 120 + x];
    expect(at(60)).toBe(1);
    expect(at(79)).toBeCloseTo(1, 2);
    expect(at(90)).toBeCloseTo(0.5, 2);
    expect(at(100)).toBeCloseTo(0, 6);
  });

  it('a linear fall is whole before its start, half midway, nothing after its end', () => {
    const fall: MaskOperation = { kind: 'linear', mode: 'add', x0: 30, y0: 0, x1: 90, y1: 0 };
    const { data } = drawMask([fall], WHOLE);
    expect([data[10], data[30], data[60], data[90], data[110]].map((v) => Math.round(1000 * v))).toEqual([
      1000, 1000, 500, 0, 0,
    ]);
  });

  it('a pen pressed half as hard draws half as wide', () => {
    const wide = sum(drawMask([stroke([20, 45, 100, 45])], WHOLE));
    const narrow = sum(drawMask([stroke([20, 45, 100, 45], 20, [0.5, 0.5])], WHOLE));
    expect(wide / (80 * 20 + Math.PI * 100)).toBeCloseTo(1, 1.7);
    expect(narrow / (80 * 10 + Math.PI * 25)).toBeCloseTo(1, 1.7);
  });
});

describe('set algebra', () => {
  const masks = fc.array(
    fc.record({
      x: fc.integer({ min: 5, max: 115 }),
      y: fc.integer({ min: 5, max: 85 }),
      r: fc.integer({ min: 3, max: 40 }),
      feather: fc.integer({ min: 0, max: 100 }),
    }),
    { minLength: 1, maxLength: 4 },
  );
  const operationsOf = (list: readonly { x: number; y: number; r: number; feather: number }[], mode: CombineMode) =>
    list.map(({ x, y, r, feather }) => disc(x, y, r, mode, feather));

  it('what is added in any order is the same; adding never takes, intersecting and erasing never give', () => {
    fc.assert(
      fc.property(masks, masks, (first, second) => {
        const [a, b] = [operationsOf(first, 'add'), operationsOf(second, 'add')];
        const [ab, ba] = [drawMask([...a, ...b], WHOLE).data, drawMask([...b, ...a], WHOLE).data];
        const own = drawMask(a, WHOLE).data;
        const met = drawMask([...a, ...operationsOf(second, 'intersect')], WHOLE).data;
        const less = drawMask([...a, ...operationsOf(second, 'erase')], WHOLE).data;
        for (let i = 0; i < own.length; i += 7) {
          expect(ab[i]).toBeCloseTo(ba[i], 5);
          expect(ab[i]).toBeGreaterThanOrEqual(own[i] - 1e-6);
          expect(met[i]).toBeLessThanOrEqual(own[i] + 1e-6);
          expect(less[i]).toBeLessThanOrEqual(own[i] + 1e-6);
        }
      }),
      { numRuns: 20 },
    );
  });

  it('inverting twice changes nothing; filled, then erased, is the inverse', () => {
    fc.assert(
      fc.property(masks, (list) => {
        const own = drawMask(operationsOf(list, 'add'), WHOLE).data;
        const twice = drawMask([...operationsOf(list, 'add'), { kind: 'invert' }, { kind: 'invert' }], WHOLE).data;
        const rest = drawMask([{ kind: 'fill' }, ...operationsOf(list, 'erase')], WHOLE).data;
        for (let i = 0; i < own.length; i += 7) {
          expect(twice[i]).toBeCloseTo(own[i], 5);
          expect(rest[i]).toBeCloseTo(1 - own[i], 5);
        }
      }),
      { numRuns: 20 },
    );
  });
});

describe('edges of a mask', () => {
  it('a disc grown by 10 px is a disc of 10 px more; shrunk again it is itself', () => {
    const own = drawMask([disc(60, 45, 20)], WHOLE);
    expect(sum(grown(own, 10)) / (Math.PI * 30 * 30)).toBeCloseTo(1, 1.5);
    expect(sum(shrunkBy(grown(own, 10), 10)) / (Math.PI * 20 * 20)).toBeCloseTo(1, 1.5);
    expect(sum(shrunkBy(own, 25))).toBe(0);
  });

  it.each([3, 10, 30])('a hard edge softened over %i px falls from nine tenths to one over so many', (px) => {
    const edge = createPlane(240, 40);
    for (let i = 0; i < edge.data.length; i++) edge.data[i] = i % 240 < 120 ? 1 : 0;
    const row = feathered(edge, px).data.subarray(20 * 240, 21 * 240);
    const crossing = (level: number) => {
      const x = row.findIndex((value) => value < level);
      return x - 1 + (row[x - 1] - level) / (row[x - 1] - row[x]);
    };
    expect(Math.abs(crossing(0.1) - crossing(0.9) - px)).toBeLessThan(Math.max(0.4, 0.06 * px));
  });

  it('holes are what is enclosed and small, specks what is small; the frame’s border encloses nothing', () => {
    const ring = drawMask([disc(60, 45, 30), disc(60, 45, 12, 'erase'), disc(10, 10, 4)], WHOLE);
    expect(sum(holesOf(ring, 1000)) / (Math.PI * 144)).toBeCloseTo(1, 1);
    expect(sum(holesOf(ring, 200))).toBe(0);
    expect(sum(specksOf(ring, 200)) / (Math.PI * 16)).toBeCloseTo(1, 0.8);
    expect(sum(holesOf(drawMask([disc(0, 45, 30), disc(0, 45, 12, 'erase')], WHOLE), 5000))).toBe(0);
  });

  it('any piece of a grown and softened mask is that piece of the whole', () => {
    const list: MaskOperation[] = [stroke([20, 20, 100, 70]), { kind: 'grow', px: 6 }, { kind: 'feather', px: 12 }];
    const whole = drawMask(list, WHOLE);
    const part = { x: 40, y: 30, width: 30, height: 20 };
    const piece = drawMask(operationsNear(list, part), part);
    for (let y = 0; y < part.height; y++) {
      for (let x = 0; x < part.width; x++) {
        expect(piece.data[y * 30 + x]).toBeCloseTo(whole.data[(y + 30) * 120 + x + 40], 4);
      }
    }
  });

  it('is the same at any scale', () => {
    const list: MaskOperation[] = [disc(60, 45, 24, 'add', 40), { kind: 'grow', px: 6 }, { kind: 'feather', px: 12 }];
    const large = drawMask(list, WHOLE, 2);
    const small = drawMask(list, WHOLE, 0.5);
    expect((sum(small) * 16) / sum(large)).toBeCloseTo(1, 1);
    const middle = (plane: Plane) =>
      plane.data[Math.round(0.5 * plane.height) * plane.width + Math.round(0.8 * plane.width)];
    expect(Math.abs(middle(small) - middle(large))).toBeLessThan(0.15);
  });
});

describe('ranges', () => {
  const band: Handles = [0.2, 0.4, 0.6, 0.9];

  it('the trapezoid is exact at its four handles and midway between them', () => {
    expect([0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.75, 0.9, 1].map((v) => trapezoid(v, band))).toEqual([
      0,
      0,
      expect.closeTo(0.5, 9) as unknown as number,
      1,
      1,
      1,
      expect.closeTo(0.5, 9) as unknown as number,
      0,
      0,
    ]);
    expect(trapezoid(0.4, [0.4, 0.4, 0.4, 0.4])).toBe(1);
  });

  it('a tone band takes encoded brightness, as a histogram shows it', () => {
    const ramp = createPlane(101, 1);
    for (let i = 0; i <= 100; i++) ramp.data[i] = srgbDecode(i / 100);
    const { data } = toneRange([ramp, ramp, ramp], band);
    for (const i of [10, 30, 50, 75, 95]) expect(data[i]).toBeCloseTo(trapezoid(i / 100, band), 3);
  });

  it('a focus range takes what is sharp and leaves what is soft', () => {
    const random = seeded(4);
    const noise = createPlane(200, 100);
    for (let i = 0; i < noise.data.length; i++) noise.data[i] = 0.2 + 0.4 * random();
    const [sharp, soft] = [gaussianBlur(noise, 0.7), gaussianBlur(noise, 5)];
    const picture = { ...sharp, data: sharp.data.map((value, i) => (i % 200 < 100 ? value : soft.data[i])) };
    const { data } = focusRange([picture, picture, picture], [0.4, 0.6, 1, 1]);
    expect(data[50 * 200 + 40]).toBeGreaterThan(0.9);
    expect(data[50 * 200 + 160]).toBeLessThan(0.1);
  });

  it('a colour range takes colours within its ΔE00, wholly up to half of it', () => {
    const colours = [
      [0.5, 0.2, 0.1],
      [0.52, 0.2, 0.1],
      [0.1, 0.4, 0.1],
      [0.45, 0.25, 0.12],
    ];
    const channels = [0, 1, 2].map((c) => ({
      width: 4,
      height: 1,
      data: Float32Array.from(colours, (colour) => colour[c]),
    }));
    const picked = labOf(0.5, 0.2, 0.1);
    const { data } = colourRange(channels, picked, 16);
    colours.forEach(([r, g, b], i) => {
      const apart = ciede2000(labOf(r, g, b), picked);
      expect(data[i]).toBeCloseTo(Math.min(1, Math.max(0, (16 - apart) / 8)), 3);
    });
    expect(data[0]).toBe(1);
    expect(data[2]).toBe(0);
    expect(
      colourAt(
        channels.map((plane) => ({ ...plane, width: 1, height: 1 })),
        0,
        0,
      ).l,
    ).toBeCloseTo(picked.l, 3);
  });
});

describe('areas', () => {
  const frame = { width: 240, height: 180 };

  it('paint that follows edges stops at one', () => {
    const picture = [0.6, 0.3, 0.2].map((level, c) => {
      const plane = filledPlane(120, 90, 0);
      for (let i = 0; i < plane.data.length; i++) plane.data[i] = i % 120 < 60 ? level : [0.1, 0.3, 0.5][c];
      return gaussianBlur(plane, 1);
    });
    const { data } = followEdges(picture, {
      kind: 'stroke',
      mode: 'add',
      sizePx: 40,
      featherPercent: 0,
      points: [48, 20, 48, 70],
    });
    const at = (x: number) => data[45 * 120 + x];
    expect(at(48)).toBeGreaterThan(0.95);
    expect(at(35)).toBeGreaterThan(0.9);
    expect(at(53)).toBeGreaterThan(0.9);
    expect(at(56)).toBeGreaterThan(0.6);
    expect(at(64)).toBeLessThan(0.1);
    expect(at(66)).toBe(0);
  });

  it('a wish is met at the picture’s size and says what it was made from', () => {
    const picture = [0.2, 0.4, 0.6].map((value) => filledPlane(120, 90, value));
    const edges = {
      kind: 'edges' as const,
      stroke: { kind: 'stroke' as const, mode: 'add' as const, sizePx: 20, featherPercent: 0, points: [100, 100] },
    };
    expect(sum(makeArea(picture, frame, edges)) / (Math.PI * 25)).toBeCloseTo(1, 0.6);
    expect(originOf(edges)).toEqual({ kind: 'edges' });
    const ring = [disc(120, 90, 60), disc(120, 90, 20, 'erase')];
    const holes = makeArea(picture, frame, { kind: 'holes', side: 60, operations: ring });
    expect(holes.data[45 * 120 + 60]).toBe(1);
    const filled = [...ring, areaOperation(holes, frame, 'add', { kind: 'holes' })];
    expect(drawMask(filled, { x: 0, y: 0, ...frame }).data[90 * 240 + 120]).toBeCloseTo(1, 3);
  });

  it('coverage larger than is kept is made smaller, its sum kept', () => {
    const large = drawMask([disc(1300, 100, 90)], { x: 0, y: 0, width: 2600, height: 200 });
    const kept = keptCoverage(large);
    expect([kept.width, kept.height]).toEqual([2048, 158]);
    expect(sum(kept) / sum(large)).toBeCloseTo((2048 / 2600) ** 2, 2);
  });
});
