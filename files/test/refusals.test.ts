import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { colourSpaceOf, CoreError } from '@vitrocept/core';
import { diskError, FileError, inspectPicture, readGreyPlane, readPicture, writeAtomically } from '../src';
import { seeded } from '../../core/test/synthetic';
import { matrixProfile, pattern16, sharp16, temporaryFolder, WIDE } from './pictures';

const folder = await temporaryFolder();
const DEMO = new URL('../../demo/', import.meta.url).pathname;

async function saved(name: string, bytes: Uint8Array): Promise<string> {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
}

/** A PNG that claims a size without having it. */
async function claiming(width: number, height: number): Promise<Buffer> {
  const png = await sharp(Buffer.alloc(12), { raw: { width: 2, height: 2, channels: 3 } })
    .png()
    .toBuffer();
  png.writeUInt32BE(width, 16);
  png.writeUInt32BE(height, 20);
  const { crc32 } = await import('./crc32');
  png.writeUInt32BE(crc32(png.subarray(12, 29)), 29);
  return png;
}

describe('refusals', () => {
  it.each([
    ['empty', Buffer.alloc(0), /empty/],
    ['letter.jpg', Buffer.from('Dear field station'), /not a JPEG, PNG or TIFF picture, whatever its name says/],
    ['script.png', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), /not a JPEG, PNG or TIFF/],
    ['start.jpg', Buffer.from([0xff, 0xd8, 0xff, 0xe0]), /damaged or cut off/],
  ])('%s', async (name, bytes, sentence) => {
    await expect(inspectPicture(await saved(name, bytes))).rejects.toThrow(sentence);
  });

  it('a picture cut off in the middle is told from a whole one', async () => {
    const jpeg = await readFile(join(DEMO, 'frames/saltmere-0801.jpg'));
    const png = await sharp16(pattern16(200, 150, 3), 200, 150, 3)
      .png()
      .toBuffer();
    const tiff = await sharp16(pattern16(200, 150, 3), 200, 150, 3)
      .tiff({ compression: 'none' })
      .toBuffer();
    for (const [name, bytes] of Object.entries({ 'a.jpg': jpeg, 'a.png': png, 'a.tif': tiff })) {
      await expect(readPicture(await saved(name, bytes.subarray(0, Math.floor(bytes.length / 2))))).rejects.toThrow(
        /damaged or cut off/,
      );
    }
  });

  it('absurd sizes are refused before anything is decoded', async () => {
    await expect(inspectPicture(await saved('wide.png', await claiming(40000, 10)))).rejects.toThrow(
      /40000 × 10 px; at most/,
    );
    await expect(inspectPicture(await saved('bomb.png', await claiming(20000, 20000)))).rejects.toThrow(
      /at most 120 megapixels/,
    );
  });

  it('CMYK and table profiles are refused with what to do instead', async () => {
    const cmyk = await sharp(Buffer.alloc(48, 90), { raw: { width: 4, height: 4, channels: 3 } })
      .toColourspace('cmyk')
      .jpeg()
      .toBuffer();
    await expect(inspectPicture(await saved('cmyk.jpg', cmyk))).rejects.toThrow(/CMYK.*Export it as RGB/);
    const tables = matrixProfile([], 2.2, 'RGB ', ['rTRC']);
    expect(() => colourSpaceOf(tables, 3)).toThrow(/look-up tables.*Convert the picture/);
    expect(() => colourSpaceOf(matrixProfile([], 2.2, 'CMYK', ['rTRC']), 3)).toThrow(/CMYK/);
    expect(() => colourSpaceOf(WIDE.subarray(0, 100), 3)).toThrow(/damaged/);
    expect(() => colourSpaceOf(matrixProfile([], 1, 'GRAY', ['kTRC']), 3)).toThrow(/1 channels, the picture has 3/);
  });

  it('a matrix profile turns to linear light by its own curve and weighs luma by its own primaries', () => {
    const space = colourSpaceOf(WIDE, 3);
    expect(space.decode[0][32768]).toBeCloseTo(Math.pow(32768 / 65535, 2.19921875), 5);
    expect(space.lumaWeights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 9);
    expect(space.lumaWeights[1]).toBeCloseTo(0.6257, 3);
    // White stays white in sRGB: both profiles share the D50 white.
    for (const row of [0, 3, 6]) {
      expect(space.toLinearSrgb!.slice(row, row + 3).reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 2);
    }
  });

  it('150 mutated files: a sentence or a picture, never a crash', async () => {
    const originals = [
      await readFile(join(DEMO, 'masks/saltmere-0803.png')),
      await sharp16(pattern16(60, 40, 3), 60, 40, 3)
        .tiff({ compression: 'lzw' })
        .toBuffer(),
      await sharp(await readFile(join(DEMO, 'frames/saltmere-0801.jpg')))
        .resize(120)
        .keepMetadata()
        .jpeg()
        .toBuffer(),
    ];
    const random = seeded(2026);
    let refused = 0;
    for (let i = 0; i < 150; i++) {
      const bytes = Buffer.from(originals[i % originals.length]);
      const kind = Math.floor(random() * 3);
      const flips = kind === 0 ? 1 : kind === 1 ? 20 : 200;
      // Half of the damage falls on the headers, where it does most.
      for (let k = 0; k < flips; k++)
        bytes[Math.floor(random() * (random() < 0.5 ? 400 : bytes.length))] = Math.floor(random() * 256);
      const cut = random() < 0.3 ? bytes.subarray(0, Math.floor(random() * bytes.length)) : bytes;
      try {
        const picture = await readPicture(await saved('mutant', cut));
        expect(picture.samples.length).toBe(picture.width * picture.height * picture.channels);
      } catch (error) {
        expect(error instanceof FileError || error instanceof CoreError, `${(error as Error).stack}`).toBe(true);
        expect((error as Error).message).toMatch(/\.$/);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(30);
  });

  it('masks and point spread functions must be grey', async () => {
    const colour = await sharp(Buffer.from([255, 0, 0]), { raw: { width: 1, height: 1, channels: 3 } })
      .png()
      .toBuffer();
    await expect(readGreyPlane(await saved('red.png', colour), 'mask')).rejects.toThrow(
      /The mask must be a grey picture/,
    );
  });

  it('writes whole or not at all, and says why it could not', async () => {
    const place = join(folder, 'out', 'copy.bin');
    await writeAtomically(place, Buffer.from('whole'));
    expect(await readFile(place, 'utf8')).toBe('whole');
    const blocked = join(folder, 'file-not-folder');
    await writeFile(blocked, '');
    await expect(writeAtomically(join(blocked, 'copy.bin'), Buffer.from('x'))).rejects.toThrow();
    expect((await readdir(join(folder, 'out'))).filter((name) => name.endsWith('.part'))).toEqual([]);
    expect(diskError(Object.assign(new Error(), { code: 'ENOSPC' })).message).toMatch(/disk is full/);
    expect(diskError(Object.assign(new Error(), { code: 'EROFS' })).message).toMatch(/cannot be written to/);
  });
});
