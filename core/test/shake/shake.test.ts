import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  createPlane,
  gaussianBlur,
  acceptReading,
  automaticRecovery,
  blurred,
  createComplex,
  checkPrescription,
  emptyPrescription,
  estimatePath,
  exposed,
  filledPlane,
  FINAL_EFFORT,
  linePsf,
  logGainOfPsf,
  normalisedPsf,
  pathPsf,
  planeOf,
  psfOfPath,
  recover,
  seededRandom,
  shakePath,
  storePath,
  takeReading,
  transferAt,
  type Plane,
  type Psf,
} from '../../src';
import { arcLength } from '../../src/psf/arcLength';
import { cleanPath } from '../../src/shake/cleanPath';
import { findCause } from '../../src/spectrum/cause';
import { localSpectra } from '../../src/spectrum/powerSpectrum';
import { mendPath } from '../../src/shake/mendPath';
import { pathError, readShake } from '../../src/shake/readShake';
import { samplesOf, samplesUpTo } from '../../src/spectrum/spectralFit';
import { pathPyramid } from '../../src/shake/estimatePath';
import { resized } from '../../src/picture/resized';
import { extended } from '../../src/shake/pyramid';
import { solvePath } from '../../src/shake/solvePath';
import { convolve, deadLeaves } from '../synthetic';

/** Largest normalised correlation over shifts of up to 4 px. */
function likeness(a: Psf, b: Psf): number {
  const at = (psf: Psf, x: number, y: number) => {
    const column = x + (psf.width - 1) / 2;
    const row = y + (psf.height - 1) / 2;
    const outside = column < 0 || row < 0 || column >= psf.width || row >= psf.height;
    return outside ? 0 : psf.data[row * psf.width + column];
  };
  const norm = (psf: Psf) => Math.sqrt(psf.data.reduce((sum, value) => sum + value * value, 0));
  let best = 0;
  for (let dy = -4; dy <= 4; dy++) {
    for (let dx = -4; dx <= 4; dx++) {
      let sum = 0;
      for (let y = -20; y <= 20; y++) for (let x = -20; x <= 20; x++) sum += at(a, x, y) * at(b, x + dx, y + dy);
      best = Math.max(best, sum);
    }
  }
  return best / (norm(a) * norm(b));
}

const asPath = ({ width, height, data }: Plane) => normalisedPsf(width, height, data);

const BORDER = 20;
const scene = deadLeaves(300 + 2 * BORDER, 240 + 2 * BORDER, 21, 6);
const truePath = pathPsf(shakePath(seededRandom(4), 12));
const shaken = exposed(blurred([scene], truePath, BORDER), [{ a: 1e-5, b: 2e-6 }], seededRandom(8))[0];

const readingOf = (plane: typeof shaken) =>
  takeReading({
    channels: [plane],
    lumaWeights: [1],
    use: filledPlane(plane.width, plane.height, 1),
    clipped: new Uint8Array(plane.data.length),
    jpeg: false,
    kernels,
  });

