import { readFile, rm, stat, truncate, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { bandsOf, ensureSamples, isWhole, readCodes, readSamples, type SampleFile } from '../src';
import { pattern16, sharp16, temporaryFolder } from './pictures';
import sharp from 'sharp';

const folder = await temporaryFolder();
const [WIDTH, HEIGHT] = [70, 40];
const codes = pattern16(WIDTH, HEIGHT, 3);

async function sampleFile(name: string): Promise<SampleFile> {
  const original = join(folder, `${name}.png`);
  await writeFile(original, await sharp16(codes, WIDTH, HEIGHT, 3).png().toBuffer());
  return { path: join(folder, `${name}.samples`), original, width: WIDTH, height: HEIGHT, channels: 3, bits: 16 };
}

const region = { x: 5, y: 30, width: 20, height: 10 };
const expected = (file: SampleFile) =>
  Array.from({ length: region.width * region.height * 3 }, (_, i) => {
    const row = Math.floor(i / (region.width * 3));
    return codes[((region.y + row) * file.width + region.x) * 3 + (i % (region.width * 3))];
  });

it('decoded samples that were cut short, or changed without a new length, are made again, not served as zeros', async () => {
  const file = await sampleFile('damaged');
  await ensureSamples(file);
  expect(isWhole(file.path)).toBe(true);
  const bytes = await readFile(file.path);
  for (const damage of [
    () => truncate(file.path, bytes.length - 500),
    () => writeFile(file.path, Buffer.concat([bytes.subarray(0, 900), Buffer.alloc(600), bytes.subarray(1500)])),
    () => writeFile(file.path, bytes.subarray(0, WIDTH * HEIGHT * 6)),
    () => writeFile(file.path, ''),
    () => rm(file.path),
  ]) {
    await damage();
    // As another process finds it: nothing is remembered of this state.
    if (await stat(file.path).catch(() => null)) await utimes(file.path, 1, 1);
    expect(isWhole(file.path)).toBe(false);
    expect(Array.from((await readCodes(file, region)).codes)).toEqual(expected(file));
    expect(await readFile(file.path)).toEqual(bytes);
  }
});

it('a piece is clipped to the frame; outside of it there is nothing', async () => {
  const file = await sampleFile('clipped');
  expect((await readSamples(file, { x: -10, y: 35, width: 30, height: 30 })).region).toEqual({
    x: 0,
    y: 35,
    width: 20,
    height: 5,
  });
  expect((await readSamples(file, { x: 900, y: 0, width: 5, height: 5 })).bytes).toHaveLength(0);
});

it('8-bit samples become codes of 257 v, a band at a time as in one', async () => {
  const original = join(folder, 'eight.png');
  const [width, height] = [3000, 900];
  const bytes = Buffer.alloc(width * height * 3);
  for (let i = 0; i < bytes.length; i++) bytes[i] = (i * 7919) >> 3;
  await writeFile(
    original,
    await sharp(bytes, { raw: { width, height, channels: 3 } })
      .png({ compressionLevel: 1 })
      .toBuffer(),
  );
  const file: SampleFile = { path: join(folder, 'eight.samples'), original, width, height, channels: 3, bits: 8 };
  let at = 0;
  let bands = 0;
  for await (const band of bandsOf(file)) {
    for (let i = 0; i < band.codes.length; i += 997) expect(band.codes[i]).toBe(bytes[at + i] * 257);
    at += band.codes.length;
    bands++;
  }
  expect(at).toBe(bytes.length);
  expect(bands).toBeGreaterThan(1);
});
