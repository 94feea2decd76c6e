import { beforeAll, describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  acceptReading,
  automaticRecovery,
  blurredTurning,
  emptyPrescription,
  exposed,
  fieldOf,
  filledPlane,
  FINAL_EFFORT,
  inner,
  normalisedPsf,
  psfOfTurning,
  recover,
  recoverOverField,
  seededRandom,
  recoverySettingsOf,
  takeReading,
  type Plane,
  type Psf,
  type Reading,
  type RecoveryInput,
} from '../../src';
import { inSquare, likenessOf } from '../../src/shake/pathLikeness';
import { deadLeaves, TURNING_MOMENTS } from '../synthetic';

const likeness = (a: Psf, b: Psf) => {
  const side = Math.max(a.width, b.width);
  return likenessOf(inSquare(a, side), inSquare(b, side));
};

describe('a wide photograph of a camera that turned', () => {
  const [WIDTH, HEIGHT, BORDER] = [720, 300, 24];
  const sharp = deadLeaves(WIDTH + 2 * BORDER, HEIGHT + 2 * BORDER, 17, 7);
  const truth = inner(sharp, BORDER);
  let photograph: Plane;
  let read: Reading;

  beforeAll(() => {
    photograph = exposed(blurredTurning([sharp], TURNING_MOMENTS, BORDER), [{ a: 0, b: 1e-5 }], seededRandom(4))[0];
    read = takeReading({
      channels: [photograph],
      lumaWeights: [1],
      use: filledPlane(WIDTH, HEIGHT, 1),
      clipped: new Uint8Array(WIDTH * HEIGHT),
      jpeg: false,
      kernels,
    });
  });

  it('is read as a shake whose path changes over the frame as it did', () => {
    expect(read.cause?.method).toBe('camera-shake');
    const places = read.cause!.path!.places!;
    expect(places.length).toBeGreaterThanOrEqual(4);
    const main = normalisedPsf(read.cause!.path!.side, read.cause!.path!.side, read.cause!.path!.values);
    const likenesses = places.map((place) => {
      const truePath = psfOfTurning(TURNING_MOMENTS, place.x - WIDTH / 2, place.y - HEIGHT / 2);
      return [likeness(normalisedPsf(place.side, place.side, place.values), truePath), likeness(main, truePath)];
    });
    const mean = (which: number) => likenesses.reduce((sum, pair) => sum + pair[which], 0) / places.length;
    expect(mean(0)).toBeGreaterThan(0.8);
    expect(mean(0)).toBeGreaterThan(mean(1) + 0.04);
  });

  it('comes out better by place than along one path', () => {
    const accepted = acceptReading(read, { kind: 'mask', key: '' });
    const recovery = { ...automaticRecovery('camera-shake', accepted, 100), trialId: null };
    const plan = { ...emptyPrescription(), reading: accepted, recovery };
    const settings = recoverySettingsOf(plan)!;
    const input: RecoveryInput = {
      channels: [photograph],
      lumaWeights: [1],
      known: filledPlane(WIDTH, HEIGHT, 1),
      clipped: new Uint8Array(WIDTH * HEIGHT),
      originX: 0,
      originY: 0,
    };
    const whole = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
    const errorOf = (field: ReturnType<typeof fieldOf>) => {
      const { answer } = recoverOverField(input, settings, field, whole, { ...FINAL_EFFORT, kernels }, recover);
      // Away from where one path is right: the middle tells least.
      let sum = 0;
      for (let y = 40; y < HEIGHT - 40; y++) {
        for (let x = 40; x < 200; x++) sum += (answer[0].data[y * WIDTH + x] - truth.data[y * WIDTH + x]) ** 2;
      }
      return sum;
    };
    expect(errorOf(fieldOf(plan, settings))).toBeLessThan(0.8 * errorOf(null));
  });
});
