import { describe, expect, it } from 'vitest';
import {
  blurred,
  filledPlane,
  logGainOfPsf,
  normalisedPsf,
  pathPsf,
  PLAIN_KERNELS,
  seededRandom,
  shakePath,
  type Plane,
  type Psf,
} from '../../src';
import { localSpectra, mergeSpectra } from '../../src/spectrum/powerSpectrum';
import { fitSpectrum, samplesOf } from '../../src/spectrum/spectralFit';
import { matchSpectrum } from '../../src/shake/matchSpectrum';
import { pathAtSide, pathPyramid } from '../../src/shake/estimatePath';
import { cleanPath, withoutSpecks } from '../../src/shake/cleanPath';
import { inSquare, likenessOf, spreadOf } from '../../src/shake/pathLikeness';
import { richestPieces } from '../../src/shake/richestPieces';
import { samplesIn, squareAround } from '../../src/shake/turnPlaces';
import { deadLeaves } from '../synthetic';

const all = ({ width, height }: Plane) => filledPlane(width, height, 1);

describe('the richest pieces', () => {
  it('lie where the edges are, and two do not crowd', () => {
    const picture = filledPlane(1400, 900, 0.3);
    const busy = deadLeaves(300, 300, 4, 6);
    const put = (left: number, top: number) => {
      for (let y = 0; y < 300; y++) {
        for (let x = 0; x < 300; x++) picture.data[(top + y) * 1400 + left + x] = busy.data[y * 300 + x];
      }
    };
    put(60, 80);
    put(1000, 520);
    const pieces = richestPieces(picture, all(picture), 2);
    expect(pieces).toHaveLength(2);
    const holds = (x: number, y: number) =>
      pieces.some((piece) => x > piece.x && x < piece.x + piece.width && y > piece.y && y < piece.y + piece.height);
    expect(holds(210, 230)).toBe(true);
    expect(holds(1150, 670)).toBe(true);
  });

  it('stay on the subject and inside the picture; a picture too small has none', () => {
    const picture = deadLeaves(1000, 600, 5, 8);
    const use = filledPlane(1000, 600, 0);
    for (let y = 0; y < 600; y++) use.data.fill(1, y * 1000 + 500, y * 1000 + 1000);
    for (const piece of richestPieces(picture, use, 2)) {
      expect(piece.x + piece.width).toBeGreaterThan(560);
      expect(piece.x + piece.width).toBeLessThanOrEqual(1000);
      expect(piece.y + piece.height).toBeLessThanOrEqual(600);
    }
    expect(richestPieces(deadLeaves(120, 400, 1), filledPlane(120, 400, 1), 2)).toEqual([]);
    expect(richestPieces(picture, filledPlane(1000, 600, 0), 2)).toEqual([]);
  });
});

describe('the pyramid of a piece', () => {
  it('shrinks by √2 down to where the longest path is a point, all levels of one contrast', () => {
    const piece = deadLeaves(200, 160, 6, 5);
    const levels = pathPyramid(piece, all(piece), 23);
    expect(levels).toHaveLength(7);
    levels.forEach(({ piece: { width }, use }, level) => {
      expect(Math.abs(width - 200 / Math.SQRT2 ** level)).toBeLessThanOrEqual(0.5);
      expect(use.width).toBe(width);
    });
    const { data } = levels[0].piece;
    const mean = data.reduce((sum, value) => sum + value, 0) / data.length;
    const deviation = Math.sqrt(data.reduce((sum, value) => sum + (value - mean) ** 2, 0) / data.length);
    expect(deviation).toBeCloseTo(0.2, 4);
  });
});

describe('few edges', () => {
  it('of a flat picture with an edge is that picture, whatever the price', () => {
    const step = filledPlane(64, 60, 0.2);
    for (let i = 0; i < step.data.length; i++) if (i % 64 >= 16 && i % 64 < 48) step.data[i] = 0.7;
    const point = normalisedPsf(1, 1, [1]);
    const { data } = PLAIN_KERNELS.fewEdges(step, point, 1e-3);
    data.forEach((value, i) => expect(Math.abs(value - step.data[i])).toBeLessThan(0.01));
  });

  it('takes ripple away and leaves the edge', () => {
    const rippled = filledPlane(64, 60, 0);
    for (let i = 0; i < rippled.data.length; i++) {
      rippled.data[i] = (i % 64 >= 16 && i % 64 < 48 ? 0.7 : 0.2) + (i % 2 ? 0.01 : -0.01);
    }
    const { data } = PLAIN_KERNELS.fewEdges(rippled, normalisedPsf(1, 1, [1]), 3e-3);
    const row = [...data.slice(20 * 64, 21 * 64)];
    expect(Math.max(...row.slice(20, 44)) - Math.min(...row.slice(20, 44))).toBeLessThan(0.01);
    expect(row[32] - row[4]).toBeGreaterThan(0.45);
  });
});

