import { expect, it } from 'vitest';
import {
  acceptReading,
  automaticCleaning,
  colourSpaceOf,
  emptyPrescription,
  encodeChannels,
  exposed,
  filledPlane,
  seededRandom,
  takeReading,
  type Plane,
} from '@vitrocept/core';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cleaningHolds, cleaningHoldsIn, nodeKernels, type DecodedPicture } from '../src';
import { sharp16 } from './pictures';

const SIDE = 320;
const space = colourSpaceOf(null, 3);

/** Fine hairs, sharp, in all directions. */
const hairs: Plane[] = [1, 0.9, 0.8].map((share) => ({
  width: SIDE,
  height: SIDE,
  data: Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
    return share * (0.3 + 0.02 * Math.sin(2.2 * x + 0.5 * y + 6 * Math.sin(y / 50)) + 0.1 * Math.sin(x / 40));
  }),
}));
const lineOf = (percent: number) => ({ a: 0, b: (percent / 100) ** 2 });

const pictureOf = (channels: readonly Plane[]) =>
  ({
    width: SIDE,
    height: SIDE,
    channels: 3,
    bits: 16,
    samples: encodeChannels(channels, space),
    space,
  }) as unknown as DecodedPicture;

/** A cleaning on Automatic by a reading that says so much noise of brightness is there. */
async function cleanedAs(channels: readonly Plane[], percent: number) {
  const read = takeReading({
    channels,
    lumaWeights: space.lumaWeights,
    use: filledPlane(SIDE, SIDE, 1),
    clipped: new Uint8Array(SIDE * SIDE),
    jpeg: false,
    isTriage: true,
    kernels: await nodeKernels(),
  });
  const line = lineOf(percent * Math.sqrt(1 / space.lumaWeights.reduce((sum, weight) => sum + weight ** 2, 0)));
  const reading = { ...read, noise: [line, line, line], noisePercent: percent, grain: null };
  const accepted = acceptReading(reading, { kind: 'whole', key: '' });
  const cleaning = { ...automaticCleaning(accepted), detailKept: { value: 0, auto: false } };
  return { ...emptyPrescription(), reading: accepted, cleaning };
}

/** Asks of a file on disk, as rounds do. */
async function holdsIn(channels: readonly Plane[], percent: number): Promise<boolean> {
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-cleaning-'));
  try {
    const original = join(folder, 'one.png');
    await writeFile(original, await sharp16(encodeChannels(channels, space), SIDE, SIDE, 3).png().toBuffer());
    const facts = { width: SIDE, height: SIDE, channels: 3, bits: 16 } as const;
    const file = { path: join(folder, 'one.samples'), original, ...facts };
    return await cleaningHoldsIn(file, await cleanedAs(channels, percent), await nodeKernels());
  } finally {
    await rm(folder, { recursive: true });
  }
}

it('a cleaning that takes hairs for noise does not hold', async () => {
  const kernels = await nodeKernels();
  expect(cleaningHolds(pictureOf(hairs), await cleanedAs(hairs, 0.55), kernels)).toBe(false);
  expect(await holdsIn(hairs, 0.55)).toBe(false);
});

it('one of noise that is there does', async () => {
  const kernels = await nodeKernels();
  const plain = hairs.map((plane) => ({
    ...plane,
    data: plane.data.map((_, i) => 0.3 + 0.1 * Math.sin((i % SIDE) / 40)),
  }));
  const noisy = exposed(plain, [lineOf(1), lineOf(1), lineOf(1)], seededRandom(5));
  expect(cleaningHolds(pictureOf(noisy), await cleanedAs(noisy, 0.67), kernels)).toBe(true);
  expect(await holdsIn(noisy, 0.67)).toBe(true);
});
