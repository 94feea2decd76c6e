import {
  checkSplittingOptions,
  CoreError,
  fastLength,
  frequencyWeights,
  GRADIENT_PENALTY_PER_LAMBDA,
  installFilters,
  installSubjectNetwork,
  lanePlan,
  LAST_PENALTY,
  networkOf,
  networksOf,
  PENALTY_GROWTH,
  psfAtOrigin,
  type Evidence,
  type Kernels,
  type Plane,
  type Psf,
  type SplittingOptions,
} from '@vitrocept/core';
import type { KernelExports } from './exports';
import { curveSums } from './curveSums';
import { createFilters } from './filters';
import { KernelMemory } from './memory';
import { runNetwork } from './network';
import { slidingDct } from './slidingDct';

/**
 * The hot loops on SIMD WebAssembly, and the core's filters, which are put in place of the plain ones for the whole
 * thread. One instance serves one thread; its memory grows to the largest picture seen.
 *
 * @param texture - The weights of the learned texture.
 * @param subject - The weights by which subjects are told, for the whole thread too.
 */
export async function createKernels(
  binary: Uint8Array<ArrayBuffer> | ArrayBuffer,
  texture: ArrayBuffer | null = null,
  subject: ArrayBuffer | null = null,
): Promise<Kernels> {
  const { instance } = await WebAssembly.instantiate(binary, {
    env: {
      abort: () => {
        throw new Error('A kernel stopped by itself.');
      },
    },
  });
  const kernel = instance.exports as unknown as KernelExports;
  const memory = new KernelMemory(kernel.memory);
  installFilters(createFilters(kernel, memory));
  if (subject) {
    const parts = networksOf(subject);
    const [down, up] = ['down', 'up'].map((way) => [...parts.keys()].filter((name) => name.startsWith(way)).sort());
    installSubjectNetwork({
      down: down.map((name) => parts.get(name)!),
      up: up.map((name) => parts.get(name)!),
      run: (stack, network) => runNetwork(kernel, memory, stack, network),
    });
  }
  return {
    deconvolve: (evidence, psf, options) => deconvolve(kernel, memory, evidence, psf, options),
    fft2d: ({ width, height, re, im }) => transform(kernel, memory, width, height, re, im, 1),
    slidingDct: (plane, options) => slidingDct(kernel, memory, plane, options),
    convolve: (planes, psf, correlates = false) => convolve(kernel, memory, planes, psf, correlates ? -1 : 1),
    curveSums: (samples, curve, parameters, wantsEquations) =>
      curveSums(kernel, memory, samples, curve, parameters, wantsEquations),
    fewEdges: (photograph, path, price) => fewEdges(kernel, memory, photograph, path, price),
    runNetwork: (stack, network, shouldStop) => runNetwork(kernel, memory, stack, network, shouldStop),
    texture: texture && networkOf(texture),
    // Exchanging the real and imaginary parts turns the forward transform into the inverse.
    inverseFft2d: ({ width, height, re, im }) => transform(kernel, memory, width, height, im, re, 1 / (width * height)),
  };
}

function transform(
  kernel: KernelExports,
  memory: KernelMemory,
  width: number,
  height: number,
  re: Float32Array,
  im: Float32Array,
  scale: number,
): void {
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const atRe = memory.place(re);
  const atIm = memory.place(im);
  kernel.fft2d(width, height, planX, planY, atRe, atIm, work);
  for (const [at, values] of [
    [atRe, re],
    [atIm, im],
  ] as const) {
    const answer = memory.floats(at, values.length);
    if (scale === 1) values.set(answer);
    else for (let i = 0; i < values.length; i++) values[i] = answer[i] * scale;
  }
}

/** Room for sixteen columns as the kernels' FFT takes them. */
function placeWork(memory: KernelMemory, width: number, height: number): number {
  return memory.take(32 * Math.max(width, height) * 4);
}

/** See assembly/lanes.ts. */
function placePlan(memory: KernelMemory, length: number): number {
  const { stages } = lanePlan(length);
  const places = memory.take(length * 4);
  memory.words(places, length).set(placesOfFrequencies(length));
  const twiddles = stages.map((stage) => memory.place(stage.twiddles));
  const words = [
    length,
    stages.length,
    places,
    ...stages.flatMap((stage, i) => [stage.radix, stage.groups, twiddles[i]]),
  ];
  const at = memory.take(4 * words.length);
  memory.words(at, words.length).set(words);
  return at;
}

