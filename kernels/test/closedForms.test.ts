import { readFile } from 'node:fs/promises';
import { describe, expect, it } from 'vitest';
import {
  createComplex,
  filledPlane,
  normalisedPsf,
  PLAIN_KERNELS,
  seededRandom,
  wanderingCurve,
} from '@vitrocept/core';
import { samplesOf, samplesUpTo } from '../../core/src/spectrum/spectralFit';
import { createKernels } from '../src';

/** What a textbook says must come out, so that both twins cannot be wrong alike. */
const fast = await createKernels(new Uint8Array(await readFile(new URL('../wasm/kernels.wasm', import.meta.url))));
const TWINS = [
  ['WebAssembly', fast],
  ['plain', PLAIN_KERNELS],
] as const;

describe.each(TWINS)('the %s transform (Oppenheim, Schafer, Discrete-Time Signal Processing, ch. 8)', (_, kernels) => {
  it('of a point is a wave: exp(−2πi(ux/W + vy/H)), its sign the one of the engineers', () => {
    const [width, height, x, y] = [20, 12, 3, 5];
    const plane = createComplex(width, height);
    plane.re[y * width + x] = 1;
    kernels.fft2d(plane);
    for (let v = 0; v < height; v++) {
      for (let u = 0; u < width; u++) {
        const angle = -2 * Math.PI * ((u * x) / width + (v * y) / height);
        expect(plane.re[v * width + u]).toBeCloseTo(Math.cos(angle), 5);
        expect(plane.im[v * width + u]).toBeCloseTo(Math.sin(angle), 5);
      }
    }
  });

  it('of a run of N ones is the Dirichlet kernel: |sin(πuN/W) / sin(πu/W)|', () => {
    const [width, height, run] = [60, 8, 7];
    const plane = createComplex(width, height);
    // The same in every row: all power lies at v = 0, times the number of rows.
    for (let y = 0; y < height; y++) plane.re.fill(1, y * width, y * width + run);
    kernels.fft2d(plane);
    for (let u = 1; u < width; u++) {
      const wanted = Math.abs(Math.sin((Math.PI * u * run) / width) / Math.sin((Math.PI * u) / width));
      expect(Math.hypot(plane.re[u], plane.im[u]) / height).toBeCloseTo(wanted, 4);
      expect(Math.hypot(plane.re[width + u], plane.im[width + u])).toBeLessThan(1e-3);
    }
    expect(plane.re[0]).toBeCloseTo(run * height, 3);
  });

  it('of a cosine has half its area at u and half at W − u', () => {
    const [width, height, u, v] = [36, 20, 5, 3];
    const plane = createComplex(width, height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        plane.re[y * width + x] = Math.cos(2 * Math.PI * ((u * x) / width + (v * y) / height));
      }
    }
    kernels.fft2d(plane);
    const peaks = new Set([v * width + u, (height - v) * width + width - u]);
    plane.re.forEach((value, i) => {
      expect(Math.abs(value - (peaks.has(i) ? (width * height) / 2 : 0))).toBeLessThan(1e-3);
      expect(Math.abs(plane.im[i])).toBeLessThan(1e-3);
    });
  });
});

describe.each(TWINS)('%s deconvolution', (_, kernels) => {
  const random = seededRandom(5);
  const blurred = filledPlane(40, 24, 0);
  for (let i = 0; i < blurred.data.length; i++) blurred.data[i] = 0.3 + 0.4 * random.uniform();
  const evidence = { blurred: [blurred], weight: [filledPlane(40, 24, 1)], clipped: null };
  const point = normalisedPsf(1, 1, new Float32Array([1]));

  it('with a point and next to no prior gives the picture back', () => {
    const [{ data }] = kernels.deconvolve(evidence, point, { lambda: 1e-9, iterations: 12, dataPenalty: 0.3 });
    data.forEach((value, i) => expect(Math.abs(value - blurred.data[i])).toBeLessThan(2e-3));
  });

  it('with a heavy prior gives a flat picture of the same mean', () => {
    const [{ data }] = kernels.deconvolve(evidence, point, { lambda: 10, iterations: 200, dataPenalty: 0.3 });
    const mean = blurred.data.reduce((sum, value) => sum + value, 0) / blurred.data.length;
    const spread = Math.max(...data) - Math.min(...data);
    expect(spread).toBeLessThan(0.2 * (Math.max(...blurred.data) - Math.min(...blurred.data)));
    expect(data.reduce((sum, value) => sum + value, 0) / data.length).toBeCloseTo(mean, 2);
  });
});

describe.each(TWINS)('%s cleaning', (_, kernels) => {
  it('keeps a step far above the noise sharp, and makes a ramp of one far below it', () => {
    const step = (height: number) => {
      const plane = filledPlane(48, 48, 0.4);
      for (let y = 0; y < 48; y++) plane.data.fill(0.4 + height, y * 48 + 24, (y + 1) * 48);
      return plane;
    };
    const jumpLeft = (height: number) => {
      const { data } = kernels.slidingDct(step(height), { sigma: 0.05, originX: 0, originY: 0 });
      return (data[24 * 48 + 24] - data[24 * 48 + 23]) / height;
    };
    expect(jumpLeft(0.8)).toBeGreaterThan(0.9);
    expect(jumpLeft(0.02)).toBeLessThan(0.3);
  });
});

describe.each(TWINS)('%s sums of a wandering curve', (_, kernels) => {
  it('have as right-hand side the way down: minus the slope of the cost, by differences', () => {
    const random = seededRandom(4);
    const side = 64;
    const power = Float64Array.from({ length: side * side }, () => 1e-5 * Math.exp(0.3 * random.normal()));
    const samples = samplesUpTo(samplesOf({ side, windows: 1, power }, 0.5, 1), 0.4, 3);
    const curve = wanderingCurve(random, 9);
    const parameters = Float64Array.from([-9, 2.1, 0.2, -0.3, 0.1, 0, Math.log(4e-6)]);
    const { right } = kernels.curveSums(samples, curve, parameters, true);
    const costAt = (k: number, by: number) => {
      const moved = parameters.slice();
      moved[k] += by;
      return kernels.curveSums(samples, curve, moved, false).cost;
    };
    const first = right.length - parameters.length;
    for (let k = 0; k < parameters.length; k++) {
      const slope = (costAt(k, 1e-3) - costAt(k, -1e-3)) / 2e-3;
      expect(Math.abs(right[first + k] / slope + 1)).toBeLessThan(5e-3);
    }
  });
});
