import { beforeAll, describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  acceptReading,
  automaticRecovery,
  blurPartsOver,
  blurredTurning,
  checkPrescription,
  createPlane,
  emptyPrescription,
  exposed,
  fieldOf,
  filledPlane,
  inner,
  movedReading,
  pathFieldOf,
  pathPsf,
  pathsOver,
  psfOf,
  psfOfTurning,
  reachOfPrescription,
  seededRandom,
  recoverySettingsOf,
  storePath,
  turningPath,
  widestPath,
  type Plane,
  type Prescription,
  type Psf,
  type Reading,
} from '../../src';
import { CONTROLS } from '../../src/psf/pathCurve';
import { placesDiffer } from '../../src/shake/readTurn';
import { turnPlaces } from '../../src/shake/turnPlaces';
import { deadLeaves, TURNING_MOMENTS } from '../synthetic';

describe('a camera that turns', () => {
  it('carries a place at right angles to where it lies', () => {
    const [moment] = [{ x: 1, y: 2, angle: 0.01 }];
    // 100 px to the right of the middle a turn carries down, 100 px below it to the left.
    expect(psfOfTurning([moment], 100, 0).data).toEqual(pathPsf([{ x: 1, y: 3 }]).data);
    expect(psfOfTurning([moment], 0, 100).data).toEqual(pathPsf([{ x: 0, y: 2 }]).data);
  });

  it('draws a point of light as its place sees the path', () => {
    const side = 201;
    const scene = createPlane(side, side);
    const [border, place] = [30, { x: 150, y: 60 }];
    scene.data[place.y * side + place.x] = 1;
    const [seen] = blurredTurning([scene], TURNING_MOMENTS, border);
    const middle = (side - 2 * border) / 2;
    const psf = psfOfTurning(TURNING_MOMENTS, place.x - border - middle, place.y - border - middle);
    const half = (psf.width - 1) / 2;
    const around = createPlane(psf.width, psf.width);
    for (let y = 0; y < psf.width; y++) {
      const from = (place.y - border - half + y) * seen.width + place.x - border - half;
      around.data.set(seen.data.subarray(from, from + psf.width), y * psf.width);
    }
    // The turn by which a sample is carried is its own, not the point's: over a path of 9 px that is 0.07 px.
    around.data.forEach((value, i) => expect(Math.abs(value - psf.data[i])).toBeLessThan(0.004));
  });

  it('is refused where a corner would see beyond the scene', () => {
    expect(() => blurredTurning([filledPlane(200, 200, 1)], TURNING_MOMENTS, 4)).toThrow(RangeError);
  });

  it('turns by the range that was asked for, about nothing in the mean of the path', () => {
    const moments = turningPath(seededRandom(3), 12, 0.01);
    const angles = moments.map(({ angle }) => angle);
    expect(Math.max(...angles) - Math.min(...angles)).toBeCloseTo(0.01, 10);
    const across = moments.map(({ x }) => x);
    const down = moments.map(({ y }) => y);
    const extent = (values: number[]) => Math.max(...values) - Math.min(...values);
    expect(Math.max(extent(across), extent(down))).toBeCloseTo(12, 0);
  });
});

const path = (extent: number): Psf =>
  pathPsf(Array.from({ length: 21 }, (_, i) => ({ x: (i / 10 - 1) * extent, y: 0 })));
const GRID = [
  { x: 100, y: 50, ...storePath(path(3)) },
  { x: 300, y: 50, ...storePath(path(5)) },
  { x: 100, y: 150, ...storePath(path(4)) },
  { x: 300, y: 150, ...storePath(path(7)) },
];

const reading: Reading = {
  cause: {
    method: 'camera-shake',
    blurSizePx: storePath(path(5)).lengthPx,
    directionDeg: 0,
    path: { ...storePath(path(5)), places: GRID },
  },
  runnerUp: null,
  sizes: [],
  confidence: 0.9,
  noise: [{ a: 1e-6, b: 1e-6 }],
  grain: null,
  traces: { blocking: 0, overshootPercent: null },
  noisePercent: 0.1,
  floor: [1e-6],
  clippedWhitePercent: 0,
  clippedBlackPercent: 0,
  signal: 1e-4,
  finestNowPx: 6,
  finestRecoverablePx: 4,
  pile: 'soft',
  hidesNoise: false,
  leftAlone: null,
};

function prescribed(): Prescription {
  const accepted = acceptReading(reading, { kind: 'mask', key: '' });
  return {
    ...emptyPrescription(),
    reading: accepted,
    recovery: { ...automaticRecovery('camera-shake', accepted, 100), trialId: null },
  };
}

