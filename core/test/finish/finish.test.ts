import { describe, expect, it } from 'vitest';
import {
  addLocalChange,
  addMend,
  checkPrescription,
  changeLocal,
  colourSpaceOf,
  createPlane,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  findSource,
  finishLook,
  keyOfPixels,
  mended,
  moveLocal,
  noFinishing,
  oppositeOf,
  passThrough,
  PLAIN_KERNELS,
  recoveredOnly,
  regionNeeded,
  regionOfMend,
  regionOfSearch,
  removeLocal,
  removeMend,
  renderTile,
  stagesOf,
  underLocal,
  wholeOf,
  withCorrection,
  withLocal,
  withOperations,
  withVignette,
  withWhole,
  type FrameGuide,
  type Mend,
  type Plane,
  type Prescription,
} from '../../src';
import { membrane } from '../../src/finish/membrane';
import { deadLeaves, withNoise } from '../synthetic';

const SPACE = colourSpaceOf(null, 3);
const FRAME = { width: 200, height: 150 };
const leaves = deadLeaves(200, 150, 31);
const planes = [
  leaves,
  { ...leaves, data: leaves.data.map((v) => 0.8 * v) },
  { ...leaves, data: leaves.data.map((v) => 0.5 * v + 0.05) },
];
const guide: FrameGuide = { channels: planes, frame: FRAME };
const extent = { region: wholeOf(FRAME), scale: 1 };
const shown = (finishing: ReturnType<typeof noFinishing>) => finishLook(planes, finishing, SPACE, extent, guide);
const OVAL = { kind: 'radial', mode: 'add', x: 60, y: 60, rx: 30, ry: 20, featherPercent: 40 } as const;
/** A bright place far from the oval. */
const FAR = leaves.data.findIndex((value, i) => i > 100 * 200 && i % 200 > 130 && value > 0.2);
let count = 0;
const newId = () => `id-${++count}`;

