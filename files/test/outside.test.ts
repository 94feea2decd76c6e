import { execFileSync, spawnSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { colourSpaceOf } from '@vitrocept/core';
import { saveFormatsFor } from '@vitrocept/core';
import { pageOf, writeCopy } from '../src';
import { asciiField, longField, shortField, type Field } from '../src/ifd';
import { matrixProfile, pattern16, temporaryFolder } from './pictures';

const folder = await temporaryFolder();

describe('EXIF of written copies, as exiftool reads it', () => {
  const rational = (tag: number, a: number, b: number): Field => {
    const value = Buffer.alloc(8);
    value.writeUInt32LE(a, 0);
    value.writeUInt32LE(b, 4);
    return { tag, type: 5, count: 1, value };
  };
  const directory = (...fields: Field[]) => new Map(fields.map((field) => [field.tag, field] as const));
  const directories = {
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
    gps: directory(asciiField(0x0001, 'N')),
  };
  const facts = { width: 60, height: 44, channels: 3 as const, icc: null, directories };

  it.each(saveFormatsFor(false))('%s: exposure, lens, date kept; upright, of its own size', async (format) => {
    const path = join(folder, `copy.${format}`);
    await writeCopy(path, { facts, pages: [pageOf('', pattern16(60, 44, 3), facts)], format });
    const [found] = JSON.parse(execFileSync('exiftool', ['-json', '-n', path], { encoding: 'utf8' }));
    expect(found).toMatchObject({
      Make: 'Quorvane',
      Model: 'Quorvane K2',
      ISO: 1600,
      ExposureTime: 0.002,
      FNumber: 4.5,
      FocalLength: 300,
      LensModel: 'Quorvane 300 mm f/4 Tele',
      DateTimeOriginal: '2026:05:18 06:41:09',
      Orientation: 1,
      ExifImageWidth: 60,
      ExifImageHeight: 44,
      ImageWidth: 60,
      ImageHeight: 44,
      Software: 'Vitrocept',
      GPSLatitudeRef: 'N',
    });
    expect(found.Warning).toBeUndefined();
    const { stdout } = spawnSync('exiftool', ['-validate', '-warning', '-a', path], { encoding: 'utf8' });
    expect(stdout).not.toMatch(/Error/);
  });
});

describe('colour profiles, as liblcms2 has them (transicc)', () => {
  // Wide primaries adapted to D50; and a parametric curve of kind 3 (ICC.1:2022, table 68): that of IEC 61966-2-1.
  const columns = [
    [0.6097, 0.3111, 0.0195],
    [0.2053, 0.6257, 0.0609],
    [0.1492, 0.0632, 0.7445],
  ];
  const PARAMETRIC = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045];

  /** What transicc makes of encoded triples in a profile, as XYZ of the connection space. */
  async function byEngine(profile: Buffer, triples: readonly number[][]): Promise<number[][]> {
    const path = join(folder, 'profile.icc');
    await writeFile(path, profile);
    const input = triples.map((triple) => triple.map((value) => 255 * value).join(' ')).join('\n');
    // Relative colorimetric, floating point, only numbers.
    const out = execFileSync('transicc', ['-v0', '-n', '-t1', '-i', path, '-o', '*XYZ'], {
      input: `${input}\n`,
      encoding: 'utf8',
    });
    return out
      .trim()
      .split('\n')
      .map((line) => line.trim().split(/\s+/).map(Number));
  }

  it.each([
    ['a gamma of 2.2', matrixProfile(columns, 2.2)],
    ['a parametric curve', matrixProfile(columns, 0, 'RGB ', undefined, PARAMETRIC)],
  ])('%s and a matrix: XYZ within 2e-4', async (_, profile) => {
    const triples = [
      [0, 0, 0],
      [1, 1, 1],
      [0.2, 0.5, 0.8],
      [0.9, 0.1, 0.02],
      [0.03, 0.4, 0.6],
    ];
    const expected = await byEngine(profile, triples);
    const { decode } = colourSpaceOf(profile, 3);
    triples.forEach((triple, i) => {
      const light = triple.map((value, c) => decode[c][Math.round(65535 * value)]);
      for (const axis of [0, 1, 2]) {
        const ours = light.reduce((sum, value, c) => sum + value * columns[c][axis], 0);
        // The engine prints XYZ in percent.
        expect(Math.abs(ours - expected[i][axis] / 100)).toBeLessThan(2e-4);
      }
    });
  });
});
