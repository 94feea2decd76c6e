import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { colourSpaceOf, CoreError } from '@vitrocept/core';
import {
  diskError,
  FileError,
  inspectPicture,
  pageOf,
  readGreyPlane,
  readPicture,
  viewJpeg,
  writeAtomically,
  writeCopy,
} from '../src';
import { damaged } from '../src/decoders/raster';
import { longField, shortField, writeDirectories, writeDirectory, type Field } from '../src/ifd';
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
    [
      'letter.jpg',
      Buffer.from('Dear field station'),
      /not a JPEG, PNG, DNG, raw, TIFF or AVIF picture, whatever its name says/,
    ],
    ['script.png', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), /not a JPEG, PNG, DNG, raw, TIFF or AVIF/],
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

  it('a TIFF whose directory stands before its samples is refused wherever it is cut, by views too', async () => {
    const facts = { width: 200, height: 150, channels: 3 as const, icc: null, directories: null };
    const whole = pattern16(200, 150, 3);
    for (const compression of ['none', 'lzw', 'deflate'] as const) {
      const tiff = await directoryFirst(await sharp16(whole, 200, 150, 3).tiff({ compression }).toBuffer());
      const path = await saved('whole.tif', tiff);
      expect(Array.from((await readPicture(path)).samples.subarray(0, 99))).toEqual(Array.from(whole.subarray(0, 99)));
      for (const share of [0.2, 0.5, 0.8, 0.97]) {
        const cut = await saved('cut.tif', tiff.subarray(0, Math.floor(tiff.length * share)));
        await expect(readPicture(cut), `${compression} ${share}`).rejects.toThrow(/damaged or cut off/);
        await expect(
          viewJpeg({ path: `${cut}.samples`, original: cut, width: 200, height: 150, channels: 3, bits: 16 }, 64),
        ).rejects.toThrow(/damaged or cut off/);
      }
      // Bytes in the middle are gone bad.
      if (compression === 'none') continue;
      const bad = Buffer.from(tiff);
      bad.fill(0x55, Math.floor(tiff.length / 2), Math.floor(tiff.length / 2) + 400);
      await expect(readPicture(await saved('bad.tif', bad)), compression).rejects.toThrow(/damaged or cut off/);
    }
    const own = join(folder, 'own.tif');
    await writeCopy(own, { facts, pages: [pageOf('', whole, facts)], format: 'tiff16' }, 'allowed');
    expect((await readPicture(own)).bits).toBe(16);
  });

  it.each([
    [50000, 'Zstandard'],
    [34925, 'LZMA'],
    [50001, 'WebP'],
    [6, 'old JPEG'],
    [61234, 'method 61234'],
  ])('a TIFF compressed by %i is refused by its name', async (compression, name) => {
    const path = await saved('other.tif', claimingTiff(64, 64, compression, 64 * 64));
    await expect(inspectPicture(path)).rejects.toThrow(new RegExp(`compressed with ${name}, which is not read`));
  });

  it('a kilobyte that claims a hundred megapixels is refused before anything is decoded', async () => {
    for (const compression of [1, 5, 8, 32773]) {
      const path = await saved('claim.tif', claimingTiff(10000, 11000, compression, 900));
      await expect(inspectPicture(path), String(compression)).rejects.toThrow(/cannot come from the 900 bytes/);
    }
    await expect(inspectPicture(await saved('claim.png', await claiming(9000, 9000)))).rejects.toThrow(
      /cannot come from \d+ bytes/,
    );
  });

  it('a TIFF that begins with its thumbnail comes in as the picture', async () => {
    const facts = { width: 120, height: 80, channels: 3 as const, icc: null, directories: null };
    const [small, large] = [pattern16(12, 8, 3), pattern16(120, 80, 3)];
    for (const isMarked of [true, false]) {
      const path = await saved('thumbnail.tif', twoPages(small, large, isMarked));
      const back = await readPicture(path);
      expect(back).toMatchObject({ width: facts.width, height: facts.height, page: 1 });
      expect(Array.from(back.samples)).toEqual(Array.from(large));
      expect(
        (await sharp(await viewJpeg({ ...facts, path: `${path}.samples`, original: path, bits: 16 }, 120)).metadata())
          .width,
      ).toBe(120);
    }
  });

  it('BigTIFF, animated PNG and PNG coded otherwise than sRGB are refused by name; masks are taken as values', async () => {
    await expect(inspectPicture(await saved('big.tif', Buffer.from('II+\0\x08\0\0\0', 'latin1')))).rejects.toThrow(
      /BigTIFF/,
    );
    const png = await sharp(Buffer.alloc(12, 90), { raw: { width: 2, height: 2, channels: 3 } })
      .png()
      .toBuffer();
    const withOne = async (kind: string, body: Buffer) => saved(`${kind}.png`, await withChunk(png, kind, body));
    await expect(inspectPicture(await withOne('acTL', Buffer.alloc(8, 1)))).rejects.toThrow(/animated/);
    const linear = Buffer.alloc(4);
    linear.writeUInt32BE(100000);
    const path = await withOne('gAMA', linear);
    expect((await inspectPicture(path)).space.description).toBe('PNG, gamma 1.000');
    expect((await readGreyPlane(path, 'mask')).data[0]).toBeCloseTo(90 / 255, 5);
    // PQ of ITU-R BT.2100: primaries 9, transfer 16.
    await expect(inspectPicture(await withOne('cICP', Buffer.from([9, 16, 0, 1])))).rejects.toThrow(/cICP 9\/16/);
    expect(await inspectPicture(await withOne('cICP', Buffer.from([1, 13, 0, 1])))).toMatchObject({ width: 2 });
    const usual = Buffer.alloc(4);
    usual.writeUInt32BE(45455);
    expect(await inspectPicture(await withOne('gAMA', usual))).toMatchObject({ width: 2 });
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

async function withChunk(png: Buffer, kind: string, body: Buffer): Promise<Buffer> {
  const chunk = Buffer.alloc(12 + body.length);
  chunk.writeUInt32BE(body.length, 0);
  chunk.write(kind, 4, 'latin1');
  body.copy(chunk, 8);
  const { crc32 } = await import('node:zlib');
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 8 + body.length)), 8 + body.length);
  return Buffer.concat([png.subarray(0, 33), chunk, png.subarray(33)]);
}

