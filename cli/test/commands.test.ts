import { crc32 } from 'node:zlib';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { emptyPrescription } from '@vitrocept/core';
import { readPicture } from '@vitrocept/files';
import { discPsf } from '../../core/src/psf/discPsf';
import { convolve, deadLeaves, withNoise } from '../../core/test/synthetic';
import { sharp16 } from '../../files/test/pictures';
import { srgbEncode } from '../../core/src';
import { vitroceptIn } from './vitrocept';

let folder: string;

/** Calls the program as a person would, from the folder with the pictures. */
const vitrocept = (...args: string[]) => vitroceptIn(folder, ...args);

async function savedGrey(
  name: string,
  values: Float32Array,
  width: number,
  height: number,
  encode = srgbEncode,
): Promise<void> {
  const codes = Uint16Array.from(values, (value) => Math.round(65535 * Math.min(1, Math.max(0, encode(value)))));
  await writeFile(join(folder, name), await sharp16(codes, width, height, 1).png().toBuffer());
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-cli-'));
  const truth = deadLeaves(240, 200, 21);
  await savedGrey('sharp.png', withNoise(truth, 0.002, 1).data, 240, 200);
  await savedGrey('soft.png', withNoise(convolve(truth, discPsf(3)), 0.003, 2).data, 240, 200);
  const psf = discPsf(3);
  const most = Math.max(...psf.data);
  await savedGrey(
    'psf.png',
    psf.data.map((value) => value / most),
    psf.width,
    psf.height,
    (value) => value,
  );
  const mask = new Float32Array(240 * 200);
  for (let y = 50; y < 150; y++) mask.fill(1, y * 240 + 60, y * 240 + 180);
  await savedGrey('mask.png', mask, 240, 200, (value) => value);
  await writeFile(join(folder, 'broken.jpg'), 'not a picture');
  await writeFile(join(folder, 'other.json'), JSON.stringify({ version: 7 }));
  await writeFile(join(folder, 'plan.json'), JSON.stringify(emptyPrescription()));
});

describe('read', () => {
  it('prints one row a file; a bad file gives its error, the rest goes on, exit 1', () => {
    const { code, out } = vitrocept('read', 'soft.png', 'broken.jpg', 'sharp.png', '--json');
    expect(code).toBe(1);
    const [soft, broken, sharp] = JSON.parse(out);
    expect(soft).toMatchObject({
      file: 'soft.png',
      method: 'missed-focus',
      directionDeg: 0,
      lengthPx: null,
      sigmaPx: null,
      pile: 'soft',
    });
    expect(Math.abs(soft.radiusPx - 3)).toBeLessThan(0.15);
    expect(soft.blurSizePx).toBeCloseTo(2 * soft.radiusPx, 2);
    // Of leaves of one light each softness would do nearly the same.
    expect(soft.confidence).toBeGreaterThan(0.3);
    expect(soft.confidence).toBeLessThanOrEqual(0.95);
    expect(soft).toMatchObject({ measuredOver: 'whole frame', subjectShare: null, leftAlone: null });
    expect(soft.noise.a).toHaveLength(3);
    expect(soft.noise.sigmaMidPercent).toBeGreaterThan(0);
    expect(broken).toEqual({
      file: 'broken.jpg',
      error: expect.stringMatching(/not a JPEG, PNG, DNG, raw, TIFF or AVIF/),
    });
    expect(sharp).toMatchObject({ method: 'none', blurSizePx: 0, radiusPx: null, runnerUp: expect.any(String) });
  });

  it('says in a sentence that a file is not there, or is a folder', () => {
    const { code, out } = vitrocept('read', 'nowhere.jpg', '.', '--json');
    expect(code).toBe(1);
    const [missing, folderRow] = JSON.parse(out);
    expect(missing.error).toMatch(/^There is no file .*nowhere\.jpg\.$/);
    expect(folderRow.error).toMatch(/ is not a file\.$/);
  });

  it('measures the whole frame when asked, but not under a mask as well', () => {
    const [row] = JSON.parse(vitrocept('read', 'soft.png', '--whole-frame', '--json').out);
    expect(row).toMatchObject({ measuredOver: 'whole frame', method: 'missed-focus' });
    const both = vitrocept('read', 'soft.png', '--whole-frame', '--mask', 'mask.png', '--json');
    expect(both.code).toBe(2);
    expect(both.errors).toMatch(/exclude each other/);
  });

  it('measures over a mask, and refuses one of another size', () => {
    expect(JSON.parse(vitrocept('read', 'soft.png', '--mask', 'mask.png', '--json').out)[0].method).toBe(
      'missed-focus',
    );
    const { code, out } = vitrocept('read', 'soft.png', '--mask', 'psf.png', '--json');
    expect(code).toBe(1);
    expect(JSON.parse(out)[0].error).toMatch(/they must be equal/);
  });
});

