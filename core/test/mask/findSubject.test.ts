import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  areaOperation,
  boundsOfArea,
  checkPrescription,
  createPlane,
  drawMask,
  emptyPrescription,
  filledPlane,
  findSubject,
  fitMixture,
  costIn,
  gaussianBlur,
  geodesicDistance,
  gridCut,
  gridOver,
  guidedFilter,
  keyOfOperations,
  mendSubject,
  operationsNear,
  packCoverage,
  subjectArea,
  unpackCoverage,
  type Plane,
} from '../../src';
import '../fastKernels';
import { deadLeaves, seeded } from '../synthetic';

describe('minimum cut of a grid', () => {
  /** The least of all 2^n ways to part the samples. */
  function bestByTrying(width: number, height: number, pull: Float32Array, weight: (i: number, j: number) => number) {
    const count = width * height;
    const costOf = (labels: number) => {
      let cost = 0;
      for (let i = 0; i < count; i++) {
        const own = (labels >> i) & 1;
        cost += own === 1 ? Math.max(0, -pull[i]) : Math.max(0, pull[i]);
        for (let j = i + 1; j < count; j++) {
          const isNear =
            Math.abs((i % width) - (j % width)) <= 1 && Math.abs(Math.floor(i / width) - Math.floor(j / width)) <= 1;
          if (isNear && own !== ((labels >> j) & 1)) cost += weight(i, j);
        }
      }
      return cost;
    };
    let best = Infinity;
    for (let labels = 0; labels < 1 << count; labels++) best = Math.min(best, costOf(labels));
    return { best, costOf };
  }

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('costs no more than the best of all ways, seed %i', (seed) => {
    const random = seeded(seed);
    const [width, height] = [4, 3];
    const pull = Float32Array.from({ length: 12 }, () => 4 * random() - 2);
    const weights = Float32Array.from({ length: 144 }, () => random());
    const weight = (i: number, j: number) => weights[12 * Math.min(i, j) + Math.max(i, j)];
    const labels = gridCut(gridOver(width, height, null, weight), pull);
    const { best, costOf } = bestByTrying(width, height, pull, weight);
    expect(costOf(labels.reduce((bits, label, i) => bits | (label << i), 0))).toBeCloseTo(best, 4);
  });
});

describe('what finding a subject is built of', () => {
  it('geodesic distance: changes crossed on the best way, slow ones free', () => {
    // Flat, a step of 3 that has to be crossed, flat again; the step is open at the bottom row.
    const [width, height] = [9, 5];
    const features = new Float32Array(3 * width * height);
    for (let y = 0; y < height - 1; y++) for (let x = 4; x < 5; x++) features[3 * (y * width + x)] = 3;
    const seeds = new Uint8Array(width * height);
    seeds[0] = 1;
    const distance = geodesicDistance(features, 3, width, seeds, 10, 0, 1);
    expect(distance[8]).toBeCloseTo(0, 6);
    expect(distance[4]).toBeCloseTo(3, 6);
    const far = geodesicDistance(features, 3, width, new Uint8Array(width * height), 10);
    expect(far[0]).toBe(10);
  });

  it('a mixture finds two clusters and tells them apart', () => {
    const random = seeded(5);
    const samples = Float32Array.from(
      { length: 800 },
      (_, i) => (Math.floor(i / 2) % 2 === 0 ? 0 : 5) + 0.2 * random(),
    );
    const mixture = fitMixture(samples, 2, 3);
    const at = (x: number, y: number) => costIn(mixture, Float32Array.from([x, y]), 0);
    expect(at(0.1, 0.1)).toBeLessThan(at(2.5, 2.5) - 50);
    expect(at(5.1, 5.1)).toBeLessThan(at(2.5, 2.5) - 50);
    expect(costIn(fitMixture(new Float32Array(0), 2, 3), samples, 0)).toBeGreaterThan(20);
  });

  it('the guided filter keeps what is linear in its guide (He, Sun, Tang 2013, eq. 5 with ε → 0)', () => {
    const guide = [1, 2, 3].map((seed) => deadLeaves(40, 30, seed));
    const wanted = createPlane(40, 30);
    for (let i = 0; i < wanted.data.length; i++) {
      wanted.data[i] = 0.5 * guide[0].data[i] - 0.2 * guide[1].data[i] + 0.7 * guide[2].data[i] + 0.1;
    }
    const out = guidedFilter(wanted, guide, 4, 1e-9);
    out.data.forEach((value, i) => expect(value).toBeCloseTo(wanted.data[i], 3));
  });

  it('the guided filter moves a border that lies 3 px off to the guide’s own', () => {
    const edge = (at: number): Plane => ({
      width: 60,
      height: 40,
      data: Float32Array.from({ length: 2400 }, (_, i) => (i % 60 < at ? 0 : 1)),
    });
    const out = guidedFilter(edge(27), [edge(30), edge(30), edge(30)], 8, 1e-3);
    const row = (x: number) => out.data[20 * 60 + x];
    const steps = Array.from({ length: 59 }, (_, x) => Math.abs(row(x + 1) - row(x)));
    expect(steps.indexOf(Math.max(...steps))).toBe(29);
    expect(row(30)).toBeGreaterThan(0.5);
    expect(row(29)).toBeLessThan(0.5);
  });
});

