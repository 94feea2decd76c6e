import {
  DEMOSAIC_REACH,
  gaussianWeights,
  LOCAL_NOISE_REACH,
  samplesBeside,
  type CodeTables,
  type Cover,
  type Filters,
  type Plane,
} from '@vitrocept/core';
import { createArithmetic } from './arithmetic';
import type { KernelExports } from './exports';
import { guidedFilter } from './guidedFilter';
import type { KernelMemory } from './memory';
import { onGrid } from './onGrid';
import { createSpectralSums } from './spectralSums';
import { sumsAcross } from './sumsAcross';

/** The core's filters on WebAssembly, bit for bit. */
export function createFilters(kernel: KernelExports, memory: KernelMemory): Filters {
  return {
    gaussianBlur: (plane, sigmaPx) => gaussianBlur(kernel, memory, plane, gaussianWeights(sigmaPx)),
    boxMean: (plane, reach) => boxMean(kernel, memory, plane, reach),
    neighbourhoodRange: (plane, reach) => ({
      low: around(kernel.leastOfTwo, Infinity, memory, plane, reach),
      high: around(kernel.mostOfTwo, -Infinity, memory, plane, reach),
    }),
    localNoise: (plane) => localNoise(kernel, memory, plane),
    guidedFilter: (wanted, guide, reach, stiffness) => guidedFilter(kernel, memory, wanted, guide, reach, stiffness),
    drawnOver: (plane, cover) => drawnOver(kernel, memory, plane, cover),
    codesOf: (channels, tables) => codesOf(kernel, memory, channels, tables),
    sumsAcross: (...asked) => sumsAcross(kernel, memory, ...asked),
    onGrid: (plane, across, down) => onGrid(kernel, memory, plane, across, down),
    demosaicTile: (tile, pattern, becomes) => demosaicTile(kernel, memory, tile, pattern, becomes),
    spectralSums: createSpectralSums(kernel, memory),
    ...createArithmetic(kernel, memory),
  };
}

function gaussianBlur(kernel: KernelExports, memory: KernelMemory, plane: Plane, weights: Float32Array): Plane {
  const { width, height, data } = plane;
  const reach = weights.length - 1;
  memory.reset();
  const table = memory.place(weights);
  const line = memory.take((width + 2 * reach + 16) * 4);
  const from = memory.place(data);
  const across = memory.take(data.length * 4);
  kernel.smoothAcross(from, across, width, height, table, reach, line);
  kernel.smoothDown(across, from, width, height, table, reach);
  return { width, height, data: memory.floats(from, data.length).slice() };
}

function boxMean(kernel: KernelExports, memory: KernelMemory, plane: Plane, reach: number): Plane {
  const { width, height, data } = plane;
  memory.reset();
  const sums = memory.take(width * 8);
  const from = memory.place(data);
  const across = memory.take(data.length * 4);
  kernel.meansAcross(from, across, width, height, reach);
  kernel.meansDown(across, from, width, height, reach, sums);
  return { width, height, data: memory.floats(from, data.length).slice() };
}

function drawnOver(kernel: KernelExports, memory: KernelMemory, plane: Plane, cover: Cover): Plane {
  const { width, height, data } = plane;
  const across = samplesBeside(cover.x, cover.stepX, cover.width, width);
  const down = samplesBeside(cover.y, cover.stepY, cover.height, height);
  memory.reset();
  const [columns, rows] = [across, down].map(({ first, second, share }) => {
    const at = memory.take(12 * first.length);
    memory.words(at, first.length).set(first);
    memory.words(at + 4 * first.length, first.length).set(second);
    memory.floats(at + 8 * first.length, first.length).set(share);
    return at;
  });
  const row = memory.take(4 * width + SLACK_BYTES);
  const from = memory.place(data);
  const out = memory.take(4 * cover.width * cover.height + SLACK_BYTES);
  kernel.drawnOver(from, width, columns, cover.width, rows, cover.height, row, out);
  const drawn = memory.floats(out, cover.width * cover.height).slice();
  return { width: cover.width, height: cover.height, data: drawn };
}

