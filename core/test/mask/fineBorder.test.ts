import { describe, expect, it } from 'vitest';
import {
  createPlane,
  filledPlane,
  findSubject,
  gridCut,
  gridOver,
  mendSubject,
  subjectArea,
  type FoundSubject,
  type Plane,
} from '../../src';
import { middleOf, sureFrom } from '../../src/mask/dabs';
import { fineBorder } from '../../src/mask/fineBorder';
import '../fastKernels';
import { localColourCosts } from '../../src/mask/localColours';
import { normal, seeded } from '../synthetic';

const WIDTH = 200;
const HEIGHT = 140;
const at = (x: number, y: number) => y * WIDTH + x;

/** 1 inside an ellipse about the middle. */
function ellipse(rx: number, ry: number): Uint8Array {
  return Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.hypot(((i % WIDTH) - 100) / rx, (Math.floor(i / WIDTH) - 70) / ry) <= 1 ? 1 : 0,
  );
}

/** Red-brown where `labels` say so, over green, both with grain. */
function coloured(labels: Uint8Array, grain = 0.02): Plane[] {
  const random = seeded(9);
  return [0, 1, 2].map((c) => {
    const plane = createPlane(WIDTH, HEIGHT);
    for (let i = 0; i < labels.length; i++) {
      plane.data[i] = Math.max(0, (labels[i] ? [0.4, 0.2, 0.1] : [0.15, 0.3, 0.12])[c] + grain * normal(random));
    }
    return plane;
  });
}

function overlap(a: Uint8Array, b: Uint8Array): number {
  let [both, either] = [0, 0];
  a.forEach((value, i) => {
    both += value & b[i];
    either += value | b[i];
  });
  return both / either;
}

describe('colours around a sample', () => {
  it('cost what the normal distribution says: ½·d²/σ² + ½·ln |Σ|', () => {
    const colours = [1, 2, 3].map((value) => filledPlane(20, 20, value));
    const weight = filledPlane(20, 20, 1);
    const odd = 10 * 20 + 11;
    colours[1].data[odd] = 2.6;
    weight.data[odd] = 0;
    const costs = localColourCosts(colours, weight, 6, new Uint8Array(400).fill(1));
    // The variance is what is added to every colour, 0.05.
    expect(costs[10 * 20 + 8]).toBeCloseTo(1.5 * Math.log(0.05), 4);
    expect(costs[odd]).toBeCloseTo(1.5 * Math.log(0.05) + 0.6 ** 2 / (2 * 0.05), 3);
  });

  it('where nothing is known all colours cost the same, and what is not asked for costs nothing', () => {
    const colours = [1, 2, 3].map((value) => filledPlane(20, 20, value));
    const wanted = new Uint8Array(400);
    wanted[45] = wanted[399] = 1;
    const costs = localColourCosts(colours, createPlane(20, 20), 3, wanted);
    expect(costs[45]).toBe(costs[399]);
    expect(costs[44]).toBe(0);
  });
});

describe('the outline drawn anew', () => {
  it.each([
    ['too small by 7 px', 53, 33],
    ['too large by 7 px', 67, 47],
  ])('%s: moves to where the colours change', (_, rx, ry) => {
    const truth = ellipse(60, 40);
    const drawn = fineBorder(ellipse(rx, ry), coloured(truth), 1.5, null);
    expect(overlap(ellipse(rx, ry), truth)).toBeLessThan(0.85);
    expect(overlap(drawn, truth)).toBeGreaterThan(0.98);
  });

  it('keeps what a person said, even where the colours say otherwise', () => {
    const truth = ellipse(60, 40);
    const sure = sureFrom([{ x: 100, y: 112, radius: 6, isSubject: true }], WIDTH, HEIGHT, 0.5);
    const drawn = fineBorder(truth, coloured(truth), 1.5, sure);
    expect(drawn[at(100, 112)]).toBe(1);
    expect(drawn[at(60, 112)]).toBe(0);
  });

  it('labels without an outline stay as they are', () => {
    const none = new Uint8Array(WIDTH * HEIGHT);
    expect(fineBorder(none, coloured(none), 3, null)).toEqual(none);
  });
});