const knownPlaces = new Map<number, Int32Array>();

/** Where decimation in frequency leaves each frequency: its digits reversed. */
function placesOfFrequencies(length: number): Int32Array {
  const known = knownPlaces.get(length);
  if (known) return known;
  const { stages } = lanePlan(length);
  const places = Int32Array.from({ length }, (_, frequency) => {
    let place = 0;
    for (const { radix, groups } of stages) {
      place += (frequency % radix) * groups;
      frequency = Math.floor(frequency / radix);
    }
    return place;
  });
  knownPlaces.set(length, places);
  return places;
}

/** Two real planes as half spectra, see assembly/halfSpectra.ts. */
function placeSpectra(memory: KernelMemory, width: number, height: number): number {
  return memory.take(blocksAcross(width) * (height + 4) * 64);
}

function blocksAcross(width: number): number {
  return Math.floor(width / 8) + 1;
}

/** The transfer function and what divides by it, and room for two planes and their spectra. */
function placeTransfer(
  kernel: KernelExports,
  memory: KernelMemory,
  psf: Psf,
  width: number,
  height: number,
  planX: number,
  planY: number,
  work: number,
  penalties: readonly [data: number, gradient: number] = [1, 1],
): { spectra: number; transfer: number; a: number; b: number } {
  const count = width * height;
  const spectra = placeSpectra(memory, width, height);
  const transfer = memory.take(blocksAcross(width) * height * 48);
  const across = memory.place(frequencyWeights(width));
  const down = memory.place(frequencyWeights(height));
  const [a, b] = [0, 1].map(() => memory.take(count * 4));
  memory.floats(a, count).set(psfAtOrigin(psf, width, height));
  memory.floats(b, count).fill(0);
  kernel.rowsToSpectra(a, b, width, height, planX, work, spectra);
  kernel.prepareSolving(spectra, width, height, planY, across, down, ...penalties, 1 / count, transfer);
  return { spectra, transfer, a, b };
}

function deconvolve(
  kernel: KernelExports,
  memory: KernelMemory,
  evidence: Evidence,
  psf: Psf,
  options: SplittingOptions,
): Plane[] {
  checkSplittingOptions(options);
  const { lambda, iterations, dataPenalty } = options;
  const { width, height } = evidence.blurred[0];
  const count = width * height;
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const penalties = [dataPenalty, GRADIENT_PENALTY_PER_LAMBDA * lambda] as const;
  const { transfer, a, b } = placeTransfer(kernel, memory, psf, width, height, planX, planY, work, penalties);
  const kept = memory.take(count * 4);
  memory.floats(kept, count).fill(0);
  const noneOpen = memory.place(new Float32Array(width));
  const channels = evidence.blurred.map((_, c) => [
    placeSpectra(memory, width, height),
    ...placeChannel(kernel, memory, evidence, c, dataPenalty, noneOpen),
  ]);
  const table = memory.take(channels.length * CHANNEL_WORDS * 4);
  const rows = memory.take((1 + OWN_ROWS * channels.length) * width * 4);
  memory.words(table, channels.length * CHANNEL_WORDS).set(channels.flat());

  const of = [channels.length, width, height] as const;
  const threshold = 1 / GRADIENT_PENALTY_PER_LAMBDA;
  for (let iteration = 0; iteration < iterations; iteration++) {
    kernel.sweepRows(table, ...of, planX, work, threshold, rows, kept, iteration === 0);
    kernel.solveColumns(table, CHANNEL_WORDS, ...of, planY, transfer, ...penalties);
    if (options.shouldStop?.()) throw new CoreError('STOPPED', 'Stopped.');
  }
  return channels.map(([spectra]) => {
    kernel.spectraToRows(spectra, width, height, planX, work, a, b);
    return { width, height, data: memory.floats(a, count).slice() };
  });
}