describe('render', () => {
  it('follows the reading: soft is recovered, sharp is left alone; relative paths, own endings', async () => {
    const { code } = vitrocept('render', 'soft.png', 'sharp.png', '--out', 'out', '--format', 'tiff16');
    expect(code).toBe(0);
    expect((await readdir(join(folder, 'out'))).sort()).toEqual(['sharp.tiff', 'soft.tiff']);
    const samples = async (path: string) => Array.from((await readPicture(join(folder, path))).samples);
    expect(await samples('out/sharp.tiff')).toEqual(await samples('sharp.png'));
    expect(await samples('out/soft.tiff')).not.toEqual(await samples('soft.png'));
  });

  it('with a point spread function and a mask: outside the mask nothing changes', async () => {
    expect(vitrocept('render', 'soft.png', '--out', 'told', '--psf', 'psf.png', '--mask', 'mask.png').code).toBe(0);
    const before = (await readPicture(join(folder, 'soft.png'))).samples;
    const after = (await readPicture(join(folder, 'told/soft.png'))).samples;
    let [inside, outside] = [0, 0];
    for (let i = 0; i < before.length; i++) {
      const isIn = i % 240 >= 60 && i % 240 < 180 && i >= 50 * 240 && i < 150 * 240;
      if (before[i] === after[i]) continue;
      if (isIn) inside++;
      else outside++;
    }
    expect(outside).toBe(0);
    expect(inside).toBeGreaterThan(8000);
  });

  it('learned texture is on by itself, and left out when told', async () => {
    const told = ['--psf', 'psf.png'];
    const written = async (out: string, ...more: string[]) => {
      expect(vitrocept('render', 'soft.png', '--out', out, ...told, ...more).code).toBe(0);
      return Array.from((await readPicture(join(folder, out, 'soft.png'))).samples);
    };
    const [own, learned, plain] = [
      await written('own'),
      await written('learned', '--texture', 'learned'),
      await written('plain', '--texture', 'plain'),
    ];
    expect(own).toEqual(learned);
    expect(plain).not.toEqual(learned);
    const { code, errors } = vitrocept('render', 'soft.png', '--out', 'none', '--texture', 'felt');
    expect(code).toBe(2);
    expect(errors).toContain('learned');
  });

  it('amount 0 is the original; a prescription is followed', async () => {
    vitrocept('render', 'soft.png', '--out', 'none', '--method', 'missed-focus', '--blur-size', '6', '--amount', '0');
    vitrocept('render', 'soft.png', '--out', 'planned', '--prescription', 'plan.json');
    const bytes = async (path: string) => Array.from((await readPicture(join(folder, path))).samples);
    expect(await bytes('none/soft.png')).toEqual(await bytes('soft.png'));
    expect(await bytes('planned/soft.png')).toEqual(await bytes('soft.png'));
  });

  it('a prescription’s crop and turn give the written file its size', async () => {
    const geometry = { crop: { x: 10, y: 20, width: 100, height: 60 }, quarterTurns: 3 } as const;
    await writeFile(join(folder, 'turned.json'), JSON.stringify({ ...emptyPrescription(), geometry }));
    vitrocept('render', 'soft.png', '--out', 'turned', '--prescription', 'turned.json', '--format', 'tiff16');
    const [is, whole] = await Promise.all(
      ['turned/soft.tiff', 'soft.png'].map((name) => readPicture(join(folder, name))),
    );
    expect(is).toMatchObject({ width: 60, height: 100, bits: 16 });
    // By three quarters: the upper right corner of the crop is the upper left of the picture.
    const corner = (20 * whole.width + 109) * whole.channels;
    expect(is.samples[0]).toBe(whole.samples[corner] * (whole.bits === 8 ? 257 : 1));
  });

  it('a copy is proved by its original and its prescription, or it is said where it differs', async () => {
    const prove = (copy: string, plan: string) => vitrocept('prove', copy, 'soft.png', '--prescription', plan);
    vitrocept('render', 'soft.png', '--out', 'turned', '--prescription', 'turned.json', '--format', 'tiff16');
    const yes = prove('turned/soft.tiff', 'turned.json');
    expect([yes.code, yes.out]).toEqual([0, expect.stringMatching(/^Yes: every sample of turned\/soft\.tiff/)]);
    const size = prove('turned/soft.tiff', 'plan.json');
    expect([size.code, size.out]).toEqual([1, expect.stringMatching(/^No: .* the prescription gives 240 × 200 px/)]);
    // One sample of one px is off.
    const spoiled = await readPicture(join(folder, 'soft.png'));
    spoiled.samples[51 * 240 + 17] ^= 4;
    await writeFile(
      join(folder, 'spoiled.png'),
      await sharp16(spoiled.samples as Uint16Array, 240, 200, 1)
        .png()
        .toBuffer(),
    );
    const no = prove('spoiled.png', 'plan.json');
    expect([no.code, no.out]).toEqual([1, expect.stringMatching(/^No: 1 px .* from 17, 51 to 17, 51\.$/m)]);
    expect(prove('spoiled.png', 'plan.json').out).not.toBe(prove('soft.png', 'plan.json').out);
    expect(vitrocept('prove', 'soft.png', 'soft.png').errors).toMatch(/needs --prescription/);
  });

  it('a copy that is seen otherwise is not proved, though its samples are the same', async () => {
    vitrocept('render', 'soft.png', '--out', 'proved', '--prescription', 'plan.json');
    const prove = (copy: string) => vitrocept('prove', copy, 'soft.png', '--prescription', 'plan.json');
    expect(prove('proved/soft.png').out).toMatch(/^Yes: /);
    const own = await readFile(join(folder, 'proved', 'soft.png'));
    const grey = () => sharp(own).toColourspace('grey16');
    const pages = [grey(), grey()].map((one) => one.tiff({ compression: 'none' }).toBuffer());
    const seenThrough = Buffer.alloc(2);
    const gamma = Buffer.alloc(4);
    gamma.writeUInt32BE(100_000);
    await writeFile(join(folder, 'colour.png'), await sharp(own).toColourspace('srgb').png().toBuffer());
    const still = JSON.stringify({
      ...(JSON.parse(await readFile(join(folder, 'plan.json'), 'utf8')) as object),
      recovery: null,
    });
    await writeFile(join(folder, 'still.json'), still);
    const asItIs = await readFile(join(folder, 'colour.png'));
    await writeFile(join(folder, 'gamma.png'), withChunk(asItIs, 'gAMA', gamma));
    const held = (copy: string) => vitrocept('prove', copy, 'colour.png', '--prescription', 'still.json').out;
    expect(held('colour.png')).toMatch(/^Yes: /);
    expect(held('gamma.png')).toMatch(/^No: the colours/);
    const otherwise = {
      'hole.png': await grey().ensureAlpha(0.5).png().toBuffer(),
      'through.png': withChunk(own, 'tRNS', seenThrough),
      'pages.tiff': await sharp(await Promise.all(pages), { join: { animated: true } })
        .tiff()
        .toBuffer(),
    };
    for (const [name, bytes] of Object.entries(otherwise)) {
      await writeFile(join(folder, name), bytes);
      const { code, out } = prove(name);
      expect([name, code, out]).toEqual([name, 1, expect.stringMatching(/^No: .*(seen through|pages)/)]);
    }
  });

  it('never writes over what is there, unless it is told to, and never over an original', async () => {
    await writeFile(join(folder, 'pair.jpg'), await sharp(join(folder, 'sharp.png')).jpeg().toBuffer());
    await writeFile(join(folder, 'pair.png'), 'somebody’s own');
    const { code, errors } = vitrocept('render', 'pair.jpg', '--out', '.', '--method', 'edge-contrast');
    expect(code).toBe(2);
    expect(errors).toMatch(/pair\.png is there already and stays as it is/);
    expect(await readFile(join(folder, 'pair.png'), 'utf8')).toBe('somebody’s own');
    const again = vitrocept('render', 'pair.jpg', '--out', '.', '--method', 'edge-contrast', '--replace');
    expect(again.code).toBe(0);
    expect(await readPicture(join(folder, 'pair.png'))).toMatchObject({ width: 240, bits: 16 });
    expect(vitrocept('render', 'soft.png', '--out', '.', '--replace').errors).toMatch(/would replace an original/);
    for (const name of ['pair.jpg', 'pair.png']) await rm(join(folder, name));
  });

  it.each([
    [['render', 'soft.png'], /needs --out/],
    [['render', 'soft.png', '--out', 'broken.jpg'], /--out must be a folder; broken\.jpg is a file/],
    [['render', 'soft.png', '--out', '.'], /would replace an original/],
    [['render', 'soft.png', './soft.png', '--out', 'x'], /would both become/],
    [['render', 'soft.png', '--out', 'x', '--method', 'magic'], /--method must be one of/],
    [['render', 'soft.png', '--out', 'x', '--amount', '200'], /from 0 to 100/],
    [['render', 'soft.png', '--out', 'x', '--prescription', 'other.json'], /version 7/],
    [['render', 'soft.png', '--out', 'x', '--psf', 'mask.png'], /odd sides/],
    [['read', 'soft.png'], /add --json/],
    [['melt'], /no command “melt”/],
    [[], /A command is missing/],
  ] as const)('wrong usage exits 2 with nothing done: %j', async (args, sentence) => {
    const { code, errors, out } = vitrocept(...args);
    expect(code).toBe(2);
    expect(errors).toMatch(sentence);
    expect(out).toBe('');
    expect(await readdir(folder)).not.toContain('x');
  });

  it('--help explains', () => {
    const { code, out } = vitrocept('--help');
    expect(code).toBe(0);
    for (const word of ['read FILE', 'render FILE', '--psf', '--mask', 'Exit: 0']) expect(out).toContain(word);
  });
});

it('the original files were never touched', async () => {
  expect(await readFile(join(folder, 'broken.jpg'), 'utf8')).toBe('not a picture');
  expect((await sharp(join(folder, 'soft.png')).metadata()).width).toBe(240);
});

/** After IHDR: W3C PNG (third edition), 5.2 and 5.3. */
function withChunk(png: Buffer, kind: string, body: Buffer): Buffer {
  const named = Buffer.concat([Buffer.from(kind, 'latin1'), body]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(body.length);
  sum.writeUInt32BE(crc32(named));
  return Buffer.concat([png.subarray(0, 33), length, named, sum, png.subarray(33)]);
}