describe('a cut over some samples only', () => {
  it('gives what the cut over all gives, where the others are held fast', () => {
    const random = seeded(3);
    const [width, height] = [12, 9];
    const weights = Float32Array.from({ length: width * height * width * height }, () => random());
    const weightOf = (i: number, j: number) => weights[Math.min(i, j) * width * height + Math.max(i, j)];
    const pull = Float32Array.from({ length: width * height }, (_, i) =>
      i % width < 3 ? 1e6 : i % width > 8 ? -1e6 : 2 * random() - 1,
    );
    const all = gridCut(gridOver(width, height, null, weightOf), pull);
    const band = Uint8Array.from({ length: width * height }, (_, i) => (i % width >= 2 && i % width <= 9 ? 1 : 0));
    const grid = gridOver(width, height, band, weightOf);
    const cut = gridCut(
      grid,
      Float32Array.from(grid.samples, (i) => pull[i]),
    );
    cut.forEach((label, k) => expect(label).toBe(all[grid.samples[k]]));
  });
});

describe('dabs', () => {
  it('at the frame’s side have their middle in it, not in the next row', () => {
    const dab = { radius: 3, isSubject: true };
    expect(middleOf({ ...dab, x: WIDTH - 0.4, y: 10 }, WIDTH, HEIGHT)).toBe(at(WIDTH - 1, 10));
    expect(middleOf({ ...dab, x: 4, y: HEIGHT - 0.4 }, WIDTH, HEIGHT)).toBe(at(4, HEIGHT - 1));
    expect(middleOf({ ...dab, x: -0.6, y: -0.6 }, WIDTH, HEIGHT)).toBe(0);
  });

  /** An ellipse with a hole, and a spot apart from it, as if found so. */
  function found(): { subject: FoundSubject; hole: number; spot: number } {
    const truth = ellipse(60, 40);
    const subject = findSubject(coloured(truth));
    const labels = truth.slice();
    for (let y = 66; y < 76; y++) labels.fill(0, at(96, y), at(106, y));
    for (let y = 10; y < 20; y++) labels.fill(1, at(10, y), at(22, y));
    return { subject: { ...subject, labels }, hole: at(104, 68), spot: at(11, 11) };
  }

  it('on a piece apart from the subject: all of it goes', () => {
    const { subject, spot } = found();
    expect(subject.labels[spot]).toBe(1);
    expect(mendSubject(subject, [{ x: 16, y: 15, radius: 3, isSubject: false }])[spot]).toBe(0);
  });

  it('in a hole: all of it is filled', () => {
    const { subject, hole } = found();
    expect(mendSubject(subject, [{ x: 100, y: 71, radius: 3, isSubject: true }])[hole]).toBe(1);
  });

  it('beside a subject that parts the frame in two: the other side does not go with it', () => {
    const bar = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.abs((i % WIDTH) - 100) < 30 ? 1 : 0));
    const subject = { ...findSubject(coloured(bar)), labels: bar };
    const mended = mendSubject(subject, [{ x: 20, y: 120, radius: 3, isSubject: true }]);
    expect(mended[at(180, 20)]).toBe(0);
    expect(mendSubject(subject, [{ x: 120, y: 120, radius: 3, isSubject: true }])).toEqual(bar);
  });

  it('that says what was found anyway changes nothing far from it', () => {
    const { subject } = found();
    const mended = mendSubject(subject, [{ x: 100, y: 128, radius: 3, isSubject: false }]);
    expect(overlap(mended, subject.labels)).toBeGreaterThan(0.99);
  });

  it('are heard at the second asking as at the first: what was kept of a picture is right', () => {
    const channels = coloured(ellipse(60, 40));
    const dab = { x: 60, y: 112, radius: 5, isSubject: true };
    subjectArea(channels, []);
    const later = subjectArea(channels, [dab]);
    const fresh = subjectArea(
      channels.map((plane) => ({ ...plane })),
      [dab],
    );
    expect(later.data).toEqual(fresh.data);
  });
});
