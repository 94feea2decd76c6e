import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run } from '@vitrocept/cli';
import type { Plane } from '@vitrocept/core';
import { makeCase, RECIPES, type Family, type PracticeCase } from './cases';
import { readEncoded, writeGrey, writePicture } from './caseFiles';
import { colourError, encodedLuma, halo, inventedDetail, psnr, ssim } from '@vitrocept/core';
import { fetchPictures } from './pictures';
import { moveBack, shiftBetween } from './registration';
import { ROOT } from './root';

interface Row {
  readonly family: Family;
  readonly name: string;
  readonly way: string;
  readonly figures: readonly number[];
}

const FIGURES = ['PSNR', 'SSIM', 'halo', 'invented', 'colour', 'shift'];
const DIGITS = [2, 3, 2, 3, 2, 2];
const REFERENCES = ['wiener', 'wiener_best', 'unsupervised_wiener', 'richardson_lucy', 'richardson_lucy_best'];

/**
 * Recovers every practice case through the command line, with nothing told and with the point spread function given,
 * beside scikit-image's methods, which are given it too. Prints each case and the means by family.
 */
export async function quality(only: RegExp | null): Promise<void> {
  fetchPictures();
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-quality-'));
  const rows: Row[] = [];
  let seed = 0;
  for (const recipe of RECIPES) {
    seed++;
    if (only && !only.test(recipe.name)) continue;
    const made = await judge(await makeCase(recipe, seed), join(folder, String(seed)));
    rows.push(...made);
    for (const row of made) print(`${row.way.padEnd(20)} ${row.name}`, row.figures);
  }
  rmSync(folder, { recursive: true });
  console.log(`\nMeans by family: ${FIGURES.join(' ')}`);
  const ways = [...new Set(rows.map(({ way }) => way))];
  const families = [...new Set(rows.map(({ family }) => family))];
  for (const family of [...families, 'all blurred'] as const) {
    for (const way of ways) {
      const chosen = rows.filter(
        (row) =>
          row.way === way &&
          (family === 'all blurred' ? row.family !== 'sharp' && row.family !== 'noise' : row.family === family),
      );
      if (chosen.length > 0) print(`${family.padEnd(12)} ${way.padEnd(20)} ${chosen.length}`, meanOf(chosen));
    }
  }
}

async function judge(made: PracticeCase, folder: string): Promise<Row[]> {
  mkdirSync(folder);
  const { recipe, psf, mask } = made;
  const input = join(folder, recipe.jpeg ? 'frame.jpg' : 'frame.png');
  await writePicture(made.degraded, input, recipe.jpeg);
  await writePicture(made.truth, join(folder, 'truth.png'), null);
  await writeGrey(psf, join(folder, 'psf.png'));
  if (mask) await writeGrey(mask, join(folder, 'mask.png'));
  const masked = mask ? ['--mask', join(folder, 'mask.png')] : [];
  const told = ['--psf', join(folder, 'psf.png')];
  await run(['render', input, '--out', join(folder, 'blind'), ...masked]);
  await run(['render', input, '--out', join(folder, 'told'), ...masked, ...told]);
  const [psfFile, truthFile] = ['psf.png', 'truth.png'].map((name) => join(folder, name));
  const maskFile = mask ? join(folder, 'mask.png') : '-';
  const reference = join(ROOT, 'bench', 'reference.py');
  execFileSync('/usr/bin/python3', [reference, input, psfFile, folder, truthFile, maskFile]);

  const truth = await readEncoded(join(folder, 'truth.png'));
  const files: [string, string][] = [
    ['input', input],
    ['Vitrocept, told', join(folder, 'told', 'frame.png')],
    ['Vitrocept, blind', join(folder, 'blind', 'frame.png')],
    ...REFERENCES.map((name): [string, string] => [name, join(folder, `${name}.png`)]),
  ];
  return Promise.all(
    files.map(async ([way, file]) => ({
      family: recipe.family,
      name: recipe.name,
      way,
      figures: figuresOf(await readEncoded(file), truth),
    })),
  );
}

function figuresOf(result: readonly Plane[], truth: readonly Plane[]): number[] {
  const shift = shiftBetween(result, truth);
  const placed = result.map((plane) => moveBack(plane, shift));
  const [luma, trueLuma] = [encodedLuma(placed), encodedLuma(truth)];
  return [
    psnr(placed, truth),
    ssim(placed, truth),
    halo(luma, trueLuma),
    inventedDetail(luma, trueLuma),
    colourError(placed, truth),
    Math.hypot(shift.x, shift.y),
  ];
}

function meanOf(rows: readonly Row[]): number[] {
  return FIGURES.map((_, i) => rows.reduce((sum, { figures }) => sum + figures[i], 0) / rows.length);
}

function print(name: string, figures: readonly number[]): void {
  console.log(`${name.padEnd(64)} ${figures.map((value, i) => value.toFixed(DIGITS[i])).join('  ')}`);
}