function convolve(
  kernel: KernelExports,
  memory: KernelMemory,
  planes: readonly Plane[],
  psf: Psf,
  sign: 1 | -1,
): Plane[] {
  const { width, height } = planes[0];
  const [w, h] = [fastLength(width), fastLength(height)];
  memory.reset();
  const planX = placePlan(memory, w);
  const planY = placePlan(memory, h);
  const work = placeWork(memory, w, h);
  const { spectra, transfer, a, b } = placeTransfer(kernel, memory, psf, w, h, planX, planY, work);
  const out: Plane[] = [];
  // Two planes go through at once.
  for (let first = 0; first < planes.length; first += 2) {
    const pair = planes.slice(first, first + 2);
    [a, b].forEach((at, k) => {
      const room = memory.floats(at, w * h).fill(0);
      const data = pair[k]?.data;
      if (data) for (let y = 0; y < height; y++) room.set(data.subarray(y * width, (y + 1) * width), y * w);
    });
    kernel.rowsToSpectra(a, b, w, h, planX, work, spectra);
    kernel.filterColumns(spectra, w, h, planY, transfer, sign, 1 / (w * h));
    kernel.spectraToRows(spectra, w, h, planX, work, a, b);
    pair.forEach((_, k) => {
      const answer = memory.floats(k === 0 ? a : b, w * h);
      const data = new Float32Array(width * height);
      for (let y = 0; y < height; y++) data.set(answer.subarray(y * w, y * w + width), y * width);
      out.push({ width, height, data });
    });
  }
  return out;
}

function fewEdges(kernel: KernelExports, memory: KernelMemory, photograph: Plane, path: Psf, price: number): Plane {
  const { width, height, data } = photograph;
  const count = data.length;
  memory.reset();
  const planX = placePlan(memory, width);
  const planY = placePlan(memory, height);
  const work = placeWork(memory, width, height);
  const [x, pullX, pullY] = Array.from({ length: 3 }, () => memory.take(count * 4));
  const [spectrum, pathSpectrum] = [0, 1].map(() => memory.take(blocksAcross(width) * (height + 4) * 32));
  const kept = memory.take(blocksAcross(width) * height * 64);
  const spare = memory.take(width * 16);
  const across = memory.place(frequencyWeights(width));
  const down = memory.place(frequencyWeights(height));
  const size = [width, height] as const;
  memory.floats(x, count).set(psfAtOrigin(path, width, height));
  kernel.rowsToSpectrum(x, ...size, planX, work, pathSpectrum);
  memory.floats(x, count).set(data);
  kernel.rowsToSpectrum(x, ...size, planX, work, spectrum);
  kernel.prepareEdges(pathSpectrum, spectrum, ...size, planY, across, down, kept);
  for (let penalty = 2 * price; penalty < LAST_PENALTY; penalty *= PENALTY_GROWTH) {
    kernel.hardGradients(x, ...size, price / penalty, pullX, pullY);
    kernel.divergence(pullX, pullY, ...size, x);
    kernel.rowsToSpectrum(x, ...size, planX, work, spectrum);
    kernel.solveEdges(spectrum, ...size, planY, kept, penalty, 1 / count);
    kernel.spectrumToRows(spectrum, ...size, planX, work, x, spare);
  }
  return { width, height, data: memory.floats(x, count).slice() };
}

const CHANNEL_WORDS = 8;
/** Rows that sweepRows keeps for each channel. */
const OWN_ROWS = 28;

/** Addresses in the order of the table of sweepRows, all but the first. */
function placeChannel(
  kernel: KernelExports,
  memory: KernelMemory,
  { blurred, weight, clipped }: Evidence,
  c: number,
  dataPenalty: number,
  noneOpen: number,
): number[] {
  const { width, data } = blurred[c];
  const [y, share, r] = [data, weight[c].data, data].map((values) => memory.place(values));
  kernel.sharesOfWeights(share, 4 * data.length, dataPenalty);
  const [gradientX, gradientY] = [0, 1].map(() => memory.take(data.length * 4));
  memory.floats(gradientX, data.length * 2).fill(0);
  const flags = clipped?.[c];
  if (!flags?.includes(1)) return [gradientX, gradientY, y, share, r, noneOpen, 0];
  const open = memory.take(data.length * 4);
  const openWords = memory.words(open, data.length);
  for (let i = 0; i < openWords.length; i++) openWords[i] = flags[i] ? -1 : 0;
  return [gradientX, gradientY, y, share, r, open, width * 4];
}
