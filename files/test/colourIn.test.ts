import { execFileSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { asLinearSrgb, ciede2000, copyProfile, createPlane, labOf, writeIccProfile } from '@vitrocept/core';
import { readPicture, type DecodedPicture } from '../src';
import { temporaryFolder } from './pictures';
import { tableProfile } from './tableProfile';

const folder = await temporaryFolder();
const fileOf = async (name: string, bytes: Buffer) => {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
};
const refused = (path: string) =>
  readPicture(path).then(
    () => '',
    (error: Error) => error.message,
  );

/** A picture of one colour, and its first sample in linear sRGB. */
const flat = (r: number, g: number, b: number) =>
  sharp({ create: { width: 16, height: 16, channels: 3, background: { r, g, b } } });

function firstLinear({ samples, bits, space }: DecodedPicture): number[] {
  const perCode = bits === 8 ? 257 : 1;
  const planes = space.decode.map((table, c) => {
    const plane = createPlane(1, 1);
    plane.data[0] = table[samples[c] * perCode];
    return plane;
  });
  return asLinearSrgb(planes, space).map(({ data }) => data[0]);
}

/** A PNG with one more chunk before its samples. */
function withChunk(png: Buffer, name: string, body: Buffer): Buffer {
  const chunk = Buffer.alloc(12 + body.length);
  chunk.writeUInt32BE(body.length, 0);
  chunk.write(name, 4, 'latin1');
  body.copy(chunk, 8);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 8 + body.length)), 8 + body.length);
  return Buffer.concat([png.subarray(0, 33), chunk, png.subarray(33)]);
}

describe('a PNG that says its colours itself', () => {
  it('by cICP: Display P3 is what LittleCMS makes of it', async () => {
    const png = withChunk(await flat(200, 100, 50).png().toBuffer(), 'cICP', Buffer.from([12, 13, 0, 1]));
    const own = firstLinear(await readPicture(await fileOf('p3.png', png)));
    const profile = await fileOf('p3.icc', Buffer.from(writeIccProfile(copyProfile('display-p3'))));
    const xyz = transicc(profile, '*XYZ', [200, 100, 50]);
    const expected = transicc('*XYZ', '*sRGB', xyz).map((value) => decoded(value / 255));
    own.forEach((value, c) => expect(value).toBeCloseTo(expected[c], 2));
    expect(own[0]).toBeGreaterThan(decoded(200 / 255));
  });

  it('by gAMA: 1.0 is linear light', async () => {
    const gamma = Buffer.alloc(4);
    gamma.writeUInt32BE(100_000);
    const png = withChunk(await flat(128, 64, 32).png().toBuffer(), 'gAMA', gamma);
    firstLinear(await readPicture(await fileOf('linear.png', png))).forEach((value, c) =>
      expect(value).toBeCloseTo([128, 64, 32][c] / 255, 3),
    );
  });

  it('by cICP for screens brighter than paper, or by a gamma that is none: refused by name', async () => {
    const plain = await flat(1, 2, 3).png().toBuffer();
    expect(await refused(await fileOf('pq.png', withChunk(plain, 'cICP', Buffer.from([9, 16, 0, 1]))))).toMatch(
      /cICP 9\/16/,
    );
    const gamma = Buffer.alloc(4);
    gamma.writeUInt32BE(5);
    expect(await refused(await fileOf('none.png', withChunk(plain, 'gAMA', gamma)))).toMatch(/gamma of 0.00/);
  });
});

it('a JPEG whose camera says its optional colour space is read as opRGB', async () => {
  const path = await fileOf(
    'optional.jpg',
    await flat(200, 100, 50).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer(),
  );
  execFileSync('exiftool', [
    '-q',
    '-n',
    '-overwrite_original',
    '-ExifIFD:ColorSpace=65535',
    '-InteropIFD:InteropIndex=R03',
    path,
  ]);
  const picture = await readPicture(path);
  expect(picture.space.description).toBe('opRGB');
  expect(firstLinear(picture)[0]).toBeGreaterThan(decoded(200 / 255));
});

