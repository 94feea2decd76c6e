import { execFileSync } from 'node:child_process';
import { deflateSync } from 'node:zlib';
import { existsSync, readFileSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import {
  asLinearSrgb,
  ciede2000,
  createPlane,
  labOf,
  practiceNeutral,
  PRACTICE_SENSOR,
  RGGB,
  seededRandom,
  srgbEncode,
  throughSensor,
  type Plane,
} from '@vitrocept/core';
import { isDrawnFromKept, readPicture, viewJpeg } from '../src';
import { byteField, directoryAt, longField, numbersOf, readPages, shortField, sourceOf, type Field } from '../src/ifd';
import { dngLayout } from '../src/raw/dngLayout';
import { readDngSamples } from '../src/raw/dngSamples';
import { DNG } from '../src/raw/dngTags';
import { writeDng, type DngWish } from '../src/raw/writeDng';
import { dngOf, linearScene, SHOT } from './dngs';
import { losslessJpeg } from './losslessJpeg';
import { temporaryFolder } from './pictures';

const folder = await temporaryFolder();
const TRUTHS = join(import.meta.dirname, '../../demo/truth');
const scene = await linearScene(join(TRUTHS, 'marten.jpg'), { left: 700, top: 500, width: 160, height: 120 });
const SIZE = { width: 160, height: 120 };
const samples = throughSensor(scene, RGGB, { a: 0, b: 0 }, seededRandom(1));

async function fileOf(name: string, bytes: Buffer): Promise<string> {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
}

const previewJpeg = () =>
  sharp({ create: { width: 1, height: 1, channels: 3, background: '#888' } })
    .jpeg()
    .toBuffer();

/** Numbers packed one after the other from the highest bit on, rows on whole bytes. */
function packed(values: Uint16Array, bits: number): Buffer {
  const perRow = Math.ceil((SIZE.width * bits) / 8);
  const out = Buffer.alloc(perRow * SIZE.height);
  values.forEach((value, i) => {
    const at = Math.floor(i / SIZE.width) * perRow * 8 + (i % SIZE.width) * bits;
    for (let bit = 0; bit < bits; bit++) {
      if ((value >> (bits - 1 - bit)) & 1) out[(at + bit) >> 3] |= 128 >> ((at + bit) & 7);
    }
  });
  return out;
}

describe('a DNG with a mosaic', () => {
  it('is opened as linear light of 16 bits, balanced, with the shot’s exposure', async () => {
    const picture = await readPicture(await fileOf('plain.dng', await dngOf(scene)));
    expect(picture).toMatchObject({ format: 'dng', ...SIZE, channels: 3, bits: 16, isSensorData: true });
    expect(picture.exposure).toMatchObject({ iso: 400, camera: 'Quorvane K2', takenAt: '2026-05-18 06:41:09' });
    const [truth, own] = [mean(scene), mean(srgbOf(picture))];
    truth.forEach((value, c) => expect(own[c]).toBeCloseTo(value, 2));
  });

  it('is the same uncompressed, packed, deflated, in lossless JPEG and in tiles', async () => {
    const plain = await readPicture(await fileOf('a.dng', await dngOf(scene)));
    const ways = {
      14: { bytes: packed(samples, 14), compression: 1, bits: 14 },
      deflate: { bytes: deflateSync(Buffer.from(samples.buffer)), compression: 8, bits: 16 },
      jpeg: { bytes: losslessJpeg(samples, 160, 120, 14), compression: 7, bits: 14 },
    };
    const [offset] = numbersOf(rawDirectory(await readFile(join(folder, 'a.dng'))).get(DNG.stripOffsets));
    const tiles = await dngOf(scene, {
      packed: { bytes: tiled(), compression: 1, bits: 16 },
      rawFields: tileFields(offset),
    });
    expect((await readPicture(await fileOf('tiles.dng', tiles))).samples).toEqual(plain.samples);
    for (const [name, way] of Object.entries(ways)) {
      const picture = await readPicture(await fileOf(`${name}.dng`, await dngOf(scene, { packed: way })));
      expect(picture.samples, name).toEqual(plain.samples);
    }
  });

  it('of colours that are filled in already is the same plain, deflated and in lossless JPEG', async () => {
    const numbers = Uint16Array.from(
      { length: 3 * samples.length },
      (_, i) => scene[i % 3].data[Math.floor(i / 3)] * 15000,
    );
    const { colorMatrix, illuminant } = PRACTICE_SENSOR;
    const colour = { uniqueModel: 'Quorvane K2', colorMatrix, illuminant, asShotNeutral: practiceNeutral() };
    const preview = { width: 1, height: 1, jpeg: await previewJpeg() };
    const linear = (packed?: DngWish['packed']) =>
      writeDng({
        ...{ ...SIZE, samples: numbers, pattern: null, black: 0, white: 16383, colour, preview, directories: SHOT },
        packed,
      });
    const jpeg = losslessJpeg(numbers, 3 * SIZE.width, SIZE.height, 14, { components: 3, predictor: 6 });
    const plain = await readPicture(await fileOf('linear.dng', linear()));
    expect(average([...plain.samples])).toBeGreaterThan(3000);
    for (const packed of [
      { bytes: jpeg, compression: 7, bits: 14 },
      { bytes: deflateSync(Buffer.from(numbers.buffer)), compression: 8, bits: 16 },
    ]) {
      const path = await fileOf(`linear-${packed.compression}.dng`, linear(packed));
      expect((await readPicture(path)).samples).toEqual(plain.samples);
    }
  });

  it('of 12 bits has the numbers the reference library finds in it', async () => {
    // LibRaw 0.20, unprocessed_raw: what is compared are the sensor's numbers before black is taken away.
    const twelve = samples.map((value) => value >> 2);
    const bytes = { bytes: packed(twelve, 12), compression: 1, bits: 12 };
    const path = await fileOf('twelve.dng', await dngOf(scene, { packed: bytes, black: 128, white: 4095 }));
    expect(unprocessed(path)).toEqual(sensorNumbers(await readFile(path)));
    expect(sensorNumbers(await readFile(path))).toEqual(twelve);
  });

  it('in lossless JPEG has the numbers the reference library finds in it', async () => {
    const bytes = { bytes: losslessJpeg(samples, 160, 120, 14), compression: 7, bits: 14 };
    const path = await fileOf('jpeg.dng', await dngOf(scene, { packed: bytes }));
    expect(unprocessed(path)).toEqual(samples);
    expect(sensorNumbers(await readFile(path))).toEqual(samples);
  });

  it('is cut to what saw light and to what the camera means to be shown', async () => {
    const raw = await dngOf(scene, {
      rawFields: [
        longField(DNG.activeArea, 2, 4, 118, 158),
        shortField(DNG.cropOrigin, 3, 1),
        shortField(DNG.cropSize, 100, 90),
      ],
    });
    const whole = await readPicture(await fileOf('whole.dng', await dngOf(scene)));
    const cut = await readPicture(await fileOf('cut.dng', raw));
    expect(cut).toMatchObject({ width: 100, height: 90 });
    const at = (y: number, x: number) => 3 * ((y + 2 + 1) * 160 + x + 4 + 3);
    // Away from where its border mirrors.
    for (const [y, x] of [
      [20, 20],
      [50, 33],
      [70, 80],
    ]) {
      const i = 3 * (y * 100 + x);
      expect([...cut.samples.subarray(i, i + 3)]).toEqual([...whole.samples.subarray(at(y, x), at(y, x) + 3)]);
    }
  });

  it('stands upright however the camera was held', async () => {
    const upright = await readPicture(await fileOf('one.dng', await dngOf(scene)));
    const turnedBy = async (orientation: number) => {
      const main = new Map([[274, shortField(274, orientation)]]);
      const directories = { main, exif: new Map<number, Field>(), gps: new Map<number, Field>() };
      return readPicture(await fileOf(`turn${orientation}.dng`, await dngOf(scene, { directories })));
    };
    const pixel = ({ samples: all, width }: typeof upright, x: number, y: number) => [
      ...all.subarray(3 * (y * width + x), 3 * (y * width + x) + 3),
    ];
    // Exif 2.32, Orientation: where the stored picture's upper left corner is seen.
    const corners: Record<number, [number, number]> = {
      2: [159, 0],
      3: [159, 119],
      4: [0, 119],
      5: [0, 0],
      6: [119, 0],
      7: [119, 159],
      8: [0, 159],
    };
    for (const [orientation, [x, y]] of Object.entries(corners)) {
      const picture = await turnedBy(Number(orientation));
      expect([picture.width, picture.height]).toEqual(Number(orientation) >= 5 ? [120, 160] : [160, 120]);
      expect(pixel(picture, x, y)).toEqual(pixel(upright, 0, 0));
    }
  });

  it('shows itself in sRGB', async () => {
    const path = await fileOf('view.dng', await dngOf(scene));
    const jpeg = await viewJpeg({ path: `${path}.samples`, original: path, ...SIZE, channels: 3, bits: 16 }, 80);
    const shown = await linearScene(await fileOf('view.jpg', jpeg), { left: 0, top: 0, width: 80, height: 60 });
    mean(scene).forEach((value, c) => expect(mean(shown)[c]).toBeCloseTo(value, 1));
  });

  it('a view is made once, and smaller ones from it', async () => {
    const path = await fileOf('kept.dng', await dngOf(scene));
    const file = { path: `${path}.samples`, original: path, ...SIZE, channels: 3 as const, bits: 16 as const };
    expect(isDrawnFromKept(file, 160)).toBe(false);
    await viewJpeg(file, 160);
    expect([160, 2048, 2049].map((side) => isDrawnFromKept(file, side))).toEqual([true, true, false]);
    // Nothing is decoded again.
    await rm(file.path);
    expect((await sharp(await viewJpeg(file, 40)).metadata()).width).toBe(40);
    expect(existsSync(file.path)).toBe(false);
  });
});

describe('colours and demosaicing, held against the reference library', () => {
  it('a chart of 24 colours comes back within ΔE00 1 in the mean, and the library’s own within 2 of ours', async () => {
    const chart = colourChart();
    const path = await fileOf('chart.dng', await dngOf(chart));
    const own = srgbOf(await readPicture(path));
    const library = linearPpm(path, ['-o', '1', '-q', '3']);
    const differences = { truth: [] as number[], library: [] as number[] };
    for (let patch = 0; patch < 24; patch++) {
      const i = (Math.floor(patch / 6) * 20 + 10) * 120 + (patch % 6) * 20 + 10;
      const lab = labOf(own[0].data[i], own[1].data[i], own[2].data[i]);
      differences.truth.push(ciede2000(lab, labOf(chart[0].data[i], chart[1].data[i], chart[2].data[i])));
      differences.library.push(ciede2000(lab, labOf(library(i, 0), library(i, 1), library(i, 2))));
    }
    expect(average(differences.truth)).toBeLessThan(1);
    expect(average(differences.library)).toBeLessThan(2);
  });

  it.each([
    ['a demo truth', join(TRUTHS, 'puppet.jpg'), 700, 400],
    ['a photograph that nothing was chosen on', '/usr/lib/python3/dist-packages/skimage/data/coffee.png', 140, 80],
  ])('the mosaic of %s is filled in better than by any of the library’s open methods', async (_, file, left, top) => {
    const large = await linearScene(file, { left, top, width: 320, height: 240 });
    const path = await fileOf('puppet.dng', await dngOf(large));
    const picture = await readPicture(path);
    const truth = balancedTruth(large);
    const quality = (at: (i: number, c: number) => number) => {
      let sum = 0;
      for (let y = 8; y < 232; y++) {
        for (let i = y * 320 + 8; i < y * 320 + 312; i++) {
          for (let c = 0; c < 3; c++) sum += (encoded(at(i, c)) - encoded(truth[c].data[i])) ** 2;
        }
      }
      return -10 * Math.log10(sum / (224 * 304 * 3));
    };
    const own = quality((i, c) => picture.samples[3 * i + c] / 65535);
    // VNG, AHD, DCB, DHT, AAHD.
    const others = ['1', '3', '4', '11', '12'].map((method) => quality(linearPpm(path, ['-o', '0', '-q', method])));
    expect(own).toBeGreaterThan(Math.max(...others));
    expect(Math.max(...others)).toBeGreaterThan(25);
  });
});

describe('a DNG that cannot be used', () => {
  const refused = (name: string, bytes: Buffer) => refusedOf(name, bytes);

  it('is refused by name', async () => {
    const withRaw = (...rawFields: Field[]) => dngOf(scene, { rawFields });
    expect(await refused('jxl.dng', await withRaw(shortField(DNG.compression, 52546)))).toMatch(/JPEG XL/);
    expect(await refused('float.dng', await withRaw(shortField(DNG.sampleFormat, 3)))).toMatch(/floating point/);
    expect(await refused('six.dng', await withRaw(shortField(DNG.cfaRepeat, 6, 6)))).toMatch(/6 × 6/);
    expect(await refused('cyan.dng', await withRaw(byteField(DNG.cfaPattern, 0, 1, 3, 2)))).toMatch(/Bayer/);
    expect(await refused('levels.dng', await withRaw(shortField(DNG.blackRepeat, 20000, 20000)))).toMatch(
      /repeats after/,
    );
    expect(await refused('nines.dng', await withRaw(shortField(DNG.blackRepeat, 9, 9)))).toMatch(/9 × 9/);
    expect(await refused('dark.dng', await withRaw(longField(DNG.white, 100)))).toMatch(/white is not above its black/);
    expect(await refused('area.dng', await withRaw(longField(DNG.activeArea, 0, 0, 500, 160)))).toMatch(
      /outside the sensor/,
    );
    expect(await refused('huge.dng', await withRaw(longField(DNG.width, 20000), longField(DNG.height, 20000)))).toMatch(
      /megapixels|cannot come/,
    );
  });

  it('is refused where its samples cannot be unpacked, never shown black', async () => {
    const jpeg = losslessJpeg(samples, 160, 120, 14);
    const called = await dngOf(scene, { packed: { bytes: packed(samples, 14), compression: 7, bits: 14 } });
    expect(await refused('called.dng', called)).toMatch(/PICTURE_DAMAGED|damaged/);
    const hurt = Buffer.from(jpeg);
    hurt.fill(0xff, 600, hurt.length - 400);
    const overwritten = await dngOf(scene, { packed: { bytes: hurt, compression: 7, bits: 14 } });
    expect(await refused('overwritten.dng', overwritten)).toMatch(/damaged/);
  });

  it('is refused where it is cut off, and never hangs where bytes are changed', async () => {
    const whole = await dngOf(scene, {
      packed: { bytes: losslessJpeg(samples, 160, 120, 14), compression: 7, bits: 14 },
    });
    expect(await refused('cut.dng', whole.subarray(0, whole.length - 3000))).not.toBe('');
    const random = seededRandom(5);
    for (let k = 0; k < 30; k++) {
      const bytes = Buffer.from(whole);
      for (let n = 0; n < 20; n++)
        bytes[Math.floor(random.uniform() * bytes.length)] = Math.floor(random.uniform() * 256);
      // A sentence or a picture; whatever else it is fails the test.
      await refused('bent.dng', bytes).then((said) => expect(said).toMatch(/^$|^(FileError|CoreError|Error): .+\./));
    }
  }, 60_000);
});

const encoded = (value: number) => srgbEncode(Math.min(1, Math.max(0, value)));
const average = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const mean = (planes: readonly Plane[]) => planes.map(({ data }) => average([...data]));

function srgbOf({ samples: codes, width, height, space }: Awaited<ReturnType<typeof readPicture>>): readonly Plane[] {
  const planes = [0, 1, 2].map((c) => {
    const plane = createPlane(width, height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = space.decode[c][codes[3 * i + c]];
    return plane;
  });
  return asLinearSrgb(planes, space);
}

function rawDirectory(bytes: Buffer) {
  const source = sourceOf(bytes);
  return directoryAt(source, numbersOf(readPages(source, 1)[0].get(DNG.subIfds))[0]);
}

const TILE = { width: 64, height: 48 };
const TILES = { across: 3, down: 3 };
const TILE_BYTES = TILE.width * TILE.height * 2;

/** The sensor's numbers in tiles that reach beyond the right and the lower border. */
function tiled(): Buffer {
  const out = Buffer.alloc(TILES.across * TILES.down * TILE_BYTES);
  samples.forEach((value, i) => {
    const [x, y] = [i % SIZE.width, Math.floor(i / SIZE.width)];
    const tile = Math.floor(y / TILE.height) * TILES.across + Math.floor(x / TILE.width);
    out.writeUInt16LE(value, tile * TILE_BYTES + 2 * ((y % TILE.height) * TILE.width + (x % TILE.width)));
  });
  return out;
}

const tileFields = (offset: number): Field[] => [
  longField(DNG.tileWidth, TILE.width),
  longField(DNG.tileHeight, TILE.height),
  longField(DNG.tileOffsets, ...Array.from({ length: 9 }, (_, i) => offset + i * TILE_BYTES)),
  longField(DNG.tileBytes, ...Array<number>(9).fill(TILE_BYTES)),
];

function sensorNumbers(bytes: Buffer): Uint16Array {
  const source = sourceOf(bytes);
  const main = readPages(source, 1)[0];
  return readDngSamples(source, dngLayout(source, main), true);
}

/** A PGM of 16 bits written by LibRaw. */
function unprocessed(path: string): Uint16Array {
  execFileSync('unprocessed_raw', ['-q', path], { stdio: 'pipe' });
  return Uint16Array.from({ length: 160 * 120 }, portable(`${path}.pgm`));
}

/** What LibRaw develops: linear, 16 bits, balanced as shot, nothing brightened. */
function linearPpm(path: string, options: readonly string[]) {
  execFileSync('dcraw_emu', ['-w', '-4', '-W', '-c', '0', ...options, path], { stdio: 'pipe' });
  const at = portable(`${path}.ppm`);
  return (i: number, c: number) => at(null, 3 * i + c) / 65535;
}

function portable(path: string) {
  const bytes = readFileSync(path);
  const head = bytes.toString('latin1', 0, 60).match(/^P[56]\n(#.*\n)*\d+ \d+\n\d+\n/)![0];
  return (_: unknown, i: number) => bytes.readUInt16BE(head.length + 2 * i);
}

function colourChart(): Plane[] {
  const random = seededRandom(24);
  const colours = Array.from({ length: 24 }, () => [0, 1, 2].map(() => 0.05 + 0.7 * random.uniform()));
  return [0, 1, 2].map((c) => {
    const plane = createPlane(120, 80);
    for (let i = 0; i < plane.data.length; i++) {
      plane.data[i] = colours[Math.floor(Math.floor(i / 120) / 20) * 6 + Math.floor((i % 120) / 20)][c];
    }
    return plane;
  });
}

/** What the sensor sees of a scene, every channel balanced. */
function balancedTruth(planes: readonly Plane[]): Plane[] {
  // IEC 61966-2-1: linear sRGB to XYZ.
  const toXyz = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
  const { colorMatrix: m } = PRACTICE_SENSOR;
  const neutral = practiceNeutral();
  const rows = [0, 1, 2].map((r) =>
    [0, 1, 2].map((c) => [0, 1, 2].reduce((sum, k) => sum + m[3 * r + k] * toXyz[3 * k + c], 0)),
  );
  const most = Math.max(...rows.map(([a, b, c]) => a + b + c));
  return rows.map(([a, b, c], r) => {
    const plane = createPlane(planes[0].width, planes[0].height);
    plane.data.forEach((_, i) => {
      plane.data[i] = (a * planes[0].data[i] + b * planes[1].data[i] + c * planes[2].data[i]) / most / neutral[r];
    });
    return plane;
  });
}

describe('sensor data in a camera’s own format', () => {
  /** The same file without the numbers that make it a DNG. */
  function withoutVersion(dng: Buffer): Buffer {
    const bytes = Buffer.from(dng);
    const at = bytes.readUInt32LE(4);
    for (let i = 0; i < bytes.readUInt16LE(at); i++) {
      const place = at + 2 + 12 * i;
      const tag = bytes.readUInt16LE(place);
      if (tag === DNG.version || tag === DNG.backwardVersion) bytes.writeUInt16LE(65_000 + i, place);
    }
    return bytes;
  }

  it('is read by the raw library, its colours filled in as those of a DNG', async () => {
    const dng = await dngOf(scene);
    const [raw, known] = await Promise.all(
      [await fileOf('own.raw', withoutVersion(dng)), await fileOf('same.dng', dng)].map((path) => readPicture(path)),
    );
    expect(raw).toMatchObject({ format: 'raw', ...SIZE, isSensorData: true });
    expect(raw.space.description).toBe('camera, linear, by the raw library');
    expect(raw.exposure).toMatchObject({ iso: 400, camera: 'Quorvane K2' });
    raw.samples.forEach((code, i) => {
      if (Math.abs(code - known.samples[i]) > 4) throw new Error(`sample ${i}: ${code}, ${known.samples[i]}`);
    });
  });

  it('is refused where it is damaged or not known', async () => {
    expect(await refusedOf('stub.raw', Buffer.concat([Buffer.from('IIRO'), Buffer.alloc(5000)]))).toMatch(
      /raw library does not know/,
    );
    expect(await refusedOf('cut.raw', withoutVersion(await dngOf(scene)).subarray(0, 20_000))).not.toBe('');
  });
});

const refusedOf = async (name: string, bytes: Buffer) => readPicture(await fileOf(name, bytes)).then(() => '', String);
