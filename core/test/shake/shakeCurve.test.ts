import { describe, expect, it } from 'vitest';
import { fastKernels as kernels } from '../fastKernels';
import {
  blurred,
  cropPlane,
  filledPlane,
  mirrored,
  normalisedPsf,
  PLAIN_KERNELS,
  pointsOf,
  psfOfCurve,
  seededRandom,
  transferAt,
  wanderingCurve,
  type PathCurve,
  type Psf,
} from '../../src';
import { carriedAt, CONTROLS, POINTS, turnedBy } from '../../src/psf/pathCurve';
import { COORDINATES, UNKNOWNS } from '../../src/spectrum/curveSums';
import { edgeCostOn } from '../../src/shake/edgeCost';
import { pathPyramid } from '../../src/shake/estimatePath';
import { fitCurve } from '../../src/shake/fitCurve';
import { searchCurve } from '../../src/shake/searchCurve';
import { logGainOfPsf } from '../../src/spectrum/psfGain';
import { samplesOf, samplesUpTo, sharpestOf, type SpectrumSamples } from '../../src/spectrum/spectralFit';
import { deadLeaves, withNoise } from '../synthetic';

const SIDE = 128;
const OPTIONS = { logFloor: Math.log(1e-6), floorSpread: 0.7 };
const PARAMETERS = Float64Array.from([-8, 2.1, 0.1, -0.05, 0, 0.1, Math.log(1e-6)]);

/** The spectrum that a path makes of a picture whose power falls as the parameters say, without any scatter. */
function spectrumUnder(path: Psf): SpectrumSamples {
  const flat = samplesOf({ side: SIDE, windows: 1, power: new Float64Array(SIDE * SIDE).fill(1) }, 0.5, 1);
  const gain = logGainOfPsf(path, flat);
  const base = sharpestOf(flat);
  const logPower = flat.f.map((_, i) => {
    let logSignal = base[i] + gain[i];
    for (let j = 0; j < 6; j++) logSignal += PARAMETERS[j] * flat.basis[j][i];
    return Math.log(Math.exp(logSignal) + Math.exp(PARAMETERS[6]));
  });
  return { ...flat, logPower };
}

const asOnePlace = (samples: SpectrumSamples) => [{ samples, carried: carriedAt({ x: 0, y: 0 }) }];

/** Largest cosine between two paths over whole shifts. */
function likeness(a: Psf, b: Psf): number {
  const at = ({ width, data }: Psf, x: number, y: number) => {
    const [column, row] = [x + (width - 1) / 2, y + (width - 1) / 2];
    return column < 0 || row < 0 || column >= width || row >= width ? 0 : data[row * width + column];
  };
  const size = ({ data }: Psf) => Math.sqrt(data.reduce((sum, value) => sum + value * value, 0));
  let most = 0;
  for (let dy = -3; dy <= 3; dy++) {
    for (let dx = -3; dx <= 3; dx++) {
      let sum = 0;
      for (let y = -24; y <= 24; y++) for (let x = -24; x <= 24; x++) sum += at(a, x, y) * at(b, x + dx, y + dy);
      most = Math.max(most, sum);
    }
  }
  return most / (size(a) * size(b));
}

const turnedRound = (path: Psf) => normalisedPsf(path.width, path.height, [...path.data].reverse());

describe('the curve of a shake', () => {
  it('with controls in a straight, even row has points in one', () => {
    const curve = Float64Array.from({ length: COORDINATES }, (_, i) => (i % 2 ? -1 : 2) * Math.floor(i / 2));
    const { x, y } = pointsOf(curve);
    for (let k = 1; k < POINTS; k++) {
      expect(x[k] - x[k - 1]).toBeCloseTo((2 * (CONTROLS - 3)) / POINTS, 9);
      expect(y[k]).toBeCloseTo(-x[k] / 2, 9);
    }
  });

  it('is drawn with its centroid in the middle and a sum of one; turned round it has the same power', () => {
    const curve = wanderingCurve(seededRandom(3), 14);
    const { width, height, data } = psfOfCurve(curve);
    const at = (weight: (i: number) => number) => data.reduce((sum, value, i) => sum + value * weight(i), 0);
    expect(at(() => 1)).toBeCloseTo(1, 5);
    expect(at((i) => i % width)).toBeCloseTo((width - 1) / 2, 3);
    expect(at((i) => Math.floor(i / width))).toBeCloseTo((height - 1) / 2, 3);
    const power = (psf: Psf) => {
      const { re, im } = transferAt(psf, 0.13, -0.21);
      return re * re + im * im;
    };
    expect(power(psfOfCurve(mirrored(curve)))).toBeCloseTo(power(psfOfCurve(curve)), 5);
  });

  it('wanders within the box asked for', () => {
    for (const seed of [1, 2, 3]) {
      const { x, y } = pointsOf(wanderingCurve(seededRandom(seed), 20));
      const extent = (values: Float64Array) => Math.max(...values) - Math.min(...values);
      expect(Math.max(extent(x), extent(y))).toBeCloseTo(20, 9);
    }
  });
});