describe('bending a path towards the spectrum', () => {
  const border = 24;
  const scene = deadLeaves(512 + 2 * border, 384 + 2 * border, 31, 3);
  const path = pathPsf(shakePath(seededRandom(12), 14));
  const [picture] = blurred([scene], path, border);
  const spectra = localSpectra(picture, all(picture), new Uint8Array(picture.data.length));
  const samples = samplesOf(mergeSpectra(spectra), 0.5, 1);
  const options = { logFloor: Math.log(1e-7), floorSpread: 0.7 };
  const costOf = (psf: Psf) => fitSpectrum(samples, logGainOfPsf(psf, samples), options, 8).cost;

  it('never makes the fit worse, and keeps the sum', () => {
    const side = path.width;
    for (const start of [path, pathAtSide(normalisedPsf(3, 3, new Float32Array(9).fill(1)), side)]) {
      const bent = matchSpectrum(start, samples, options, PLAIN_KERNELS);
      expect(costOf(bent)).toBeLessThanOrEqual(costOf(start) + 1e-3);
      expect(bent.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 4);
      expect(Math.min(...bent.data)).toBeGreaterThanOrEqual(0);
    }
  });

  it('mends a path that is nearly right', () => {
    const random = seededRandom(3);
    const spoilt = normalisedPsf(
      path.width,
      path.height,
      path.data.map((value) => value * (0.4 + 1.2 * random.uniform())),
    );
    const distance = (psf: Psf) => Math.sqrt(psf.data.reduce((sum, value, i) => sum + (value - path.data[i]) ** 2, 0));
    expect(distance(matchSpectrum(spoilt, samples, options, PLAIN_KERNELS))).toBeLessThan(distance(spoilt));
  });
});

describe('paths held beside each other', () => {
  const corner = pathPsf([
    { x: -4, y: 0 },
    { x: 0, y: 0 },
    { x: 0, y: 3 },
  ]);

  it('are alike wherever they lie, up to 4 px, and in squares of any side', () => {
    const moved = pathPsf([
      { x: -1, y: -2 },
      { x: 3, y: -2 },
      { x: 3, y: 1 },
    ]);
    const side = 15;
    expect(likenessOf(inSquare(corner, side), inSquare(moved, side))).toBeCloseTo(1, 5);
    const line = pathPsf([
      { x: -4, y: 0 },
      { x: 0, y: 0 },
      { x: 4, y: 0 },
    ]);
    expect(likenessOf(inSquare(corner, side), inSquare(line, side))).toBeCloseTo(2 / 3, 5);
  });

  it('are as wide as the root of their mean squared distance from the middle says', () => {
    const pair = pathPsf([
      { x: -3, y: 0 },
      { x: 3, y: 0 },
    ]);
    expect(spreadOf(pair)).toBeCloseTo(3, 5);
    expect(spreadOf(inSquare(pair, 21))).toBeCloseTo(3, 5);
  });

  it('lose their specks; cleaned they lie in the middle, or as they lay', () => {
    const raw = filledPlane(11, 11, 0);
    for (let x = 6; x < 11; x++) raw.data[2 * 11 + x] = 1;
    raw.data[9 * 11 + 1] = 0.3;
    const laid = withoutSpecks(raw, 0.03);
    expect(laid.data[9 * 11 + 1]).toBe(0);
    expect(laid.data[2 * 11 + 8]).toBeCloseTo(0.2, 6);
    expect(cleanPath(raw, 0.03).data[5 * 11 + 5]).toBeCloseTo(0.2, 6);
    expect(withoutSpecks(filledPlane(5, 5, 0), 0.03).data[12]).toBe(1);
  });
});

describe('a square round a place', () => {
  it('lies about it, moved in from the ends, cut where the plane is smaller', () => {
    const plane = filledPlane(300, 100, 0);
    expect(squareAround(plane, 150, 50, 60)).toEqual({ x: 120, y: 20, width: 60, height: 60 });
    expect(squareAround(plane, 5, 98, 60)).toEqual({ x: 0, y: 40, width: 60, height: 60 });
    expect(squareAround(plane, 290, 50, 140)).toEqual({ x: 160, y: 0, width: 140, height: 100 });
  });

  it('has a spectrum of its own where enough of it may be used, and none where light is clipped', () => {
    const picture = deadLeaves(300, 300, 9, 6);
    const part = { x: 100, y: 100, width: 140, height: 140 };
    const clipped = new Uint8Array(300 * 300);
    const samples = samplesIn(part, picture, all(picture), clipped, 0.3)!;
    expect(samples.side).toBe(128);
    expect(Math.max(...samples.f)).toBeLessThanOrEqual(0.3);
    expect(samplesIn(part, picture, filledPlane(300, 300, 0), clipped, 0.3)).toBeNull();
    expect(samplesIn(part, picture, all(picture), clipped.fill(1), 0.3)).toBeNull();
  });
});