/** Leaves in focus in an ellipse, over the same kind of leaves in other colours far out of focus. */
function scene(seed: number, width = 240, height = 160) {
  const sharp = deadLeaves(width, height, seed, 1.5);
  const behind = gaussianBlur(deadLeaves(width, height, seed + 50, 6), 7);
  const truth = createPlane(width, height);
  const channels = [0, 1, 2].map(() => createPlane(width, height));
  for (let i = 0; i < truth.data.length; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const inside = Math.hypot((x - 0.45 * width) / (0.2 * width), (y - 0.55 * height) / (0.3 * height)) <= 1;
    truth.data[i] = inside ? 1 : 0;
    const [own, other] = [sharp.data[i], behind.data[i]];
    [0.9, 0.6, 0.35].forEach((share, c) => {
      channels[c].data[i] = inside ? share * own : [0.35, 0.6, 0.8][c] * other;
    });
  }
  return { channels, truth };
}

const overlap = (labels: ArrayLike<number>, truth: Plane) => {
  let [both, either] = [0, 0];
  truth.data.forEach((value, i) => {
    both += Math.min(labels[i], value);
    either += Math.max(labels[i], value);
  });
  return both / either;
};

describe('finding the subject', () => {
  it.each([1, 2, 3])('what is in focus before what is not, seed %i', (seed) => {
    const { channels, truth } = scene(seed);
    expect(overlap(findSubject(channels).labels, truth)).toBeGreaterThan(0.93);
  });

  it('a dab adds what was missed, another takes it away again, the rest stays', () => {
    const { channels, truth } = scene(4);
    const found = findSubject(channels);
    const before = found.labels;
    const dab = { x: 210, y: 20, radius: 6, isSubject: true };
    const more = mendSubject(found, [dab]);
    expect(more[20 * 240 + 210]).toBe(1);
    expect(overlap(mendSubject(found, [dab, { ...dab, isSubject: false }]), truth)).toBeGreaterThan(0.9);
    expect(before[20 * 240 + 210]).toBe(0);
  });

  it('its coverage has the picture’s size and soft borders in their place', () => {
    const { channels, truth } = scene(5, 600, 400);
    const area = subjectArea(channels, []);
    expect([area.width, area.height]).toEqual([600, 400]);
    expect(overlap(area.data, truth)).toBeGreaterThan(0.93);
    expect(area.data.some((value) => value > 0.05 && value < 0.95)).toBe(true);
  });

  it('its coverage without dabs is worked out once for a picture; dabs do not touch it', () => {
    const { channels } = scene(4);
    const first = subjectArea(channels, []);
    const before = first.data.slice();
    const dabbed = subjectArea(channels, [{ x: 20, y: 20, radius: 8, isSubject: true }]);
    expect(subjectArea(channels, [])).toBe(first);
    expect(first.data).toEqual(before);
    expect(dabbed.data).not.toEqual(before);
    // Another picture with the same samples is another picture.
    const twin = channels.map((plane) => ({ ...plane })) as unknown as typeof channels;
    expect(subjectArea(twin, [])).not.toBe(first);
    expect(subjectArea(twin, [])).toEqual(first);
  });

  it('a picture without anything gives something, and does not fail', () => {
    const flat = [0, 1, 2].map(() => filledPlane(80, 60, 0.3));
    expect(findSubject(flat).labels).toHaveLength(4800);
  });
});

