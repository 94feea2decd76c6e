import { readFile } from 'node:fs/promises';
import { beforeEach, describe, expect, it } from 'vitest';
import {
  blendOver,
  boxMean,
  CodeFinder,
  createComplex,
  demosaic,
  DEMOSAIC_REACH,
  drawnOver,
  encodeChannels,
  filledPlane,
  filteredInStrips,
  gaussianBlur,
  gaussianPsf,
  guidedFilter,
  installedFilters,
  installedSums,
  lit,
  localNoise,
  logLights,
  lookedUp,
  mixes,
  neighbourhoodRange,
  onGrid,
  plainBlendOver,
  plainBoxMean,
  plainCodesOf,
  plainDemosaicTile,
  plainDrawnOver,
  plainGaussianBlur,
  plainGuidedFilter,
  plainLit,
  plainLocalNoise,
  plainLogLight,
  plainLookedUp,
  plainOnGrid,
  plainMixes,
  plainNeighbourhoodRange,
  plainRooted,
  plainSquaredRatio,
  plainSumsAcross,
  plainVarianceByTone,
  PLAIN_KERNELS,
  RGGB,
  rooted,
  seededRandom,
  spansOf,
  squaredRatio,
  srgbDecode,
  tabulate,
  varianceByTone,
  wanderingCurve,
} from '@vitrocept/core';
import { enlargedAxis } from '../../core/src/correct/enlarge';
import { samplesOf, samplesUpTo, sharpestOf } from '../../core/src/spectrum/spectralFit';
import { sumUp } from '../../core/src/spectrum/spectralSums';
import { discPsf } from '../../core/src/psf/discPsf';
import { convolve, deadLeaves, LOPSIDED, withNoise } from '../../core/test/synthetic';
import { createKernels } from '../src';

const kernels = await createKernels(new Uint8Array(await readFile(new URL('../wasm/kernels.wasm', import.meta.url))));

/** Sides with every radix: 4·4·5, 4·3·5, 4·5·5, 2·… */
const SIZES = [
  [80, 60],
  [100, 48],
  [64, 36],
  [20, 120],
] as const;

