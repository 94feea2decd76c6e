import { readdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import type { SaveFormat } from '@vitrocept/core';
import { inspectPicture, pageOf, readPicture, writeCopy, type CopyFacts } from '../src';
import { pngChunks } from '../src/decoders/pngChunks';
import { asciiField, bytesField, longField, shortField, writeDirectories, type Field } from '../src/ifd';
import { matrixProfile, pattern16, sharp16, temporaryFolder, WIDE } from './pictures';

const folder = await temporaryFolder();
const [WIDTH, HEIGHT] = [37, 23];

async function saved(name: string, bytes: Buffer): Promise<string> {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
}

async function copied(name: string, facts: CopyFacts, codes: Uint16Array, format: SaveFormat, quality?: number) {
  const path = join(folder, name);
  await writeCopy(path, { facts, pages: [pageOf('', codes, facts)], format, quality });
  return path;
}

function exif() {
  const directory = (...fields: Field[]) => new Map(fields.map((field) => [field.tag, field] as const));
  const rational = (tag: number, a: number, b: number): Field => {
    const value = Buffer.alloc(8);
    value.writeUInt32LE(a, 0);
    value.writeUInt32LE(b, 4);
    return { tag, type: 5, count: 1, value };
  };
  return {
    main: directory(asciiField(0x010f, 'Quorvane'), asciiField(0x0110, 'Quorvane K2'), shortField(0x0112, 6)),
    exif: directory(
      shortField(0x8827, 1600),
      rational(0x829a, 1, 500),
      rational(0x829d, 45, 10),
      rational(0x920a, 300, 1),
      asciiField(0xa434, 'Quorvane 300 mm f/4 Tele'),
      asciiField(0x9003, '2026:05:18 06:41:09'),
      longField(0xa002, 9999),
    ),
    gps: new Map(),
  };
}

describe('reading and writing', () => {
  for (const channels of [1, 3] as const) {
    it.each(['tiff16', 'png16'] as const)(
      `%s, ${channels} channel(s): every 16-bit code comes back`,
      async (format) => {
        const codes = pattern16(WIDTH, HEIGHT, channels);
        const icc = channels === 3 ? WIDE : null;
        const facts = { width: WIDTH, height: HEIGHT, channels, icc, directories: exif() };
        const path = await copied(`${format}-${channels}`, facts, codes, format);
        const back = await readPicture(path);
        expect(back).toMatchObject({ width: WIDTH, height: HEIGHT, channels, bits: 16, orientation: 1 });
        expect(Array.from(back.samples)).toEqual(Array.from(codes));
        expect(back.icc?.equals(WIDE) ?? null).toBe(channels === 3 ? true : null);
        expect(back.exposure).toEqual({
          iso: 1600,
          shutterS: 1 / 500,
          fNumber: 4.5,
          focalLengthMm: 300,
          lens: 'Quorvane 300 mm f/4 Tele',
          camera: 'Quorvane K2',
          takenAt: '2026-05-18 06:41:09',
        });
        expect(back.directories!.exif.get(0xa002)!.value.readUInt32LE(0)).toBe(WIDTH);
      },
    );
  }

  it('several stages become pages of one TIFF, each with every code; what is known of the shot stands on the first', async () => {
    const pages = ['original', 'cleaned', 'recovered'].map((name, i) => ({
      name,
      codes: pattern16(WIDTH, HEIGHT, 3).map((code) => (code + 1000 * i) % 65536),
    }));
    const facts = { width: WIDTH, height: HEIGHT, channels: 3 as const, icc: WIDE, directories: exif() };
    const [path, bare] = [join(folder, 'pages.tiff'), join(folder, 'bare.tiff')];
    const own = pages.map(({ name, codes }) => pageOf(name, codes, facts));
    await writeCopy(path, { facts, pages: own, format: 'tiff16' });
    // The reader would turn the codes by a profile: their file has none.
    await writeCopy(bare, { facts: { ...facts, icc: null }, pages: own, format: 'tiff16' });
    for (const [page, { codes }] of pages.entries()) {
      const { width, height, icc } = await sharp(path, { page }).metadata();
      expect([width, height]).toEqual([WIDTH, HEIGHT]);
      expect(icc?.equals(WIDE)).toBe(true);
      const data = await sharp(bare, { page }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
      expect(Array.from(new Uint16Array(data.buffer, data.byteOffset, data.length / 2))).toEqual(Array.from(codes));
    }
    expect((await readPicture(path)).exposure.iso).toBe(1600);
  });

  it('png8: 257 v goes back to v exactly', async () => {
    const codes = Uint16Array.from({ length: 256 * 3 }, (_, i) => Math.floor(i / 3) * 257);
    const facts = { width: 256, height: 1, channels: 3 as const, icc: null, directories: null };
    const back = await readPicture(await copied('eight.png', facts, codes, 'png8'));
    expect(Array.from(back.samples)).toEqual(Array.from(codes, (code) => code / 257));
  });

  it('jpeg: near the truth, profile and EXIF kept, more quality more bytes', async () => {
    const codes = Uint16Array.from({ length: 64 * 64 * 3 }, (_, i) => 20000 + 300 * (Math.floor(i / 3) % 64));
    const facts = { width: 64, height: 64, channels: 3 as const, icc: WIDE, directories: exif() };
    const path = await copied('copy.jpg', facts, codes, 'jpeg', 95);
    const back = await readPicture(path);
    expect(back.icc?.equals(WIDE)).toBe(true);
    expect(back.exposure.iso).toBe(1600);
    for (let i = 0; i < codes.length; i += 11) expect(Math.abs(back.samples[i] - codes[i] / 257)).toBeLessThan(4);
    const lesser = await copied('lesser.jpg', facts, codes, 'jpeg', 30);
    expect((await stat(lesser)).size).toBeLessThan((await stat(path)).size);
  });

  it.each(['png8', 'jpeg'] as const)('%s of a grey frame is grey, with its grey profile', async (format) => {
    const codes = Uint16Array.from({ length: 64 * 64 }, (_, i) => 257 * (40 + (i % 64)));
    const icc = matrixProfile([], 2.2, 'GRAY', ['kTRC']);
    const facts = { width: 64, height: 64, channels: 1 as const, icc, directories: null };
    const path = await copied(`grey-${format}`, facts, codes, format);
    const back = await readPicture(path);
    expect(back).toMatchObject({ channels: 1, bits: 8 });
    expect(back.samples[5]).toBe(45);
    // The PNG library drops a grey profile this small by itself, so there the chunk is looked at.
    if (format === 'png8') expect(pngChunks(path).get('iCCP')!.toString('latin1', 0, 11)).toBe('ICC profile');
    else expect(back.icc!.equals(icc)).toBe(true);
  });

  it('EXIF that is too long for a JPEG leaves its longest fields behind, and nothing else', async () => {
    const facts = { width: 64, height: 64, channels: 3 as const, icc: null, directories: exif() };
    const long = bytesField(0x9286, Buffer.alloc(90_000, 7));
    facts.directories.exif.set(0x9286, long);
    const codes = new Uint16Array(64 * 64 * 3).fill(30000);
    const back = await readPicture(await copied('long.jpg', facts, codes, 'jpeg'));
    expect(back.exposure).toMatchObject({ iso: 1600, lens: 'Quorvane 300 mm f/4 Tele' });
    expect(back.directories!.exif.has(0x9286)).toBe(false);
    const png = await readPicture(await copied('long.png', facts, codes, 'png16'));
    expect(png.directories!.exif.get(0x9286)!.value.equals(long.value)).toBe(true);
  });

  it('what is there already is never replaced, and nothing half-written stays', async () => {
    const facts = { width: 8, height: 8, channels: 1 as const, icc: null, directories: null };
    const codes = new Uint16Array(64);
    const path = await saved('there.png', Buffer.from('somebody’s'));
    await expect(copied('there.png', facts, codes, 'png8')).rejects.toThrow(/already, and nothing is ever replaced/);
    expect(await readFile(path, 'utf8')).toBe('somebody’s');
    const wish = { facts, pages: [pageOf('', codes, facts)], format: 'png8' as const };
    await writeCopy(path, wish, 'allowed');
    expect(await readPicture(path)).toMatchObject({ width: 8 });
    const broken = {
      ...wish,
      pages: [
        {
          name: '',
          rows: () => {
            throw new Error('no rows');
          },
        },
      ],
    };
    await expect(writeCopy(join(folder, 'broken.png'), broken)).rejects.toThrow('no rows');
    expect((await readdir(folder)).filter((name) => name.endsWith('.part') || name === 'broken.png')).toEqual([]);
  });

  // Exif 2.32, 4.6.4.A, tag 274: where row 0 and column 0 of the stored picture lie as seen.
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('orientation %i is turned upright', async (orientation) => {
    const [w, h] = [3, 2];
    const stored = Buffer.from([10, 20, 30, 40, 50, 60]);
    const png = await sharp(stored, { raw: { width: w, height: h, channels: 1 } })
      .toColourspace('b-w')
      .png()
      .toBuffer();
    const block = writeDirectories({
      main: new Map([[0x0112, shortField(0x0112, orientation)]]),
      exif: new Map(),
      gps: new Map(),
    });
    const back = await readPicture(await saved(`turned-${orientation}.png`, await withExif(png, block)));
    const seen: Record<number, number[]> = {
      1: [10, 20, 30, 40, 50, 60],
      2: [30, 20, 10, 60, 50, 40],
      3: [60, 50, 40, 30, 20, 10],
      4: [40, 50, 60, 10, 20, 30],
      5: [10, 40, 20, 50, 30, 60],
      6: [40, 10, 50, 20, 60, 30],
      7: [60, 30, 50, 20, 40, 10],
      8: [30, 60, 20, 50, 10, 40],
    };
    expect(Array.from(back.samples)).toEqual(seen[orientation]);
    expect([back.width, back.height]).toEqual(orientation >= 5 ? [2, 3] : [3, 2]);
  });

  it('reads what other writers make: LZW and big tiles of an independent TIFF writer, grey PNG, 8-bit TIFF', async () => {
    const codes = pattern16(WIDTH, HEIGHT, 3);
    for (const compression of ['none', 'lzw', 'deflate'] as const) {
      const tiff = await sharp16(codes, WIDTH, HEIGHT, 3).tiff({ compression }).toBuffer();
      expect(Array.from((await readPicture(await saved(`${compression}.tif`, tiff))).samples)).toEqual(
        Array.from(codes),
      );
    }
    const grey = Buffer.from([0, 80, 160, 255]);
    const png = await sharp(grey, { raw: { width: 2, height: 2, channels: 1 } })
      .toColourspace('b-w')
      .png()
      .toBuffer();
    expect(await inspectPicture(await saved('grey.png', png))).toMatchObject({ channels: 1, bits: 8 });
  });
});

/** Through a copy written by this program, whose own EXIF says 1, with the block exchanged. */
async function withExif(png: Buffer, block: Buffer): Promise<Buffer> {
  const body = Buffer.concat([Buffer.from('eXIf', 'latin1'), block]);
  const chunk = Buffer.alloc(8 + body.length);
  chunk.writeUInt32BE(block.length, 0);
  body.copy(chunk, 4);
  const { crc32 } = await import('./crc32');
  chunk.writeUInt32BE(crc32(body), 4 + body.length);
  return Buffer.concat([png.subarray(0, 33), chunk, png.subarray(33)]);
}