describe('camera shake', () => {
  it('the path is found with nothing told', () => {
    const pyramid = pathPyramid(shaken, filledPlane(shaken.width, shaken.height, 1), 23);
    const path = estimatePath(pyramid, { side: 23, edgePrice: 1e-3, priceFall: 1.4 }, kernels);
    expect(likeness(path, truePath)).toBeGreaterThan(0.75);
    expect(path.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
  });

  it('is solved from the sharp picture and the blurred one', () => {
    const sides = [240, 200] as const;
    const picture = deadLeaves(...sides, 7);
    const gradients = (plane: Plane) => {
      const differences = createComplex(plane.width, plane.height);
      const { data } = plane;
      for (let i = 0; i < data.length - plane.width; i++) {
        differences.re[i] = data[i + 1] - data[i];
        differences.im[i] = data[i + plane.width] - data[i];
      }
      kernels.fft2d(differences);
      return differences;
    };
    const start = normalisedPsf(15, 15, new Float32Array(225).fill(1));
    const drawnTo = (towards: Psf | null, share: number) =>
      solvePath(gradients(picture), gradients(convolve(picture, truePath)), start, { towards, share }, kernels);
    expect(likeness(asPath(drawnTo(null, 0.01)), truePath)).toBeGreaterThan(0.95);
    // What is drawn strongly enough to something else follows that.
    const corner = normalisedPsf(15, 15, new Float32Array(225).fill(0).fill(1, 0, 1));
    expect(drawnTo(corner, 1e3).data[0]).toBeGreaterThan(0.9);
  });

  it('its transform is the direct sum at every frequency of the fit', () => {
    const side = 64;
    const samples = samplesOf({ side, windows: 1, power: new Float64Array(side * side).fill(1) }, 0.5, 97);
    const gain = logGainOfPsf(truePath, samples);
    gain.forEach((value, i) => {
      const { re, im } = transferAt(truePath, samples.fx[i], samples.fy[i]);
      expect(value).toBeCloseTo(Math.log(re * re + im * im + 3e-4), 4);
    });
    const low = samplesUpTo(samples, 0.2);
    expect(low.count).toBeLessThan(samples.count);
    expect(Math.max(...low.f)).toBeLessThanOrEqual(0.2);
  });

  it('known roughly is mended by the picture, inside the mask alone', () => {
    const [level] = pathPyramid(shaken, filledPlane(shaken.width, shaken.height, 1), 23);
    const side = truePath.width + 4;
    const room = createPlane(side, side);
    truePath.data.forEach((value, i) => {
      room.data[(Math.floor(i / truePath.width) + 2) * side + (i % truePath.width) + 2] = value;
    });
    const rough = asPath(gaussianBlur(room, 1.2));
    const before = likeness(rough, truePath);
    expect(likeness(mendPath(level, rough, kernels), truePath)).toBeGreaterThan(before + 0.05);
    // Of a subject that ends in the piece, beside black, too.
    const half = (value: (i: number) => number) => ({
      ...level.piece,
      data: level.piece.data.map((_, i) => (i % level.piece.width < 200 ? value(i) : 0)),
    });
    const use = half(() => 1);
    const besides = { piece: half((i) => level.piece.data[i]), use };
    expect(likeness(mendPath(besides, rough, kernels), truePath)).toBeGreaterThan(before + 0.02);
    // One narrower than the path tells nothing.
    const narrow = { ...level, use: { ...use, data: use.data.map((_, i) => (i % use.width < 10 ? 1 : 0)) } };
    expect([...mendPath(narrow, rough, kernels).data]).toEqual([...rough.data]);
  });

  it('that is found tells how well the picture and its spectrum agree on it', () => {
    const use = filledPlane(shaken.width, shaken.height, 1);
    const merged = findCause(localSpectra(shaken, use, new Uint8Array(shaken.data.length)), 3e-6, false).merged;
    const found = readShake(shaken, use, new Uint8Array(shaken.data.length), merged, kernels)!;
    expect(found.agreement).toBeGreaterThan(0.85);
    expect(found.agreement).toBeLessThanOrEqual(1);
    expect(likeness(found.path, truePath)).toBeGreaterThan(0.85);
    // A path on which they do not agree counts as a noisier one.
    expect(pathError({ ...found, agreement: 0.98 })).toBe(pathError({ ...found, agreement: 0.95 }));
    expect(pathError({ ...found, agreement: 0.7 }) / pathError({ ...found, agreement: 0.94 })).toBeCloseTo(25, 6);
  });

  it('a reading names it, with a path that a prescription keeps', () => {
    const reading = readingOf(shaken);
    expect(reading.cause?.method).toBe('camera-shake');
    const accepted = acceptReading(reading, { kind: 'mask', key: '' });
    const recovery = { ...automaticRecovery('camera-shake', accepted, 100), trialId: null };
    const prescription = { ...emptyPrescription(), reading: accepted, recovery };
    const kept = checkPrescription(JSON.parse(JSON.stringify(prescription)));
    expect(kept.recovery?.path).toEqual(reading.cause?.path);
    const broken = { ...prescription, recovery: { ...recovery, path: { ...recovery.path!, side: 4 } } };
    expect(() => checkPrescription(broken)).toThrow(/odd side/);
  });

  it('is believed less beside clipped light than beside light as strong', () => {
    const light = filledPlane(96, 96, 0.1);
    const isWhite = new Uint8Array(light.data.length);
    for (let y = 40; y < 56; y++) for (let x = 40; x < 56; x++) light.data[y * 96 + x] = 1;
    for (let i = 0; i < isWhite.length; i++) if (light.data[i] === 1) isWhite[i] = 1;
    const believed = (clipped: Uint8Array) => {
      const input = {
        channels: [light],
        lumaWeights: [1],
        known: filledPlane(96, 96, 1),
        clipped,
        originX: 0,
        originY: 0,
      };
      const path = storePath(truePath);
      const settings = {
        ...{ method: 'camera-shake' as const, blurSizePx: path.lengthPx, directionDeg: 0, path },
        ...{
          noiseGuard: 50,
          haloLimitPercent: null,
          grainKeptPercent: 0,
          noise: [{ a: 0, b: 1e-6 }],
          noiseFloor: [1e-6],
        },
      };
      return recover(input, settings, { ...FINAL_EFFORT, kernels }).believed.data[48 * 96 + 60];
    };
    const [beside, plain] = [believed(isWhite), believed(new Uint8Array(isWhite.length))];
    expect(beside).toBeLessThan(0.6 * plain);
    expect(plain).toBeLessThan(1);
  });

  it('a straight movement is not called a shake', () => {
    const moved = exposed(blurred([scene], linePsf(9, 30), BORDER), [{ a: 1e-5, b: 2e-6 }], seededRandom(8))[0];
    expect(readingOf(moved).cause?.method).toBe('straight-movement');
  });
});

describe('paths', () => {
  it('cleaning drops what is negative, faint or apart, and centres the rest', () => {
    const raw = filledPlane(9, 9, 0);
    for (let x = 1; x <= 3; x++) raw.data[2 * 9 + x] = 1;
    raw.data[7 * 9 + 7] = 0.2;
    raw.data[0] = -3;
    raw.data[3 * 9 + 2] = 0.01;
    const path = cleanPath(raw, 0.05);
    expect([...path.data.slice(4 * 9 + 3, 4 * 9 + 6)].every((value) => Math.abs(value - 1 / 3) < 1e-6)).toBe(true);
    expect(path.data.filter((value) => value > 0)).toHaveLength(3);
    expect(cleanPath(filledPlane(5, 5, 0), 0.05).data[12]).toBe(1);
  });

  it('cleaning leaves something of a path that is all specks', () => {
    const specks = planeOf(
      31,
      31,
      Array.from({ length: 961 }, (_, i) => (i % 4 === 0 && Math.floor(i / 31) % 4 === 0 ? 1 : 0)),
    );
    expect(cleanPath(specks, 0.05).data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
  });

  it('length of a line, straight or slanted, within a pixel and a half', () => {
    for (const angle of [0, 30, 45, 90]) {
      const length = arcLength(linePsf(14, angle));
      expect(Math.abs(length - 14)).toBeLessThan(2);
    }
    const corner = filledPlane(15, 15, 0);
    for (let i = 2; i <= 12; i++) corner.data[2 * 15 + i] = corner.data[i * 15 + 12] = 1;
    expect(arcLength(normalisedPsf(15, 15, corner.data))).toBeCloseTo(21, 0);
    // Two places where the camera stood, and a stretch between them too quick to be seen.
    const spots = filledPlane(15, 15, 0);
    spots.data[2 * 15 + 3] = spots.data[10 * 15 + 9] = 1;
    expect(arcLength(normalisedPsf(15, 15, spots.data))).toBeCloseTo(11, 5);
  });

  it('is stored small and comes back as it was; a longer blur size makes it longer', () => {
    const stored = storePath(truePath);
    const back = psfOfPath(stored, stored.lengthPx);
    expect(likeness(back, truePath)).toBeGreaterThan(0.999);
    const longer = storePath(psfOfPath(stored, 1.5 * stored.lengthPx));
    expect(longer.lengthPx / stored.lengthPx).toBeGreaterThan(1.25);
  });

  it('resampling keeps a ramp and its mean; extension meets the opposite edge', () => {
    const ramp = planeOf(
      40,
      30,
      Array.from({ length: 1200 }, (_, i) => (i % 40) / 40),
    );
    const half = resized(ramp, 20, 15);
    for (let x = 3; x < 17; x++) expect(half.data[7 * 20 + x]).toBeCloseTo((2 * x + 0.5) / 40, 2);
    const wide = extended(ramp, 9);
    expect(wide.width).toBeGreaterThanOrEqual(49);
    const last = wide.data[wide.width - 1];
    expect(Math.abs(last - ramp.data[0])).toBeLessThan(0.15);
  });
});
