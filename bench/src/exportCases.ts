import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  colourSpaceOf,
  cropPlane,
  placedIn,
  emptyPrescription,
  encodeChannels,
  automaticRecovery,
  acceptReading,
  FINAL_EFFORT,
  solveTile,
  takeReading,
  wholeOf,
  filledPlane,
} from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { makeCase, RECIPES } from './cases';
import { fetchPictures } from './pictures';

/**
 * Writes the told practice cases as plain arrays (float32, little-endian, planes one after the other, linear light) with
 * the answer of the present prior, for `training/prove.py`: so a new prior is held against it on the same pixels.
 */
export async function exportCases(folder: string, only: RegExp | null): Promise<void> {
  fetchPictures();
  mkdirSync(folder, { recursive: true });
  const kernels = await nodeKernels();
  const space = colourSpaceOf(null, 3);
  const index: object[] = [];
  for (const [i, recipe] of RECIPES.entries()) {
    if (recipe.jpeg || recipe.blur === 'none' || recipe.family === 'subject') continue;
    if (only && !only.test(recipe.name)) continue;
    const { degraded, truth, psf } = await makeCase(recipe, i + 1);
    const frame = { width: degraded[0].width, height: degraded[0].height };
    const whole = wholeOf(frame);
    const reading = takeReading({
      channels: degraded,
      lumaWeights: space.lumaWeights,
      use: filledPlane(frame.width, frame.height, 1),
      clipped: new Uint8Array(frame.width * frame.height),
      jpeg: false,
      kernels,
      psf,
    });
    const accepted = acceptReading(reading, { kind: 'mask', key: '' });
    const plan = {
      ...emptyPrescription(),
      reading: accepted,
      recovery: { ...automaticRecovery('camera-shake', accepted, 100), haloLimitPercent: null, trialId: null },
    };
    const piece = { region: whole, channels: 3 as const, codes: encodeChannels(degraded, space) };
    const solved = solveTile({ frame, space, psf }, plan, piece, whole, { ...FINAL_EFFORT, kernels })!;
    const name = `case${i}`;
    writeFileSync(join(folder, `${name}.degraded`), bytesOf(degraded));
    writeFileSync(join(folder, `${name}.truth`), bytesOf(truth));
    writeFileSync(join(folder, `${name}.psf`), bytesOf([psf]));
    writeFileSync(
      join(folder, `${name}.present`),
      bytesOf(solved.layers[0].recovered.answer.map((plane) => cropPlane(plane, placedIn(whole, solved.wide)))),
    );
    const { noise, floor } = reading;
    index.push({ name, recipe, ...frame, psfWidth: psf.width, psfHeight: psf.height, noise, floor });
    console.log(name, recipe.name);
  }
  writeFileSync(join(folder, 'index.json'), JSON.stringify(index, null, 1));
}

const bytesOf = (planes: readonly { readonly data: Float32Array }[]): Buffer =>
  Buffer.concat(planes.map(({ data }) => Buffer.from(data.buffer, data.byteOffset, data.byteLength)));