function codesOf(
  kernel: KernelExports,
  memory: KernelMemory,
  channels: readonly Plane[],
  tables: readonly CodeTables[],
): Uint16Array {
  memory.reset();
  const count = channels[0].data.length;
  const places = new Map(
    [...new Set(tables)].map((own) => [own, [own.lights, own.guess].map((values) => memory.place(values))]),
  );
  const from = memory.take(4 * count);
  const codes = memory.take(2 * count * channels.length + SLACK_BYTES);
  channels.forEach(({ data }, c) => {
    const [lights, guess] = places.get(tables[c])!;
    memory.floats(from, count).set(data);
    kernel.codesOf(from, count, lights, guess, codes + 2 * c, 2 * channels.length);
  });
  return memory.codes(codes, count * channels.length).slice();
}

const WORK_PLANES = 7;

function demosaicTile(
  kernel: KernelExports,
  memory: KernelMemory,
  tile: Plane,
  pattern: readonly number[],
  becomes: Uint16Array,
): Uint16Array {
  const { width, height, data } = tile;
  const count = data.length;
  const codes = (width - 2 * DEMOSAIC_REACH) * (height - 2 * DEMOSAIC_REACH) * 3;
  memory.reset();
  const work = memory.take(WORK_PLANES * count * 4);
  const out = memory.take(3 * count * 4);
  const to = memory.take(codes * 2);
  const table = memory.take(2 * becomes.length);
  memory.codes(table, becomes.length).set(becomes);
  const from = memory.place(data);
  // The differences of colour stay 0 where green was measured.
  memory.floats(work + 2 * count * 4, 2 * count).fill(0);
  const packed = pattern.reduce((bits, colour, place) => bits | (colour << (2 * place)), 0);
  kernel.demosaicTile(from, width, height, packed, work, out, to, table);
  return new Uint16Array(memory.floats(to, codes / 2).buffer, to, codes).slice();
}

/** Four samples are written at a time, up to three more than meant: 12 bytes of a plane, 18 of interleaved codes. */
const SLACK_BYTES = 32;

function localNoise(kernel: KernelExports, memory: KernelMemory, plane: Plane): Plane {
  const { width, height, data } = plane;
  if (height < 3) return { width, height, data: new Float32Array(data.length) };
  memory.reset();
  const sums = memory.take(width * 8);
  const from = memory.place(data);
  const [across, squares] = [0, 1].map(() => memory.take(data.length * 4 + SLACK_BYTES));
  kernel.squaredImmerkaer(from, squares, width, height, across);
  kernel.meansAcross(squares, across, width, height, LOCAL_NOISE_REACH);
  kernel.meansDown(across, from, width, height, LOCAL_NOISE_REACH, sums);
  return { width, height, data: memory.floats(from, data.length).slice() };
}

/** Windows of doubling length are joined along the rows, then down; rows are set apart by what lies beyond. */
function around(
  join: (data: number, count: number, ahead: number) => void,
  beyond: number,
  memory: KernelMemory,
  { width, height, data }: Plane,
  reach: number,
): Plane {
  const window = 2 * reach + 1;
  const pitch = width + 2 * reach;
  const count = pitch * (height + 2 * reach);
  memory.reset();
  const at = memory.take(count * 4);
  const padded = memory.floats(at, count).fill(beyond);
  for (let y = 0; y < height; y++) {
    padded.set(data.subarray(y * width, (y + 1) * width), (y + reach) * pitch + reach);
  }
  for (const stride of [1, pitch]) {
    for (let length = 1, step = 1; length < window; length += step) {
      step = Math.min(length, window - length);
      join(at, count, step * stride);
    }
  }
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) out.set(padded.subarray(y * pitch, y * pitch + width), y * width);
  return { width, height, data: out };
}
