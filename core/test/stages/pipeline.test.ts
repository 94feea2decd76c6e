import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import {
  automaticCleaning,
  automaticRecovery,
  blurred,
  colourSpaceOf,
  CoreError,
  cropPlane,
  decodePiece,
  discPsf,
  emptyPrescription,
  encodeChannels,
  FINAL_EFFORT,
  FRAME_STAGES,
  frameRegionFor,
  grow,
  isUntouched,
  keyOfPixels,
  passThrough,
  pictureOver,
  PLAIN_KERNELS,
  reachOfPrescription,
  regionNeeded,
  renderTile,
  sizeAfter,
  tilesToRender,
  turned,
  wholeOf,
  type CodePiece,
  type FrameStage,
  type Geometry,
  type Prescription,
} from '../../src';
import { deadLeaves } from '../synthetic';

const FRAME = { width: 300, height: 270 };
const TILE = { x: 0, y: 0, width: 96, height: 80 };
const space = colourSpaceOf(null, 3);
const source = { frame: FRAME, space };
const effort = { ...FINAL_EFFORT, iterations: 2, kernels: PLAIN_KERNELS };
let piece: CodePiece;

beforeAll(() => {
  const planes = [1, 2, 3].map(
    (seed) => blurred([deadLeaves(FRAME.width + 8, FRAME.height + 8, seed, 3)], discPsf(2), 4)[0],
  );
  piece = { region: wholeOf(FRAME), channels: 3, codes: encodeChannels(planes, space) };
});

/** Adds the sample that lies ten px to the right, by a share; at work in prescriptions that name it. */
const echo: FrameStage<{ readonly share: number }> = {
  name: 'echo',
  settingsOf: (prescription) => (prescription as { echo?: { share: number } }).echo ?? null,
  reach: () => 10,
  regionNeeded: (_, wanted) => grow(wanted, 10),
  keyOf: (settings) => settings,
  touches: (_, region) => region.x < 256,
  apply({ region, planes, solved }, { share }, wanted) {
    const shifted = planes.map((plane) => {
      const own = cropPlane(plane, { ...wanted, x: wanted.x - region.x, y: wanted.y - region.y });
      const there = cropPlane(plane, { ...wanted, x: wanted.x + 10 - region.x, y: wanted.y - region.y });
      return { ...own, data: own.data.map((value, i) => (1 - share) * value + share * there.data[i]) };
    });
    const touched = { ...shifted[0], data: new Float32Array(shifted[0].data.length).fill(1) };
    return { region: wanted, planes: shifted, touched, solved };
  },
};
const withEcho = (share: number, plan: Prescription = emptyPrescription()) =>
  ({ ...plan, echo: { share } }) as Prescription;

const recovered = (): Prescription => ({
  ...emptyPrescription(),
  recovery: { ...automaticRecovery('missed-focus', null, 80), learnedTexture: false, trialId: null },
});

describe('a stage that is put into the list', () => {
  afterEach(() => {
    const at = FRAME_STAGES.indexOf(echo as FrameStage);
    if (at >= 0) FRAME_STAGES.splice(at, 1);
  });
  const put = () => FRAME_STAGES.push(echo as FrameStage);

  it('is nothing before', () => {
    expect(isUntouched(withEcho(0.5))).toBe(true);
    expect(tilesToRender(withEcho(0.5), FRAME)).toEqual([]);
  });

  it('has its say in reach, keys, tiles and what is untouched', () => {
    put();
    const plan = withEcho(0.5);
    expect(isUntouched(plan)).toBe(false);
    expect(isUntouched(emptyPrescription())).toBe(true);
    expect(reachOfPrescription(plan)).toBe(10);
    expect(reachOfPrescription(withEcho(0.5, recovered()))).toBe(10 + reachOfPrescription(recovered()));
    expect(keyOfPixels(plan)).not.toBe(keyOfPixels(withEcho(0.4)));
    expect(keyOfPixels(plan)).toBe(keyOfPixels({ ...withEcho(0.5), probes: [{ id: 'p', name: '', x: 1, y: 1 }] }));
    expect(tilesToRender(plan, FRAME).map(({ x }) => x)).toEqual([0, 0]);
  });

  it('is given what it asked for, and its px come out', () => {
    put();
    const plan = withEcho(0.25);
    expect(regionNeeded(source, plan, TILE, effort)).toEqual(grow(TILE, 10));
    const { codes, changed } = renderTile(source, plan, piece, TILE, effort);
    expect(changed).toBe(true);
    const linear = decodePiece(piece, wholeOf(FRAME), space);
    const place = 20 * FRAME.width + 30;
    const wanted = 0.75 * linear[1].data[place] + 0.25 * linear[1].data[place + 10];
    expect(codes[(20 * TILE.width + 30) * 3 + 1]).toBe(space.finders[1].codeOf(Math.fround(wanted)));
  });

  it('comes after the recovery, whose findings it passes on to the audit', () => {
    put();
    const [plain, after] = [recovered(), withEcho(0.5, recovered())].map((plan) =>
      passThrough(source, plan, piece, TILE, effort)!,
    );
    expect(after.solved).toBeDefined();
    const at = (passed: typeof plain, x: number, y: number) =>
      passed.planes[0].data[(y - passed.region.y) * passed.region.width + x - passed.region.x];
    expect(at(after, 30, 20)).toBeCloseTo((at(plain, 30, 20) + at(plain, 40, 20)) / 2, 6);
  });

  it('is left out of tiles it does not touch', () => {
    put();
    const far = { x: 256, y: 0, width: 44, height: 64 };
    expect(passThrough(source, withEcho(0.5), piece, far, effort)).toBeNull();
    expect(renderTile(source, withEcho(0.5), piece, far, effort).changed).toBe(false);
  });
});