describe('areas in a mask', () => {
  it('pack and unpack to the nearest of 64 levels, any coverage', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 1, max: 300 })), {
          minLength: 1,
          maxLength: 20,
        }),
        (runs) => {
          const values = runs.flatMap(([value, count]) => Array<number>(count).fill(value));
          const plane = { width: values.length, height: 1, data: Float32Array.from(values) };
          const back = unpackCoverage(packCoverage(plane), values.length, 1)!;
          expect(back.data.every((value, i) => Math.abs(value - values[i]) <= 0.5 / 63 + 1e-6)).toBe(true);
        },
      ),
    );
  });

  const frame = { width: 400, height: 300 };
  const coverage = createPlane(100, 75);
  for (let i = 0; i < coverage.data.length; i++) {
    coverage.data[i] = Math.hypot((i % 100) - 60, Math.floor(i / 100) - 30) < 15 ? 1 : 0;
  }
  const area = areaOperation(coverage, frame, 'add', { kind: 'subject', dabs: [] });

  it('are drawn alike at any scale, and only near where they cover', () => {
    const whole = { x: 0, y: 0, ...frame };
    const full = drawMask([area], whole);
    const half = drawMask([area], whole, 0.5);
    for (let y = 0; y < 150; y += 7) {
      for (let x = 0; x < 200; x += 7) {
        const four = [0, 1, 400, 401].map((step) => full.data[2 * y * 400 + 2 * x + step]);
        expect(half.data[y * 200 + x]).toBeCloseTo(four.reduce((sum, value) => sum + value, 0) / 4, 5);
      }
    }
    const part = drawMask([area], { x: 200, y: 80, width: 64, height: 64 });
    expect(part.data[10 * 64 + 20]).toBe(full.data[90 * 400 + 220]);
    const bounds = boundsOfArea(area)!;
    expect(bounds.x).toBeLessThanOrEqual(184);
    expect(bounds.x + bounds.width).toBeGreaterThanOrEqual(300);
    const stroke = { kind: 'stroke', mode: 'add', sizePx: 20, featherPercent: 0, points: [20, 20] } as const;
    expect(operationsNear([stroke, area], { x: 0, y: 0, width: 60, height: 60 })).toEqual([stroke]);
    expect(operationsNear([stroke, area], { x: 220, y: 100, width: 60, height: 60 })).toEqual([area]);
  });

  it('erase, and are left out while they are off', () => {
    const region = { x: 200, y: 80, width: 80, height: 80 };
    const invert = { kind: 'invert' } as const;
    const erased = drawMask([invert, { ...area, mode: 'erase' }], region);
    expect(erased.data[40 * 80 + 40]).toBe(0);
    expect(drawMask([invert, { ...area, mode: 'erase', isOff: true }], region).data[40 * 80 + 40]).toBe(1);
    expect(operationsNear([invert, { ...area, isOff: true }], region)).toEqual([invert]);
  });

  it('pass the schema, broken ones do not; equal coverage has equal keys', () => {
    const plan = { ...emptyPrescription(), mask: { ...emptyPrescription().mask, operations: [area] } };
    expect(checkPrescription(JSON.parse(JSON.stringify(plan))).mask.operations).toEqual([area]);
    const broken = { ...plan, mask: { ...plan.mask, operations: [{ ...area, values: area.values.slice(1) }] } };
    expect(() => checkPrescription(broken)).toThrow(/does not hold its coverage/);
    const again = areaOperation(coverage, frame, 'add', { kind: 'subject', dabs: [] });
    expect(keyOfOperations([again])).toBe(keyOfOperations([area]));
    expect(keyOfOperations([{ ...area, key: 'other' }])).not.toBe(keyOfOperations([area]));
  });
});