describe('what guides the eye', () => {
  it('amount 0 is the identity', () => {
    const { planes: same, share } = shown(noFinishing());
    expect(same.map(({ data }) => data)).toEqual(planes.map(({ data }) => data));
    expect(share.data.every((value) => value === 0)).toBe(true);
  });

  it('saturation −100 is grey, of the same brightness', () => {
    const { planes: grey } = shown({ ...noFinishing(), saturation: -100 });
    const i = 70 * 200 + 50;
    const luma = [0.2126, 0.7152, 0.0722].reduce((sum, weight, c) => sum + weight * planes[c].data[i], 0);
    grey.forEach(({ data }) => expect(data[i]).toBeCloseTo(luma, 2));
  });

  it('local contrast makes fine differences larger or smaller and leaves a strong edge without halo', () => {
    const [width, height] = [400, 120];
    const edge: Plane = { width, height, data: new Float32Array(width * height) };
    for (let i = 0; i < edge.data.length; i++) edge.data[i] = i % width < 200 ? 0.02 : 0.6;
    const own = { channels: [edge], frame: edge };
    const grey = colourSpaceOf(null, 1);
    const { planes: after } = finishLook(
      [edge],
      { ...noFinishing(), localContrast: 100 },
      grey,
      { region: wholeOf(edge), scale: 1 },
      own,
    );
    for (let x = 0; x < width; x++) {
      expect(Math.abs(after[0].data[60 * width + x] / edge.data[60 * width + x] - 1)).toBeLessThan(0.1);
    }
    const spread = (values: ArrayLike<number>) => {
      const logs = Array.from(values, (value) => Math.log(value));
      const mean = logs.reduce((sum, value) => sum + value, 0) / logs.length;
      return Math.sqrt(logs.reduce((sum, value) => sum + (value - mean) ** 2, 0) / logs.length);
    };
    const ripple: Plane = { ...edge, data: edge.data.map((_, i) => 0.2 * (1 + 0.1 * Math.sin((i % width) / 2))) };
    const [more, less] = [60, -60].map(
      (localContrast) =>
        finishLook(
          [ripple],
          { ...noFinishing(), localContrast },
          grey,
          { region: wholeOf(edge), scale: 1 },
          { channels: [ripple], frame: ripple },
        ).planes[0],
    );
    expect(spread(more.data) / spread(ripple.data)).toBeGreaterThan(1.3);
    expect(spread(less.data) / spread(ripple.data)).toBeLessThan(0.7);
  });

  it('haze that was laid over a scene is taken away again for the most part', () => {
    const light = 0.8;
    const through = 0.45;
    const hazy = planes.map((plane) => ({
      ...plane,
      data: plane.data.map((v) => through * v + (1 - through) * light),
    }));
    const { planes: clear } = finishLook(hazy, { ...noFinishing(), haze: 80 }, SPACE, extent, {
      channels: hazy,
      frame: FRAME,
    });
    const far = (p: readonly Plane[]) =>
      p.reduce((sum, { data }, c) => sum + data.reduce((own, v, i) => own + Math.abs(v - planes[c].data[i]), 0), 0);
    expect(far(clear)).toBeLessThan(0.6 * far(hazy));
  });

  it('a local change acts under its mask, as far as its opacity reaches, and nowhere else', () => {
    let old = addLocalChange(emptyPrescription(), 'beak', [OVAL], newId);
    const id = old.finishing!.localChanges[0].mask.id;
    old = withLocal(old, id, 'exposureEv', 1);
    const { planes: after, share } = shown(old.finishing!);
    expect(after[0].data[60 * 200 + 60] / planes[0].data[60 * 200 + 60]).toBeCloseTo(2, 5);
    expect(after[0].data[FAR]).toBe(planes[0].data[FAR]);
    expect(share.data[FAR]).toBe(0);
    old = changeLocal(old, id, (one) => ({ ...one, mask: { ...one.mask, opacityPercent: 50 } }));
    expect(shown(old.finishing!).planes[0].data[60 * 200 + 60] / planes[0].data[60 * 200 + 60]).toBeCloseTo(1.5, 5);
  });

  it('untouched places keep the original’s own codes under a local change', () => {
    const old = withLocal(
      addLocalChange(emptyPrescription(), 'a', [OVAL], () => 'a'),
      'a',
      'warmth',
      40,
    );
    const codes = encodeChannels(planes, SPACE);
    const piece = { region: wholeOf(FRAME), channels: 3 as const, codes };
    const effort = { ...DRAFT_EFFORT, kernels: PLAIN_KERNELS };
    const tile = renderTile({ frame: FRAME, space: SPACE }, old, piece, wholeOf(FRAME), effort);
    const at = (x: number, y: number) => Array.from(tile.codes.subarray(3 * (y * 200 + x), 3 * (y * 200 + x) + 3));
    const was = (x: number, y: number) => Array.from(codes.subarray(3 * (y * 200 + x), 3 * (y * 200 + x) + 3));
    const [x, y] = [FAR % 200, Math.floor(FAR / 200)];
    expect(at(x, y)).toEqual(was(x, y));
    expect(at(60, 60)).not.toEqual(was(60, 60));
  });

  it('the opposite of a mask covers what it leaves out; order and removing', () => {
    let old = addLocalChange(emptyPrescription(), 'a', [OVAL], () => 'a');
    old = addLocalChange(old, 'b', oppositeOf([OVAL]), () => 'b');
    old = withLocal(old, 'b', 'exposureEv', -1);
    const { planes: after } = shown(old.finishing!);
    expect(after[0].data[FAR] / planes[0].data[FAR]).toBeCloseTo(0.5, 5);
    expect(after[0].data[60 * 200 + 60]).toBeCloseTo(planes[0].data[60 * 200 + 60], 5);
    expect(moveLocal(old, 'b', -1).finishing!.localChanges.map(({ mask }) => mask.name)).toEqual(['b', 'a']);
    expect(removeLocal(removeLocal(old, 'a'), 'b').finishing).toBeUndefined();
  });

  it('the mask’s tools work on a local change and leave the frame’s masks alone', () => {
    const old = addLocalChange(emptyPrescription(), 'a', [], () => 'a');
    const next = underLocal(old, 'a', (one) => withOperations(one, () => [OVAL]));
    expect(next.finishing!.localChanges[0].mask.operations).toEqual([OVAL]);
    expect(next.mask).toEqual(old.mask);
    expect(underLocal(old, 'gone', (one) => withOperations(one, () => [OVAL]))).toBe(old);
    expect(underLocal(old, null, (one) => withOperations(one, () => [OVAL])).mask.operations).toEqual([OVAL]);
  });

  it('is neither seen by what comes before it nor kept where nothing is left', () => {
    let old = withWhole(emptyPrescription(), 'saturation', 40);
    expect(stagesOf(old)).toEqual(['original', 'finished']);
    expect(keyOfPixels(recoveredOnly(old))).toBe(keyOfPixels(emptyPrescription()));
    old = withWhole(old, 'saturation', 0);
    expect(old.finishing).toBeUndefined();
    expect(withVignette(emptyPrescription(), { cornerPercent: -500 }).finishing!.vignette.cornerPercent).toBe(-100);
  });
});