describe('the WebAssembly kernels and their plain twins', () => {
  // A kernel that reads what it did not write meets this.
  beforeEach(() => {
    const [re, im] = [0, 1].map(() => new Float32Array(240 * 240).fill(NaN));
    kernels.fft2d({ width: 240, height: 240, re, im });
  });

  it.each([0.12, 0.5])('sum up a curve alike up to %f cycles per px', (highest) => {
    const random = seededRandom(4);
    const side = 128;
    const power = Float64Array.from({ length: side * side }, () => 1e-5 * Math.exp(random.normal()));
    const samples = samplesUpTo(samplesOf({ side, windows: 1, power }, 0.5, 1), highest, 5);
    const curve = wanderingCurve(random, 17);
    const parameters = Float64Array.from([-9, 2.1, 0.2, -0.3, 0.1, 0, Math.log(4e-6)]);
    const fast = kernels.curveSums(samples, curve, parameters, true);
    const plain = PLAIN_KERNELS.curveSums(samples, curve, parameters, true);
    expect(fast.cost / plain.cost).toBeCloseTo(1, 5);
    expect(kernels.curveSums(samples, curve, parameters, false)).toMatchObject({ cost: fast.cost, normal: null });
    const most = Math.max(...plain.right.map(Math.abs));
    plain.right.forEach((value, i) => expect(Math.abs(fast.right[i] - value)).toBeLessThan(1e-5 * most));
    const unknowns = plain.right.length;
    for (let i = 0; i < unknowns; i++) {
      for (let j = 0; j <= i; j++) {
        const [a, b] = [fast.normal![i * unknowns + j], plain.normal![i * unknowns + j]];
        const size = Math.sqrt(plain.normal![i * unknowns + i] * plain.normal![j * unknowns + j]);
        expect(Math.abs(a - b)).toBeLessThan(1e-4 * size + 1e-9);
      }
    }
  });

  it.each([0.5, 0.31, 0.2])('sum up a spectrum’s fit alike, whatever its count, up to %f cycles per px', (highest) => {
    const random = seededRandom(8);
    const side = 64;
    const power = Float64Array.from({ length: side * side }, () => 1e-5 * Math.exp(2 * random.normal()));
    const samples = samplesOf({ side, windows: 1, power }, highest, 3);
    const logGain = samples.f.map((f) => Math.log(Math.sin(9 * f) ** 2 + 3e-4));
    const { count } = samples;
    const pitch = 4 * Math.ceil(count / 4);
    // What lies behind the last counts for nothing.
    const columns = new Float32Array(7 * pitch).fill(7);
    const all = [...samples.basis.slice(1), sharpestOf(samples), samples.logPower];
    all.forEach((column, k) => columns.set(column, k * pitch));
    const sumsAt = installedSums()!({ count, pitch, columns }, logGain);
    for (const parameters of [
      [-9, 2.1, 0.2, -0.3, 0.1, 0, Math.log(4e-6)],
      [-14, 1.6, -0.2, 0.3, 0.2, -0.4, -22],
      [60, 2, 0, 0, 0, 0, -9],
    ]) {
      const fast = sumsAt(parameters);
      const plain = sumUp(samples, sharpestOf(samples), logGain, parameters);
      expect(fast.cost / plain.cost).toBeCloseTo(1, 5);
      for (let j = 0; j < 7; j++) {
        const unit = Math.sqrt(plain.normal[8 * j]);
        expect(Math.abs(fast.right[j] - plain.right[j])).toBeLessThan(1e-4 * unit * Math.sqrt(plain.cost) + 1e-12);
        for (let k = j; k < 7; k++) {
          const [a, b] = [fast.normal[7 * j + k], plain.normal[7 * j + k]];
          expect(Math.abs(a - b)).toBeLessThan(3e-5 * unit * Math.sqrt(plain.normal[8 * k]) + 1e-12);
        }
      }
    }
  });

  it.each(SIZES)('deconvolve alike on %i × %i', (width, height) => {
    const psf = LOPSIDED;
    const blurred = withNoise(convolve(deadLeaves(width, height, width), psf), 0.01, 3);
    const weight = filledPlane(width, height, 1);
    for (let i = 0; i < weight.data.length; i += 7) weight.data[i] = i % 3 ? 0.4 : 0;
    const clipped = Uint8Array.from(blurred.data, (value) => (value > 0.7 ? 1 : 0));
    const options = { lambda: 1.5e-3, iterations: 15, dataPenalty: 0.3 };
    const full = filledPlane(width, height, 1);
    const second = { ...blurred, data: blurred.data.map((value, i) => 0.5 * value + (i % 5) * 0.01) };
    for (const evidence of [
      { blurred: [blurred], weight: [weight], clipped: [clipped] },
      { blurred: [blurred], weight: [weight], clipped: null },
      { blurred: [blurred, second, second], weight: [weight, full, weight], clipped: [clipped, null, null] },
    ]) {
      const fast = kernels.deconvolve(evidence, psf, options);
      const plain = PLAIN_KERNELS.deconvolve(evidence, psf, options);
      let worst = 0;
      fast.forEach(({ data }, c) =>
        data.forEach((value, i) => {
          worst = Math.max(worst, Math.abs(value - plain[c].data[i]));
        }),
      );
      // A 16-bit code is 1.5e-5; the two differ by the order of their roundings.
      expect(worst).toBeLessThan(1e-4);
    }
  });

  it.each([
    [8, 4],
    [4, 8],
    [12, 8],
  ])('deconvolve alike where a few rows are all there is: %i × %i', (width, height) => {
    const psf = gaussianPsf(0.25);
    const blurred = deadLeaves(width, height, 5);
    const evidence = { blurred: [blurred], weight: [filledPlane(width, height, 0.7)], clipped: null };
    const options = { lambda: 2e-3, iterations: 6, dataPenalty: 0.3 };
    const [fast] = kernels.deconvolve(evidence, psf, options);
    const [plain] = PLAIN_KERNELS.deconvolve(evidence, psf, options);
    fast.data.forEach((value, i) => expect(value).toBeCloseTo(plain.data[i], 4));
    expect(plain.data.some((value, i) => Math.abs(value - blurred.data[i]) > 0.001)).toBe(true);
  });

  it('give the same bits every time, also after a larger picture', () => {
    const psf = discPsf(1.5);
    const blurred = deadLeaves(48, 40, 2);
    const evidence = { blurred: [blurred], weight: [filledPlane(48, 40, 1)], clipped: null };
    const options = { lambda: 1e-3, iterations: 5, dataPenalty: 0.3 };
    const first = kernels.deconvolve(evidence, psf, options);
    const large = { blurred: [deadLeaves(240, 200, 1)], weight: [filledPlane(240, 200, 1)], clipped: null };
    kernels.deconvolve(large, psf, options);
    expect(kernels.deconvolve(evidence, psf, options)).toEqual(first);
  });

  it.each(SIZES)('transform alike on %i × %i, and the inverse undoes it', (width, height) => {
    const values = deadLeaves(width, height, 5).data;
    const [fast, plain] = [kernels, PLAIN_KERNELS].map((kernel) => {
      const plane = createComplex(width, height);
      plane.re.set(values);
      plane.im.set(values.slice().reverse());
      kernel.fft2d(plane);
      return { kernel, plane, spectrum: plane.re.slice() };
    });
    const most = Math.max(...plain.spectrum.map(Math.abs));
    fast.spectrum.forEach((value, i) => expect(Math.abs(value - plain.spectrum[i]) / most).toBeLessThan(1e-5));
    fast.kernel.inverseFft2d(fast.plane);
    fast.plane.re.forEach((value, i) => expect(value).toBeCloseTo(values[i], 5));
  });

  it.each([
    [80, 60],
    [37, 51],
  ])('convolve and correlate alike on %i × %i', (width, height) => {
    const planes = [1, 2, 3].map((seed) => deadLeaves(width, height, seed));
    const psf = LOPSIDED;
    for (const correlates of [false, true]) {
      const fast = kernels.convolve(planes, psf, correlates);
      PLAIN_KERNELS.convolve(planes, psf, correlates).forEach(({ data }, k) => {
        data.forEach((value, i) => expect(Math.abs(fast[k].data[i] - value)).toBeLessThan(2e-6));
      });
    }
  });

  it('convolve as a sum by hand does, and correlate with the point spread function turned round', () => {
    const [width, height] = [50, 31];
    const plane = deadLeaves(width, height, 6);
    const turned = { ...LOPSIDED, data: LOPSIDED.data.slice().reverse() };
    for (const kernel of [kernels, PLAIN_KERNELS]) {
      for (const [correlates, psf] of [
        [false, LOPSIDED],
        [true, turned],
      ] as const) {
        const byHand = convolve(plane, psf);
        const [found] = kernel.convolve([plane], LOPSIDED, correlates);
        // Away from the border, where the two go on in different ways.
        for (let y = 4; y < height - 4; y += 3) {
          for (let x = 5; x < width - 5; x += 3) {
            expect(found.data[y * width + x]).toBeCloseTo(byHand.data[y * width + x], 5);
          }
        }
      }
    }
  });

  it.each(SIZES)('find the same few edges on %i × %i', (width, height) => {
    const blurred = convolve(deadLeaves(width, height, 9), LOPSIDED);
    const fast = kernels.fewEdges(blurred, LOPSIDED, 3e-3).data;
    const plain = PLAIN_KERNELS.fewEdges(blurred, LOPSIDED, 3e-3).data;
    // An edge at the very threshold may be kept by one and not by the other; nearly all samples agree.
    const different = fast.filter((value, i) => Math.abs(value - plain[i]) > 1e-3).length;
    expect(different / fast.length).toBeLessThan(0.02);
    expect(plain.some((value, i) => Math.abs(value - blurred.data[i]) > 0.02)).toBe(true);
  });

  it.each([
    [13, 9],
    [8, 1],
    [33, 20],
  ])('run a network to the bit on %i × %i', (width, height) => {
    const random = seededRandom(width);
    const scattered = (count: number, size: number) =>
      Float32Array.from({ length: count }, () => size * (random.uniform() - 0.5));
    const sides = [8, 12, 12, 12, 4];
    const network = sides.slice(1).map((outputs, i) => {
      return { inputs: sides[i], outputs, weights: scattered(9 * outputs * sides[i], 0.4) };
    });
    const stack = { width, height, channels: 8, data: scattered(8 * width * height, 2) };
    const fast = kernels.runNetwork(stack, network);
    expect(fast).toEqual(PLAIN_KERNELS.runNetwork(stack, network));
    expect(Math.max(...fast.data)).toBeGreaterThan(0.05);
    let asked = 0;
    expect(() => kernels.runNetwork(stack, network, () => ++asked === 3)).toThrow('Stopped.');
    expect(() => kernels.runNetwork(stack, network.slice(1))).toThrow('do not fit');
  });

  it.each([
    [80, 60, 0, 0],
    [61, 45, 1, 3],
    [8, 8, 0, 0],
    [19, 40, -5, 2],
    // More than one band of rows and one run of places; places that fall between the grid's at the far ends.
    [150, 141, 3, 1],
    [24, 200, 0, -7],
    [300, 66, 1, 0],
    [10, 64, 0, 0],
    [10, 65, 0, 1],
  ])('clean alike on %i × %i from (%i, %i)', (width, height, originX, originY) => {
    const noisy = withNoise(deadLeaves(width, height, 4), 0.05, 6);
    const options = { sigma: 0.05, shape: [1, 1, 1, 1, 0.9, 0.9, 0.8, 0.8, 0.7, 0.7, 0.6], originX, originY };
    const fast = kernels.slidingDct(noisy, options).data;
    const plain = PLAIN_KERNELS.slidingDct(noisy, options).data;
    // A coefficient at the very threshold may be kept by one and not by the other.
    const different = fast.filter((value, i) => Math.abs(value - plain[i]) > 1e-4).length;
    expect(different / fast.length).toBeLessThan(0.01);
    expect(plain.some((value, i) => Math.abs(value - noisy.data[i]) > 0.01)).toBe(true);
    const pilot = { ...noisy, data: plain };
    const second = kernels.slidingDct(noisy, { ...options, pilot }).data;
    const plainSecond = PLAIN_KERNELS.slidingDct(noisy, { ...options, pilot }).data;
    expect(Math.max(...second.map((value, i) => Math.abs(value - plainSecond[i])))).toBeLessThan(1e-4);
    expect(plainSecond.some((value, i) => Math.abs(value - plain[i]) > 0.001)).toBe(true);
  });

  it.each([
    [61, 45],
    [4, 3],
    [9, 40],
    [128, 1],
    [100, 64],
  ])('filter to the same bits on %i × %i', (width, height) => {
    const random = seededRandom(width);
    const plane = filledPlane(width, height, 0);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.uniform() ** 3;
    for (const sigma of [0.3, 0.8, 2.2, 7]) {
      expect(gaussianBlur(plane, sigma)).toEqual(plainGaussianBlur(plane, sigma));
    }
    for (const reach of [0, 1, 3, 8, 50]) {
      expect(boxMean(plane, reach)).toEqual(plainBoxMean(plane, reach));
      expect(neighbourhoodRange(plane, reach)).toEqual(plainNeighbourhoodRange(plane, reach));
    }
    const strips = filteredInStrips(plane, 3, (filters, strip) => filters.gaussianBlur(strip, 0.8), 17 * width);
    expect(strips).toEqual(plainGaussianBlur(plane, 0.8));
    expect(localNoise(plane)).toEqual(plainLocalNoise(plane));
    expect(installedFilters(plane)).not.toBeNull();
  });

  it.each([
    [61, 45],
    [4, 3],
    [128, 1],
  ])('calculate to the same bits on %i × %i', (width, height) => {
    const random = seededRandom(width);
    const noise = () => {
      const plane = filledPlane(width, height, 0);
      for (let i = 0; i < plane.data.length; i++) plane.data[i] = 1.2 * random.uniform() - 0.1;
      return plane;
    };
    const [p, q, r, w] = [noise(), noise(), noise(), noise()];
    for (const cover of [
      { width: 31, height: 20, x: 0, y: 0, stepX: width / 31, stepY: height / 20 },
      { width: 90, height: 7, x: width / 2, y: -1, stepX: 0.3, stepY: 0.45 },
    ]) {
      expect(drawnOver(p, cover)).toEqual(plainDrawnOver(p, cover));
    }
    for (const reach of [1, 7]) {
      expect(guidedFilter(p, [q, r, w], reach, 1e-3)).toEqual(plainGuidedFilter(p, [q, r, w], reach, 1e-3));
    }
    const variance = { base: 1e-5, linear: [2e-4, 1e-4, 3e-4], rooted: [1e-6, 0, 2e-6] };
    const small = { ...w, data: w.data.map((value) => 1e-3 * value * value) };
    const luma = [0.2126, 0.7152, 0.0722];
    for (const rows of [[luma], [luma, [0.5, 0, -0.5], [1, -2, 1]]]) {
      expect(mixes([p, q, r], rows)).toEqual(plainMixes([p, q, r], rows));
    }
    expect(lit([p, q, r], w)).toEqual(plainLit([p, q, r], w));
    expect(blendOver(p, q, r, w, 0.35)).toEqual(plainBlendOver(p, q, r, w, 0.35));
    expect(varianceByTone([p, q, r], variance, small, 6)).toEqual(plainVarianceByTone([p, q, r], variance, small, 6));
    for (const less of [q, null]) {
      expect(squaredRatio(p, less, small, small, 0.05)).toEqual(plainSquaredRatio(p, less, small, small, 0.05));
    }
    expect(rooted(p, 0.3, -0.05, 12)).toEqual(plainRooted(p, 0.3, -0.05, 12));
    const table = { low: 0.1, perUnit: 17, values: Float32Array.from({ length: 12 }, (_, i) => i * i) };
    expect(lookedUp(p, table)).toEqual(plainLookedUp(p, table));
    const plain = tabulate(srgbDecode);
    const curves = [plain, plain, tabulate((encoded) => encoded)].map((table) => new CodeFinder(table));
    const edges = [
      p,
      { ...q, data: q.data.map((value, i) => (i % 7 === 0 ? NaN : i % 11 === 0 ? Infinity : 3 * value - 1)) },
      r,
    ];
    expect(encodeChannels(edges, { finders: curves })).toEqual(plainCodesOf(edges, curves));
    const lights = { ...p, data: p.data.map((value) => 4 * value - 1) };
    expect(logLights(lights)).toEqual(plainLogLight(lights));
    expect(installedFilters(p)).not.toBeNull();
  });

  it('make rows of codes shorter to the same bits, by a whole number and not', () => {
    const random = seededRandom(12);
    const codes = Uint16Array.from({ length: 3 * 61 * 20 }, () => Math.floor(65536 * random.uniform()));
    const curved = Float32Array.from({ length: 65536 }, (_, code) => srgbDecode(code / 65535));
    const tables = [curved, curved, curved.map((value) => 0.7 * value)];
    for (const width of [61, 20, 17, 1]) {
      const spans = spansOf(61, width);
      const plain = plainSumsAcross(codes, 61, tables, spans);
      expect(installedFilters({ width: 61, height: 20 })!.sumsAcross(codes, 61, tables, spans)).toEqual(plain);
    }
  });

  it('draw over a finer and a coarser grid alike, solved first and not, at every width modulo four', () => {
    for (const [width, height] of [
      [21, 30],
      [40, 23],
      [34, 35],
    ] as const) {
      const plane = withNoise(deadLeaves(width, height, 5), 0.02, 9);
      for (const [factor, projects] of [
        [1.5, true],
        [2.37, true],
        [1.2, false],
        [0.7, false],
      ] as const) {
        const map = { slope: 1 / factor, offset: 1.3 };
        const across = enlargedAxis(width, Math.round(width * factor), map, projects);
        const down = enlargedAxis(height, Math.round(height * factor) - 3, map, projects);
        expect(onGrid(plane, across, down)).toEqual(plainOnGrid(plane, across, down));
      }
    }
  });

  it('stop when asked', () => {
    const blurred = filledPlane(16, 16, 0.5);
    const evidence = { blurred: [blurred], weight: [blurred], clipped: null };
    const options = { lambda: 1e-3, iterations: 9, dataPenalty: 0.3, shouldStop: () => true };
    expect(() => kernels.deconvolve(evidence, discPsf(1), options)).toThrow('Stopped.');
  });

  it.each([RGGB, [1, 2, 0, 1] as const, [1, 0, 2, 1] as const, [2, 1, 1, 0] as const])(
    'fill in a mosaic of %d %d %d %d alike, whole and in tiles',
    (...pattern) => {
      const random = seededRandom(8);
      const mosaic = filledPlane(290, 270, 0);
      for (let i = 0; i < mosaic.data.length; i++) mosaic.data[i] = Math.abs(random.normal()) * (i % 7 === 0 ? 1 : 0.2);
      const [width, height] = [290 - 2 * DEMOSAIC_REACH, 270 - 2 * DEMOSAIC_REACH];
      const becomes = Uint16Array.from({ length: 65536 }, (_, code) => 65535 - code);
      const whole = plainDemosaicTile(mosaic, pattern, becomes);
      expect(new Set(whole).size).toBeGreaterThan(10_000);
      expect(installedFilters(mosaic)!.demosaicTile(mosaic, pattern, becomes)).toEqual(whole);
      const met: number[] = [];
      demosaic(mosaic, pattern, becomes, (tile, codes) => {
        met.push(tile.x, tile.y);
        for (let y = Math.max(tile.y, DEMOSAIC_REACH); y < Math.min(tile.y + tile.height, 270 - DEMOSAIC_REACH); y++) {
          const left = Math.max(tile.x, DEMOSAIC_REACH);
          const right = Math.min(tile.x + tile.width, 290 - DEMOSAIC_REACH);
          const from = ((y - tile.y) * tile.width + left - tile.x) * 3;
          const at = ((y - DEMOSAIC_REACH) * width + left - DEMOSAIC_REACH) * 3;
          const count = 3 * Math.max(0, right - left);
          expect(codes.subarray(from, from + count)).toEqual(whole.subarray(at, at + count));
        }
      });
      expect(met).toEqual([0, 0, 256, 0, 0, 256, 256, 256]);
      expect(height).toBe(250);
    },
  );
});