describe('sums of a curve', () => {
  const samples = samplesUpTo(spectrumUnder(psfOfCurve(wanderingCurve(seededRandom(5), 12))), 0.4, 7);
  const curve = wanderingCurve(seededRandom(6), 12);

  it('have the slope of the cost on their right side', () => {
    const { right } = PLAIN_KERNELS.curveSums(samples, curve, PARAMETERS, true);
    const costOf = (moved: PathCurve, parameters: Float64Array) =>
      PLAIN_KERNELS.curveSums(samples, moved, parameters, false).cost;
    const STEP = 1e-4;
    for (let i = 0; i < UNKNOWNS; i++) {
      const stepped = (by: number) => {
        const moved = curve.slice();
        const parameters = PARAMETERS.slice();
        if (i < COORDINATES) moved[i] += by;
        else parameters[i - COORDINATES] += by;
        return costOf(moved, parameters);
      };
      const slope = (stepped(STEP) - stepped(-STEP)) / (2 * STEP);
      expect(Math.abs(slope + right[i])).toBeLessThan(1e-3 * Math.max(1, Math.abs(slope)));
    }
  });
});

describe('a curve fitted to a spectrum', () => {
  const truth = wanderingCurve(seededRandom(11), 14);
  const samples = spectrumUnder(psfOfCurve(truth));

  it('goes back to the truth from near it', () => {
    const random = seededRandom(2);
    const curve = truth.map((value) => value + 0.8 * random.normal());
    const start = { curve, turn: null, parameters: [PARAMETERS] };
    const fit = fitCurve(asOnePlace(samplesUpTo(samples, 0.5, 3)), OPTIONS, start, 25, kernels);
    expect(likeness(psfOfCurve(fit.curve), psfOfCurve(truth))).toBeGreaterThan(0.97);
    expect(fit.turn).toBeNull();
    expect(Math.exp(fit.parameters[0][6])).toBeGreaterThan(0.5e-6);
    expect(Math.exp(fit.parameters[0][6])).toBeLessThan(2e-6);
  });

  it('tells a turn of the camera from the spectra of several places', () => {
    const turn = 3;
    const corners = [
      { x: 0, y: 0 },
      { x: 0.7, y: -0.7 },
      { x: -0.7, y: 0.7 },
      { x: 0.7, y: 0.7 },
    ];
    const places = corners.map((away) => {
      const carried = carriedAt(away);
      return { samples: samplesUpTo(spectrumUnder(psfOfCurve(turnedBy(truth, turn, carried))), 0.5, 9), carried };
    });
    const random = seededRandom(2);
    const curve = truth.map((value) => value + 0.5 * random.normal());
    const parameters = places.map(() => PARAMETERS);
    const turning = fitCurve(places, OPTIONS, { curve, turn: 2, parameters }, 30, kernels);
    expect(turning.turn).toBeGreaterThan(2.7);
    expect(turning.turn).toBeLessThan(3.3);
    for (const { carried } of places) {
      const [found, true_] = [turnedBy(turning.curve, turning.turn!, carried), turnedBy(truth, turn, carried)];
      expect(likeness(psfOfCurve(found), psfOfCurve(true_))).toBeGreaterThan(0.95);
    }
    const still = fitCurve(places, OPTIONS, { curve, turn: null, parameters }, 30, kernels);
    expect(turning.cost).toBeLessThan(0.5 * still.cost);
  });

  it('a place is carried at right angles to where it lies, before the middle of the time one way and after it the other', () => {
    const carried = carriedAt({ x: 1, y: 0 });
    expect(carried.filter((_, i) => i % 2 === 0).every((value) => Math.abs(value) === 0)).toBe(true);
    const down = carried.filter((_, i) => i % 2 === 1);
    down.forEach((value, j) => expect(value).toBeCloseTo(-down[CONTROLS - 1 - j], 12));
    // The points at the ends of the exposure, not the controls beyond them, are carried by 1 px.
    const { y } = pointsOf(carried);
    expect(y[POINTS - 1]).toBeGreaterThan(0.98);
    expect(y[POINTS - 1]).toBeLessThan(1);
  });

  it('is found from afar, and its direction by the picture', () => {
    const scene = deadLeaves(300, 260, 21, 6);
    const path = psfOfCurve(truth);
    const photograph = withNoise(blurred([scene], path, 20)[0], 0.002, 3);
    const piece = cropPlane(photograph, { x: 0, y: 0, width: 240, height: 210 });
    const [level] = pathPyramid(piece, filledPlane(240, 210, 1), 23);
    const edgeCost = edgeCostOn(level, 1, kernels);
    expect(edgeCost(truth)).toBeLessThan(0.97 * edgeCost(mirrored(truth)));
    expect(edgeCost(truth.map((value) => 30 * value))).toBe(Infinity);
    const found = psfOfCurve(searchCurve(asOnePlace(samples), OPTIONS, edgeCost, edgeCost, kernels).curve);
    expect(likeness(found, path)).toBeGreaterThan(0.93);
    expect(likeness(found, turnedRound(path))).toBeLessThan(likeness(found, path));
  });
});
