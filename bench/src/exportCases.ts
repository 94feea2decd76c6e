import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { throughMosaic, type Plane } from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { makeCase, RECIPES } from './cases';
import { fetchPictures } from './pictures';
import { solveTold } from './toldSolve';

/**
 * Writes the told practice cases as plain arrays (float32, little-endian, planes one after the other, linear light)
 * with the answer of the present prior, for `training/prove.py`: so a new prior is held against it on the same pixels.
 */
export async function exportCases(folder: string, only: RegExp | null): Promise<void> {
  fetchPictures();
  mkdirSync(folder, { recursive: true });
  const kernels = await nodeKernels();
  const index: object[] = [];
  for (const [i, recipe] of RECIPES.entries()) {
    if (recipe.jpeg || recipe.blur === 'none' || recipe.family === 'subject') continue;
    if (only && !only.test(recipe.name)) continue;
    const { degraded, truth, psf } = await makeCase(recipe, i + 1);
    const { seen, present, weak, noise, guard, floor } = solveTold(degraded, psf, kernels);
    const name = `case${i}`;
    const planes = { degraded, truth, psf: [psf], seen, present, weak };
    for (const [kind, list] of Object.entries(planes)) writeFileSync(join(folder, `${name}.${kind}`), bytesOf(list));
    const { width, height } = degraded[0];
    index.push({ name, recipe, width, height, psfWidth: psf.width, psfHeight: psf.height, noise, guard, floor });
    console.log(name, recipe.name);
  }
  writeFileSync(join(folder, 'index.json'), JSON.stringify(index, null, 1));
}

interface Pair {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly psfWidth: number;
  readonly psfHeight: number;
  readonly jpeg: boolean;
  readonly mosaic: boolean;
  readonly cleaned: boolean;
}

/** Solves the patches that `training/pairs.py` wrote, beside them; a second process may take the other half of them. */
export async function solvePairs(folder: string, half: number | null): Promise<void> {
  const kernels = await nodeKernels();
  const index = JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as Pair[];
  for (const [i, pair] of index.entries()) {
    const { name, width, height, psfWidth, psfHeight } = pair;
    if (half !== null && i % 2 !== half) continue;
    const photographed = planesIn(join(folder, `${name}.degraded`), width, height);
    const degraded = pair.mosaic ? throughMosaic(photographed) : photographed;
    const [psf] = planesIn(join(folder, `${name}.psf`), psfWidth, psfHeight);
    const { seen, present, weak, noise, guard, hidesNoise } = solveTold(degraded, psf, kernels, pair);
    for (const [kind, planes] of Object.entries({ seen, present, weak })) {
      writeFileSync(join(folder, `${name}.${kind}`), bytesOf(planes));
    }
    writeFileSync(join(folder, `${name}.noise.json`), JSON.stringify({ noise, guard, hidesNoise }));
    if (i % 100 < 2) console.log(`${i} of ${index.length}`);
  }
}

function planesIn(file: string, width: number, height: number): Plane[] {
  const bytes = readFileSync(file);
  const all = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const size = width * height;
  return Array.from({ length: all.length / size }, (_, c) => ({
    width,
    height,
    data: all.slice(c * size, (c + 1) * size),
  }));
}

const bytesOf = (planes: readonly Plane[]): Buffer =>
  Buffer.concat(planes.map(({ data }) => Buffer.from(data.buffer, data.byteOffset, data.byteLength)));
