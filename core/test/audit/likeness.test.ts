import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  atFullStrength,
  auditFacePart,
  cutTo,
  encodeChannels,
  passThrough,
  bilinear,
  ciede2000,
  colourSpaceOf,
  createPlane,
  cropPlane,
  discPsf,
  emptyPrescription,
  eyeDistance,
  fromOpponent,
  gaussianBlur,
  labOf,
  LIMITS,
  likenessOf,
  PLAIN_KERNELS,
  regionOfPart,
  toOpponent,
  type FacePart,
  type Plane,
  type Prescription,
  type Reading,
} from '../../src';
import { convolve, deadLeaves } from '../synthetic';

const SIDE = 96;
const AT = { x: 47.5, y: 47.5, rx: 16, ry: 12 };
const EYES_APART = 80;

/** A face's part in colour: three looks at one scene, so that it has hues. */
function scene(seed: number): Plane[] {
  const grey = deadLeaves(SIDE, SIDE, seed, 3);
  return [1, 0.7, 0.45].map((share) => ({ ...grey, data: grey.data.map((value) => share * value) }));
}

const moved = (plane: Plane, dx: number, dy: number): Plane => {
  const out = createPlane(plane.width, plane.height);
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = bilinear(plane, (i % plane.width) - dx, Math.floor(i / plane.width) - dy);
  }
  return out;
};

describe('likeness of a part of a face', () => {
  it('the photograph against itself is as in the photograph', () => {
    const picture = scene(1);
    const { shift, hue, structure, worst, level } = likenessOf(picture, picture, AT, EYES_APART);
    expect([shift.value, hue.value, structure.value, level]).toEqual([
      0,
      0,
      expect.closeTo(0, 6),
      expect.closeTo(0, 4),
    ]);
    expect(worst).toBe('safe');
  });

  it.each([
    [0.8, -0.4],
    [-1.7, 1.1],
  ])('tells how far a part was moved (%f, %f px)', (dx, dy) => {
    const picture = scene(2).map((plane) => gaussianBlur(plane, 1.5));
    const after = picture.map((plane) => moved(plane, dx, dy));
    const { shift } = likenessOf(picture, after, AT, EYES_APART);
    expect((shift.value * EYES_APART) / 100).toBeCloseTo(Math.hypot(dx, dy), 1);
    expect(shift.verdict).not.toBe('safe');
  });

  it('a large, soft part is followed too', () => {
    const side = 320;
    const grey = gaussianBlur(deadLeaves(side, side, 12, 12), 6);
    const picture = [grey, grey, grey];
    const after = picture.map((plane) => moved(plane, 2.5, -1.5));
    const { shift } = likenessOf(picture, after, { x: 160, y: 160, rx: 80, ry: 70 }, 200);
    expect(shift.value).toBeCloseTo(Math.hypot(2.5, 1.5) / 2, 1);
  });

  it('tells a turned hue as CIEDE2000 of the mean colours, lightness apart', () => {
    const flat = (rgb: readonly number[]) =>
      rgb.map((value): Plane => ({ width: SIDE, height: SIDE, data: new Float32Array(SIDE * SIDE).fill(value) }));
    const [before, after] = [
      [0.3, 0.2, 0.1],
      [0.1, 0.2, 0.3],
    ];
    const { hue, shift } = likenessOf(flat(before), flat(after), AT, EYES_APART);
    const [p, q] = [before, after].map(([r, g, b]) => labOf(r, g, b));
    const l = (p.l + q.l) / 2;
    expect(hue.value).toBeCloseTo(ciede2000({ ...p, l }, { ...q, l }), 3);
    expect(hue.verdict).toBe('damaged');
    // A flat part has no place.
    expect(shift.verdict).toBe('not measurable');
  });

  it('an iris of another colour is found, and its drawing is told apart', () => {
    const picture = scene(3);
    const [bright, red, green] = toOpponent(picture);
    const other = fromOpponent([
      bright,
      { ...red, data: red.data.map((value) => -value) },
      { ...green, data: green.data.map((value) => -value) },
    ]);
    const turned = likenessOf(picture, other, AT, EYES_APART);
    expect(turned.hue.value).toBeGreaterThan(LIMITS.partHue.damaged);
    const another = likenessOf(picture, scene(4), AT, EYES_APART);
    expect(another.structure.value).toBeGreaterThan(LIMITS.partStructure.damaged);
    expect(another.worst).toBe('damaged');
  });

  it('distance of the eyes: both, one alone, or none', () => {
    const part = (name: FacePart['part'], x: number, rx: number): FacePart => ({ part: name, x, y: 10, rx, ry: 5 });
    expect(eyeDistance([part('left eye', 80, 10), part('right eye', 20, 10)])).toBe(60);
    expect(eyeDistance([part('left iris', 80, 10), part('right eye', 20, 10)])).toBe(60);
    expect(eyeDistance([part('left eye', 80, 10)])).toBeCloseTo(42, 6);
    expect(eyeDistance([part('nose', 80, 7)])).toBe(14);
  });
});