describe('mending', () => {
  const texture = withNoise(deadLeaves(200, 150, 44, 1.5), 0.01, 3);
  const spoiled = (mark: (x: number, y: number) => boolean, value: number): Plane => ({
    ...texture,
    data: texture.data.map((own, i) => (mark(i % 200, Math.floor(i / 200)) ? value : own)),
  });
  const local = (x: number, y: number, r: number) => {
    const values: number[] = [];
    for (let v = y - r; v <= y + r; v++) for (let u = x - r; u <= x + r; u++) values.push(texture.data[v * 200 + u]);
    const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
    return Math.sqrt(values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / values.length);
  };
  const mendedBy = (plane: Plane, stroke: Mend['stroke']) => {
    const region = regionOfSearch(stroke, FRAME);
    const piece = createPlane(region.width, region.height);
    for (let y = 0; y < region.height; y++) {
      for (let x = 0; x < region.width; x++)
        piece.data[y * region.width + x] = plane.data[(region.y + y) * 200 + region.x + x];
    }
    const source = findSource([piece], region, stroke, [])!;
    const mend: Mend = { id: 'm', stroke, dx: source.x, dy: source.y, turnDeg: 0 };
    return { mend, result: mended([plane], wholeOf(FRAME), mend) };
  };
  const residual = (
    { place, channels }: ReturnType<typeof mended>,
    mark: (x: number, y: number) => boolean,
  ): number => {
    let [sum, n] = [0, 0];
    channels[0].data.forEach((value, i) => {
      const [x, y] = [place.x + (i % place.width), place.y + Math.floor(i / place.width)];
      if (!mark(x, y)) return;
      sum += (value - texture.data[y * 200 + x]) ** 2;
      n++;
    });
    return Math.sqrt(sum / n);
  };

  it('a drop is covered so that what is left lies within the local texture’s own', () => {
    const mark = (x: number, y: number) => Math.hypot(x - 90, y - 70) <= 6;
    const { result } = mendedBy(spoiled(mark, 1), { points: [90, 70], sizePx: 18 });
    // Two places of one texture differ by √2 of its spread.
    expect(residual(result, mark)).toBeLessThan(Math.SQRT2 * local(90, 70, 14));
    expect(Math.max(...result.channels[0].data)).toBeLessThan(0.9);
  });

  it('a hair, and a line that was invented, are painted over', () => {
    for (const value of [0, 0.95]) {
      const mark = (x: number, y: number) => x >= 60 && x <= 110 && Math.abs(y - 60 - 0.3 * (x - 60)) < 1.2;
      const { result } = mendedBy(spoiled(mark, value), { points: [58, 59.5, 112, 75.5], sizePx: 9 });
      expect(residual(result, mark)).toBeLessThan(Math.SQRT2 * local(85, 67, 14));
    }
  });

  it('the source is neither the place itself nor one that is covered already', () => {
    const stroke = { points: [90, 70], sizePx: 20 };
    const region = regionOfSearch(stroke, FRAME);
    const piece = { width: region.width, height: region.height, data: new Float32Array(region.width * region.height) };
    const first = findSource([piece], region, stroke, [])!;
    const there = { points: [90 + first.x, 70 + first.y], sizePx: 20 };
    const second = findSource([piece], region, stroke, [there])!;
    expect(Math.hypot(first.x, first.y)).toBeGreaterThan(18);
    expect(Math.hypot(second.x - first.x, second.y - first.y)).toBeGreaterThan(18);
    expect(
      findSource(
        [{ width: 30, height: 30, data: new Float32Array(900) }],
        { x: 0, y: 0, width: 30, height: 30 },
        { points: [15, 15], sizePx: 20 },
        [],
      ),
    ).toBeNull();
  });

  it('its seam is a membrane: harmonic inside, as given outside', () => {
    const edge = createPlane(41, 33);
    const free = new Uint8Array(41 * 33);
    for (let y = 0; y < 33; y++) {
      for (let x = 0; x < 41; x++) {
        edge.data[y * 41 + x] = 0.3 * x - 0.2 * y;
        if (Math.hypot(x - 20, y - 16) < 11) free[y * 41 + x] = 1;
      }
    }
    const given = { ...edge, data: edge.data.map((value, i) => (free[i] ? 999 : value)) };
    const out = membrane(given, free);
    // A plane is harmonic: it must come out as it was.
    out.data.forEach((value, i) => expect(value).toBeCloseTo(edge.data[i], 2));
  });

  it('a tile shows the same of a mend whichever tile it is, and what it takes from may be mended itself', () => {
    const prescription: Prescription = [
      { id: '1', stroke: { points: [70, 70], sizePx: 16 }, dx: 40, dy: 0, turnDeg: 20 },
      { id: '2', stroke: { points: [110, 70], sizePx: 12 }, dx: -41, dy: 3, turnDeg: 0 },
    ].reduce(addMend, emptyPrescription());
    const codes = encodeChannels([texture], colourSpaceOf(null, 1));
    const source = { frame: FRAME, space: colourSpaceOf(null, 1) };
    const effort = { ...DRAFT_EFFORT, kernels: PLAIN_KERNELS };
    const piece = { region: wholeOf(FRAME), channels: 1 as const, codes };
    const all = passThrough(source, prescription, piece, wholeOf(FRAME), effort)!;
    const tile = { x: 64, y: 64, width: 64, height: 32 };
    const part = passThrough(source, prescription, piece, tile, effort)!;
    const needed = regionNeeded(source, prescription, tile, effort);
    expect(needed.width).toBeGreaterThan(tile.width);
    for (let y = 0; y < tile.height; y++) {
      for (let x = 0; x < tile.width; x++) {
        const own = part.planes[0].data[(tile.y + y - part.region.y) * part.region.width + tile.x + x - part.region.x];
        expect(own).toBeCloseTo(all.planes[0].data[(tile.y + y) * 200 + tile.x + x], 6);
      }
    }
    expect(regionOfMend(prescription.mends![0]).width).toBeGreaterThan(16);
    expect(removeMend(removeMend(prescription, '1'), '2').mends).toBeUndefined();
  });
});