describe('keys of pixels', () => {
  it('change with all that the stages are told, and with nothing else', () => {
    const plan = { ...recovered(), cleaning: automaticCleaning(null) };
    const key = keyOfPixels(plan);
    const { recovery, cleaning, mask } = plan;
    const amount = { value: 30, auto: true };
    expect(keyOfPixels({ ...plan, recovery: { ...recovery!, amount } })).not.toBe(key);
    expect(keyOfPixels({ ...plan, cleaning: { ...cleaning, blotchPx: { value: 20, auto: true } } })).not.toBe(key);
    expect(keyOfPixels({ ...plan, mask: { ...mask, operations: [{ kind: 'fill' }] } })).not.toBe(key);
    expect(keyOfPixels({ ...plan, mask: { ...mask, opacityPercent: 50 } })).not.toBe(key);
    expect(keyOfPixels({ ...plan, recovery: { ...recovery!, trialId: 'x' } })).toBe(key);
    expect(keyOfPixels({ ...plan, mask: { ...mask, name: 'bird' } })).toBe(key);
    expect(keyOfPixels({ ...plan, geometry: { crop: null, quarterTurns: 1 } })).toBe(key);
  });
});

describe('the picture’s own grid', () => {
  const shown = (geometry: Geometry): Prescription => ({ ...emptyPrescription(), geometry });
  const crop = { x: 40, y: 30, width: 120, height: 70 };
  const frame = { width: 300, height: 270 };
  /** Every sample says where it lies. */
  const places = { ...frame, data: Float32Array.from({ length: 300 * 270 }, (_, i) => i) };
  const over = (plan: Prescription, region: Parameters<typeof cropPlane>[1]) => {
    const needed = frameRegionFor(plan, frame, region);
    return pictureOver([cropPlane(places, needed)], plan, frame, region)[0];
  };

  it('is the frame’s where nothing is asked for', () => {
    expect(sizeAfter(emptyPrescription(), frame)).toEqual(frame);
    expect(sizeAfter(shown({ crop: null, quarterTurns: 0 }), frame)).toEqual(frame);
    expect(frameRegionFor(emptyPrescription(), frame, crop)).toEqual(crop);
  });

  it('has the crop’s size, its sides changed by a quarter', () => {
    expect(sizeAfter(shown({ crop, quarterTurns: 0 }), frame)).toEqual({ width: 120, height: 70 });
    expect(sizeAfter(shown({ crop, quarterTurns: 1 }), frame)).toEqual({ width: 70, height: 120 });
    expect(sizeAfter(shown({ crop, quarterTurns: 2 }), frame)).toEqual({ width: 120, height: 70 });
    expect(sizeAfter(shown({ crop: { ...crop, x: 250 }, quarterTurns: 3 }), frame)).toEqual({ width: 70, height: 50 });
  });

  it('a crop outside the frame is refused', () => {
    expect(() => sizeAfter(shown({ crop: { ...crop, x: 400 }, quarterTurns: 0 }), frame)).toThrow(CoreError);
  });

  it('a quarter turns clockwise: what was at the lower left is at the upper left', () => {
    const small = { width: 3, height: 2, data: Float32Array.from([1, 2, 3, 4, 5, 6]) };
    expect([...turned(small, 1).data]).toEqual([4, 1, 5, 2, 6, 3]);
    expect([...turned(small, 2).data]).toEqual([6, 5, 4, 3, 2, 1]);
    expect([...turned(small, 3).data]).toEqual([3, 6, 2, 5, 1, 4]);
    expect(turned(small, 1)).toMatchObject({ width: 2, height: 3 });
  });

  it.each([0, 1, 2, 3] as const)('turned by %i quarters, a tile of it is that part of the whole', (quarterTurns) => {
    const plan = shown({ crop, quarterTurns });
    const size = sizeAfter(plan, frame);
    const whole = over(plan, wholeOf(size));
    expect(whole).toEqual(turned(cropPlane(places, crop), quarterTurns));
    const tile = { x: 11, y: 23, width: 31, height: 17 };
    expect(over(plan, tile)).toEqual(cropPlane(whole, tile));
  });
});