describe('a part of a face in a trial', () => {
  const truth = scene(7);
  const psf = discPsf(2.5);
  const original = truth.map((plane) => convolve(plane, psf));
  const frame = { width: SIDE, height: SIDE };
  const source = { frame, space: colourSpaceOf(null, 3) };
  const effort = { iterations: 5, kernels: PLAIN_KERNELS };
  const auto = (value: number) => ({ value, auto: true });
  const plan = (amount: number): Prescription => ({
    ...emptyPrescription(),
    reading: acceptReading(
      {
        cause: { method: 'missed-focus', blurSizePx: 5, directionDeg: 0 },
        runnerUp: null,
        noise: [0, 1, 2].map(() => ({ a: 0, b: 1e-7 })),
        floor: [1e-7, 1e-7, 1e-7],
        sizes: [],
      } as unknown as Reading,
      { kind: 'centre', key: '' },
    ),
    recovery: {
      method: 'missed-focus',
      amount: auto(amount),
      blurSizePx: auto(5),
      directionDeg: auto(0),
      noiseGuard: auto(50),
      haloLimitPercent: null,
      grainKeptPercent: auto(0),
      trialId: null,
    },
  });
  const part: FacePart = { part: 'left eye', x: 48, y: 48, rx: 10, ry: 8 };

  it('the true scene counts as unchanged', () => {
    const prescription = plan(100);
    const region = regionOfPart(part, prescription, frame);
    expect(region).toEqual({ x: 2, y: 5, width: 93, height: 87 });
    const within = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, region));
    const found = auditFacePart(source, prescription, part, [part], region, within(original), within(truth), effort);
    expect(found.worst).toBe('safe');
    expect(found.level).toBeLessThan(0.35);
  });

  it('is judged at full strength, however much of the answer is published', () => {
    const region = { x: 10, y: 12, width: 40, height: 30 };
    const piece = {
      region: { x: 0, y: 0, ...frame },
      channels: 3 as const,
      codes: encodeChannels(original, source.space),
    };
    const fullOf = (amount: number) =>
      atFullStrength(passThrough(source, plan(amount), piece, { x: 0, y: 0, ...frame }, effort)!, region);
    const [whole, half] = [fullOf(100), fullOf(20)];
    expect(half[0].width).toBe(40);
    half.forEach((plane, c) => expect(plane.data).toEqual(whole[c].data));
  });

  it('where the mask is not, what is shown is what stands there', () => {
    const whole = { x: 0, y: 0, ...frame };
    const piece = { region: whole, channels: 3 as const, codes: encodeChannels(original, source.space) };
    const operations = [{ kind: 'stroke', mode: 'add', sizePx: 20, featherPercent: 0, points: [48, 48] }] as const;
    const masked = { ...plan(40), mask: { ...plan(40).mask, operations } };
    const passed = passThrough(source, masked, piece, whole, effort)!;
    const full = atFullStrength(passed, whole)[1];
    const shown = cutTo(passed, whole)[1];
    const farApart = (isInside: boolean) =>
      full.data.reduce((most, value, i) => {
        const far = Math.hypot((i % frame.width) - 48, Math.floor(i / frame.width) - 48);
        const counts = isInside ? far < 9 : far > 12;
        return counts ? Math.max(most, Math.abs(value - shown.data[i])) : most;
      }, 0);
    expect(farApart(false)).toBe(0);
    expect(farApart(true)).toBeGreaterThan(1e-3);
  });

  it('somebody else’s eye in its place does not', () => {
    const prescription = plan(100);
    const region = regionOfPart(part, prescription, frame);
    const within = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, region));
    const found = auditFacePart(source, prescription, part, [part], region, within(original), within(scene(8)), effort);
    expect(found.worst).toBe('damaged');
  });

  it('an outside version is judged through the blur that fits it', () => {
    const prescription = { ...plan(100), recovery: null };
    const region = regionOfPart(part, prescription, frame);
    expect(region.width).toBeGreaterThan(2 * part.rx);
    const cut = (plane: Plane): Plane => {
      const out = createPlane(region.width, region.height);
      for (let i = 0; i < out.data.length; i++) {
        const [x, y] = [region.x + (i % region.width), region.y + Math.floor(i / region.width)];
        out.data[i] = plane.data[y * SIDE + x];
      }
      return out;
    };
    const judge = (shown: Plane[]) =>
      auditFacePart(source, prescription, part, [part], region, original.map(cut), shown.map(cut), effort);
    expect(judge(truth).worst).toBe('safe');
    expect(judge(scene(9)).worst).toBe('damaged');
  });
});