it.each([8, 16] as const)('a profile of tables is worked out by LittleCMS: %d bits', async (bits) => {
  const icc = tableProfile();
  const profile = await fileOf('tables.icc', icc);
  const colours = [
    [200, 100, 50],
    [20, 180, 90],
    [128, 128, 128],
    [240, 10, 200],
  ];
  for (const colour of colours) {
    const codes = bits === 8 ? Uint8Array.from(colour) : Uint16Array.from(colour, (value) => value * 257);
    const repeated = bits === 8 ? new Uint8Array(300) : new Uint16Array(300);
    for (let i = 0; i < 300; i++) repeated[i] = codes[i % 3];
    const image = sharp(repeated, { raw: { width: 10, height: 10, channels: 3 } });
    const path = join(folder, `tables${bits}.tiff`);
    await (bits === 16 ? image.toColourspace('rgb16') : image).tiff({ compression: 'none' }).toFile(path);
    execFileSync('exiftool', ['-q', '-overwrite_original', `-icc_profile<=${profile}`, path]);
    const picture = await readPicture(path);
    expect(picture).toMatchObject({ bits: 16, space: { description: 'ROMM RGB' } });
    const xyz = transicc(profile, '*XYZ', colour);
    const [r, g, b] = transicc('*XYZ', '*sRGB', xyz).map((value) => decoded(value / 255));
    const own = firstLinear(picture).map((value) => Math.min(1, Math.max(0, value)));
    expect(ciede2000(labOf(own[0], own[1], own[2]), labOf(r, g, b))).toBeLessThan(1);
  }
});

it('AVIF is read; HEIC, JPEG XL, JPEG 2000, WebP and GIF are refused by name', async () => {
  const avif = await readPicture(
    await fileOf('a.avif', await flat(90, 120, 60).avif({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer()),
  );
  expect(avif).toMatchObject({ format: 'avif', width: 16, height: 16, bits: 8 });
  expect(Math.abs(avif.samples[1] - 120)).toBeLessThan(4);
  const head = (text: string) => Buffer.concat([Buffer.from(text, 'latin1'), Buffer.alloc(200)]);
  const others = {
    HEIC: head('\0\0\0\x18ftypheic\0\0\0\0'),
    'JPEG XL': head('\0\0\0\x0cJXL \r\n\x87\n'),
    'JPEG 2000': head('\0\0\0\x0cjP  \r\n\x87\n'),
    WebP: await flat(1, 2, 3).webp().toBuffer(),
    GIF: await flat(1, 2, 3).gif().toBuffer(),
  };
  for (const [name, bytes] of Object.entries(others)) {
    expect(await refused(await fileOf(name, bytes)), name).toMatch(new RegExp(`${name}, which is not read`));
  }
});

it('TIFFs in tiles, with planes apart, of 12 bits or floating point: read, or refused by what they are', async () => {
  const noise = Uint8Array.from({ length: 3 * 300 * 200 }, (_, i) => (i * 7919) % 251);
  const image = () => sharp(noise, { raw: { width: 300, height: 200, channels: 3 } });
  const tiled = await readPicture(
    await fileOf('tiled.tiff', await image().tiff({ tile: true, compression: 'deflate' }).toBuffer()),
  );
  expect([...tiled.samples.subarray(0, 60)]).toEqual([...noise.subarray(0, 60)]);
  const float = await image().toColourspace('scrgb').tiff({ compression: 'none' }).toBuffer();
  expect(await refused(await fileOf('float.tiff', float))).toMatch(/float samples/);
});

const decoded = (encoded: number) => (encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4);

/** LittleCMS' own program: relative colorimetric, black point compensated. */
function transicc(from: string, to: string, values: readonly number[]): number[] {
  const said = execFileSync('transicc', [`-i${from}`, `-o${to}`, '-t1', '-b', '-n'], {
    input: `${values.join(' ')}\n`,
    encoding: 'utf8',
  });
  return said.trim().split(/\s+/).slice(0, 3).map(Number);
}