describe('a path by place', () => {
  const plan = prescribed();
  const settings = recoverySettingsOf(plan)!;
  const field = pathFieldOf(settings)!;

  it('holds wholly at its place and beyond the last one, and shares with its neighbours between', () => {
    const parts = pathsOver(field, settings, { x: 0, y: 0, width: 400, height: 200 });
    expect(parts).toHaveLength(4);
    const sharesAt = (x: number, y: number) => parts.map(({ share }) => share.data[y * 400 + x]);
    expect(sharesAt(100, 50)).toEqual([1, 0, 0, 0]);
    expect(sharesAt(0, 199)).toEqual([0, 0, 1, 0]);
    expect(sharesAt(200, 100)).toEqual([0.25, 0.25, 0.25, 0.25]);
    for (let i = 0; i < 400 * 200; i += 77) {
      expect(parts.reduce((sum, { share }) => sum + share.data[i], 0)).toBeCloseTo(1, 6);
    }
    expect(pathsOver(field, settings, { x: 0, y: 0, width: 50, height: 40 })).toHaveLength(1);
  });

  it('is blended alike whatever part of the frame is asked for', () => {
    const whole = pathsOver(field, settings, { x: 0, y: 0, width: 400, height: 200 });
    const part = pathsOver(field, settings, { x: 150, y: 60, width: 40, height: 30 });
    part.forEach(({ share }, n) => {
      expect(share.data[5 * 40 + 7]).toBe(whole[n].share.data[65 * 400 + 157]);
    });
  });

  it('is what the audit photographs the answer with', () => {
    const parts = blurPartsOver(field, settings, { x: 0, y: 0, width: 50, height: 40 });
    expect(parts).toHaveLength(1);
    expect(Array.from(parts[0].psf.data)).toEqual(
      Array.from(psfOf({ ...settings, path: GRID[0], blurSizePx: GRID[0].lengthPx }).data),
    );
  });

  it('is longer everywhere where a longer one is set by hand, and reaches as far as its widest place', () => {
    const longer = { ...settings, blurSizePx: 2 * settings.path!.lengthPx };
    const [first] = pathsOver(field, longer, { x: 0, y: 0, width: 50, height: 40 });
    expect(first.settings!.blurSizePx).toBeCloseTo(2 * GRID[0].lengthPx, 6);
    expect(widestPath(field, settings).path).toBe(GRID[3]);
    const one = { ...plan, recovery: { ...plan.recovery!, path: storePath(path(5)) } };
    expect(fieldOf(one, recoverySettingsOf(one)!)).toBeNull();
    expect(reachOfPrescription(plan)).toBeGreaterThan(reachOfPrescription(one));
  });

  it('is kept in a prescription, and refused where it is no grid', () => {
    const kept = checkPrescription(JSON.parse(JSON.stringify(plan)));
    expect(kept.recovery!.path!.places).toEqual(GRID);
    const withPlaces = (places: typeof GRID) => ({
      ...plan,
      recovery: { ...plan.recovery!, path: { ...plan.recovery!.path!, places } },
    });
    expect(() => checkPrescription(withPlaces(GRID.slice(0, 3)))).toThrow(/grid/);
    expect(() => checkPrescription(withPlaces([GRID[1], GRID[0], GRID[2], GRID[3]]))).toThrow(/grid/);
    expect(() => checkPrescription(withPlaces([{ ...GRID[0], side: 4 }, ...GRID.slice(1)]))).toThrow(/odd side/);
    expect(() => checkPrescription(withPlaces(GRID.slice(0, 1)))).toThrow();
    for (const values of [GRID[0].values.map(() => -1), GRID[0].values.map(() => '1'), 'many', undefined, [NaN]]) {
      const broken = [{ ...GRID[0], values } as unknown as (typeof GRID)[number], ...GRID.slice(1)];
      expect(() => checkPrescription(withPlaces(broken))).toThrow(/places\[0\]/);
    }
  });

  it('of a part of the frame stands where the frame has it', () => {
    const moved = movedReading(reading, 1000, 20);
    expect(moved.cause!.path!.places!.map(({ x, y }) => [x, y])).toEqual(GRID.map(({ x, y }) => [x + 1000, y + 20]));
    expect(movedReading({ ...reading, cause: null }, 5, 5).cause).toBeNull();
  });
});

describe('a photograph of a camera that turned', () => {
  const side = 720;
  const border = 24;
  const sharp = deadLeaves(side + 2 * border, side + 2 * border, 17, 7);
  let photograph: Plane;

  beforeAll(() => {
    photograph = exposed(blurredTurning([sharp], TURNING_MOMENTS, border), [{ a: 0, b: 1e-5 }], seededRandom(4))[0];
  });

  it('shows that its places saw different paths; one of a camera that only moved does not', () => {
    const clipped = new Uint8Array(side * side);
    const curve = Float64Array.from({ length: 2 * CONTROLS }, (_, i) => {
      const t = (2 * (i >> 1) - CONTROLS + 1) / (CONTROLS - 3);
      return i % 2 === 0 ? 4 * t : 3 * Math.cos(2 * t);
    });
    const options = { logFloor: Math.log(1e-5), floorSpread: 0.7 };
    const differ = (plane: Plane) =>
      placesDiffer(turnPlaces(plane, filledPlane(side, side, 1), clipped, 0.5), options, curve, kernels);
    expect(differ(photograph)).toBe(true);
    const still = blurredTurning(
      [sharp],
      TURNING_MOMENTS.map((moment) => ({ ...moment, angle: 0 })),
      border,
    );
    expect(differ(exposed(still, [{ a: 0, b: 1e-5 }], seededRandom(4))[0])).toBe(false);
    expect(placesDiffer([], options, curve, kernels)).toBe(false);
  });

  it('is asked about only over a wide area with enough to measure', () => {
    const clipped = new Uint8Array(side * side);
    expect(turnPlaces(photograph, filledPlane(side, side, 1), clipped, 0.5)).toHaveLength(9);
    const few = createPlane(side, side);
    for (let y = 0; y < 300; y++) few.data.fill(1, y * side, y * side + 300);
    expect(turnPlaces(photograph, few, clipped, 0.5)).toEqual([]);
    const small = inner(photograph, 100);
    expect(turnPlaces(small, filledPlane(520, 520, 1), new Uint8Array(520 * 520), 0.5)).toEqual([]);
  });
});
