import { describe, expect, it } from 'vitest';
import {
  addLocalChange,
  changeLocal,
  colourSpaceOf,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  finishLook,
  keyOfPixels,
  moveLocal,
  noFinishing,
  oppositeOf,
  PLAIN_KERNELS,
  recoveredOnly,
  removeLocal,
  renderTile,
  stagesOf,
  underLocal,
  wholeOf,
  withLocal,
  withOperations,
  withVignette,
  withWhole,
  type FrameGuide,
  type Plane,
} from '../../src';
import { deadLeaves } from '../synthetic';

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
