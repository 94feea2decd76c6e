import { existsSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { intersect, type CodePiece, type Region, type Size } from '@vitrocept/core';
import { readPicture } from './readPicture';
import { writeAtomically } from './writeAtomically';

/** Decoded samples of an original lie in a file of their own, row by row, so that any piece can be read by itself. */
export interface SampleFile extends Size {
  readonly path: string;
  readonly original: string;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
}

/** Decodes the original unless that was done before. */
export async function ensureSamples({ path, original }: Pick<SampleFile, 'path' | 'original'>): Promise<void> {
  if (existsSync(path)) return;
  const { samples } = await readPicture(original);
  await writeAtomically(path, new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength));
}

/** Raw bytes of a region (clipped to the frame) at the file's own depth. */
export async function readSamples(file: SampleFile, wanted: Region): Promise<{ region: Region; bytes: Buffer }> {
  await ensureSamples(file);
  const region = intersect(wanted, { x: 0, y: 0, width: file.width, height: file.height });
  const perPixel = file.channels * (file.bits / 8);
  const perRow = region.width * perPixel;
  const bytes = Buffer.alloc(perRow * region.height);
  const handle = await open(file.path, 'r');
  try {
    if (region.width === file.width) {
      await handle.read(bytes, 0, bytes.length, region.y * perRow);
    } else {
      for (let row = 0; row < region.height; row++) {
        await handle.read(bytes, row * perRow, perRow, ((region.y + row) * file.width + region.x) * perPixel);
      }
    }
  } finally {
    await handle.close();
  }
  return { region, bytes };
}

export async function readCodes(file: SampleFile, wanted: Region): Promise<CodePiece> {
  const { region, bytes } = await readSamples(file, wanted);
  const count = region.width * region.height * file.channels;
  if (file.bits === 16)
    return { region, channels: file.channels, codes: new Uint16Array(bytes.buffer, bytes.byteOffset, count) };
  return { region, channels: file.channels, codes: Uint16Array.from(bytes, (value) => value * 257) };
}
