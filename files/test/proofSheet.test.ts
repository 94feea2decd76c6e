import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { expect, it } from 'vitest';
import { emptyPrescription, usualWishes } from '@vitrocept/core';
import { pageOf, proofSheet, readPicture, writeCopy, type Proved } from '../src';
import { printable, widthOf, wrapped } from '../src/proof/painter';
import { temporaryFolder } from './pictures';

const folder = await temporaryFolder();

/** A frame of grey with a white square, and a copy in which the square is red. */
async function proved(): Promise<Proved> {
  const original = join(folder, 'original.png');
  const square = { create: { width: 20, height: 20, channels: 3 as const, background: '#fff' } };
  const placed = { input: await sharp(square).png().toBuffer(), left: 150, top: 90 };
  await sharp({ create: { width: 400, height: 300, channels: 3, background: '#888' } })
    .composite([placed])
    .png()
    .toFile(original);
  const picture = await readPicture(original);
  const codes = Uint16Array.from(picture.samples, (v) => v * 257);
  for (let y = 90; y < 110; y++) for (let x = 150; x < 170; x++) codes.set([65535, 0, 0], 3 * (y * 400 + x));
  const copy = join(folder, 'copy.tiff');
  await writeCopy(copy, { facts: picture, pages: [pageOf('', codes, picture)], format: 'tiff16' }, 'allowed');
  const prescription = { ...emptyPrescription(), probes: [{ id: 'p', x: 160, y: 100, name: 'the square' }] };
  return {
    frameName: 'saltmere-0001.png',
    original,
    copy,
    copyName: 'saltmere-0001-recovered.tiff',
    prescription,
    wishes: usualWishes('tiff16', false),
    renderedAt: '2026-06-01T09:30:00.000Z',
  };
}

it('a PDF says what was done, with the hashes of both files, a page for each copy', async () => {
  const copy = await proved();
  const path = join(folder, 'proof.pdf');
  await writeFile(path, await proofSheet([copy, copy], 'pdf'));
  // Poppler reads it, and finds what a person would.
  const said = execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');
  for (const file of [copy.original, copy.copy]) {
    const hash = createHash('sha256')
      .update(await import('node:fs').then((fs) => fs.readFileSync(file)))
      .digest('hex');
    expect(said.replaceAll(' ', '')).toContain(hash);
  }
  expect(said).toContain('Proof sheet: saltmere-0001-recovered.tiff');
  expect(said).toContain('from saltmere-0001.png, 2026-06-01 09:30 UTC');
  expect(said).toContain('400 × 300 px');
  expect(said).toContain('Not judged.');
  expect(execFileSync('pdfinfo', [path], { encoding: 'utf8' })).toMatch(/Pages:\s+2/);
});

it('a PNG shows the original left and the copy right, the probe’s place as pixels', async () => {
  const { data, info } = await sharp(await proofSheet([await proved()], 'png'))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([1191, 1684]);
  const reds = { left: 0, right: 0 };
  let dark = 0;
  for (let i = 0; i < data.length; i += 3) {
    const [r, g, b] = data.subarray(i, i + 3);
    if (r > 250 && g < 40 && b < 40) reds[(i / 3) % info.width < info.width / 2 ? 'left' : 'right']++;
    if (r < 60 && g < 60 && b < 60) dark++;
  }
  expect(reds.left).toBe(0);
  // Enlarged by whole samples: an area, not a rim.
  expect(reds.right).toBeGreaterThan(4000);
  // Letters are there though no font is installed.
  expect(dark).toBeGreaterThan(2000);
});

it('the same sheet has the same bytes', async () => {
  const copy = await proved();
  expect((await proofSheet([copy], 'png')).equals(await proofSheet([copy], 'png'))).toBe(true);
});

it('text is broken into lines that fit, and letters the fonts lack are replaced', () => {
  const lines = wrapped('one two three four five six seven eight nine ten', 'words', 10, 60);
  expect(lines.length).toBeGreaterThan(3);
  for (const line of lines) expect(widthOf(line, 'words', 10)).toBeLessThanOrEqual(60);
  expect(lines.join(' ')).toBe('one two three four five six seven eight nine ten');
  const long = wrapped('x'.repeat(200), 'figures', 10, 100);
  expect(long.join('')).toBe('x'.repeat(200));
  expect(printable('2.0 ΔE₀₀ – 日')).toBe('2.0 dE00 – ?');
});