const fieldsOf = (...fields: Field[]) => new Map(fields.map((field) => [field.tag, field] as const));

/** A TIFF of 8-bit grey with so many bytes of samples, whatever size and compression it claims. */
function claimingTiff(width: number, height: number, compression: number, bytes: number): Buffer {
  const write = (at: number) =>
    writeDirectories({
      main: fieldsOf(
        longField(256, width),
        longField(257, height),
        shortField(258, 8),
        shortField(259, compression),
        shortField(262, 1),
        longField(273, at),
        shortField(277, 1),
        longField(278, height),
        longField(279, bytes),
      ),
      exif: new Map(),
      gps: new Map(),
    });
  return Buffer.concat([write(write(0).length), Buffer.alloc(bytes)]);
}

/** Another writer's TIFF with its directory moved before its samples, as many cameras and scanners write it. */
async function directoryFirst(tiff: Buffer): Promise<Buffer> {
  const { readPages, sourceOf, numbersOf } = await import('../src/ifd');
  const [page] = readPages(sourceOf(tiff));
  const offsets = numbersOf(page.get(273));
  const counts = numbersOf(page.get(279));
  const strips = offsets.map((offset, i) => tiff.subarray(offset, offset + counts[i]));
  const write = (from: number) => {
    let at = from;
    const places = counts.map((count) => (at += count) - count);
    return writeDirectories({
      main: new Map([...page, [273, longField(273, ...places)]]),
      exif: new Map(),
      gps: new Map(),
    });
  };
  return Buffer.concat([write(write(0).length), ...strips]);
}

/** A small page before a large one, 16 bits and three channels, uncompressed; marked as a reduced copy or not. */
function twoPages(small: Uint16Array, large: Uint16Array, isMarked: boolean): Buffer {
  const bytes = (codes: Uint16Array) => Buffer.from(codes.buffer, codes.byteOffset, codes.byteLength);
  const page = (width: number, height: number, at: number, count: number, isReduced: boolean) =>
    fieldsOf(
      ...(isReduced ? [longField(254, 1)] : []),
      longField(256, width),
      longField(257, height),
      shortField(258, 16, 16, 16),
      shortField(259, 1),
      shortField(262, 2),
      longField(273, at),
      shortField(277, 3),
      longField(278, height),
      longField(279, count),
      shortField(284, 1),
    );
  const [first, second] = [bytes(small), bytes(large)];
  const headBytes = 8 + writeDirectory(page(12, 8, 0, 0, isMarked), 8).length;
  const laterAt = headBytes + first.length;
  const head = writeDirectory(page(12, 8, headBytes, first.length, isMarked), 8, laterAt);
  const size = writeDirectory(page(120, 80, 0, 0, false), laterAt).length;
  const later = writeDirectory(page(120, 80, laterAt + size, second.length, false), laterAt);
  return Buffer.concat([Buffer.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]), head, first, later, second]);
}

describe('what the picture library says of a damaged file', () => {
  it.each([
    ['heif: /data/incoming/e5544079-5d78: bad seek to 3620', 'bad seek to 3620'],
    ['VipsJpeg: Premature end of JPEG file\nVipsJpeg: more', 'Premature end of JPEG file'],
    ['pngload: libspng read error', 'libspng read error'],
  ])('%s becomes a sentence without a path', (said, why) => {
    expect(damaged('AVIF', new Error(said)).message).toBe(
      `The AVIF is damaged or cut off and cannot be read to its end (${why}).`,
    );
  });
});