describe('what is saved', () => {
  const full = () => {
    let old = withCorrection(emptyPrescription(), 'exposureEv', 0.5);
    old = withWhole(old, 'haze', 20);
    old = addLocalChange(old, 'a', [OVAL], () => 'a');
    return addMend(old, { id: 'm', stroke: { points: [1, 2], sizePx: 9 }, dx: 30, dy: 4, turnDeg: 0 });
  };

  it('comes back as it was', () => {
    expect(checkPrescription(JSON.parse(JSON.stringify(full())))).toEqual(full());
  });

  it.each<[string, (old: Prescription) => unknown]>([
    [
      'an exposure beyond its range',
      (old) => ({ ...old, corrections: { ...old.corrections!, exposureEv: { value: 9, auto: false } } }),
    ],
    [
      'a curve that goes back',
      (old) => ({
        ...old,
        corrections: {
          ...old.corrections!,
          curve: [
            { x: 0.5, y: 0 },
            { x: 0.2, y: 1 },
          ],
        },
      }),
    ],
    [
      'a white balance of no kind',
      (old) => ({ ...old, corrections: { ...old.corrections!, whiteBalance: { kind: 'moonlight' } } }),
    ],
    [
      'a temperature of 100 K',
      (old) => ({
        ...old,
        corrections: { ...old.corrections!, whiteBalance: { kind: 'temperature', kelvin: 100, greenMagenta: 0 } },
      }),
    ],
    [
      'a local change without its mask',
      (old) => ({ ...old, finishing: { ...old.finishing!, localChanges: [{ exposureEv: 1 }] } }),
    ],
    [
      'a mend of half a point',
      (old) => ({ ...old, mends: [{ ...old.mends![0], stroke: { points: [1], sizePx: 4 } }] }),
    ],
    ['a seventh enlargement', (old) => ({ ...old, geometry: { crop: null, quarterTurns: 0, enlarge: 7 } })],
    ['something nobody knows', (old) => ({ ...old, finishing: { ...old.finishing!, sparkle: 3 } })],
  ])('refuses %s', (_, spoil) => {
    expect(() => checkPrescription(spoil(full()))).toThrow(/Not a valid prescription/);
  });
});
