import { closeSync, existsSync, fstatSync, openSync, readSync, rmSync, utimesSync } from 'node:fs';
import { crc32 } from 'node:zlib';
import { intersect, type CodePiece, type Region, type Size } from '@vitrocept/core';
import { keepFacts } from './keptFacts';
import { readPicture } from './readPicture';
import { writeAtomically } from './writeAtomically';

/** Decoded samples of an original lie in a file of their own, row by row, so that any piece can be read by itself. */
export interface SampleFile extends Size {
  readonly path: string;
  readonly original: string;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
}

/** After the samples: these eight letters, how many bytes the samples have, and their CRC-32. */
const MARK = 'VCSAMPLE';
const TRAILER_BYTES = 8 + 8 + 4;
const BLOCK_BYTES = 4 * 1024 * 1024;
/** Sample files that were found whole, with the state they were in: looked through once a process. */
const foundWhole = new Map<string, string>();

/** Decodes the original unless that was done before and what was written then is still whole. */
export async function ensureSamples({ path, original }: Pick<SampleFile, 'path' | 'original'>): Promise<void> {
  if (isWhole(path)) return;
  const { samples, icc, sensorNoise } = await readPicture(original);
  await keepFacts(path, { icc, sensorNoise });
  await writeSamples(path, new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength));
}

export async function writeSamples(path: string, bytes: Uint8Array): Promise<void> {
  const trailer = Buffer.alloc(TRAILER_BYTES);
  trailer.write(MARK, 0, 'latin1');
  trailer.writeBigUInt64LE(BigInt(bytes.length), 8);
  trailer.writeUInt32LE(crc32(bytes), 16);
  await writeAtomically(path, [bytes, trailer]);
}

/** Whether a sample file has its length and its checksum; marks it as used just now. */
export function isWhole(path: string): boolean {
  if (!existsSync(path)) return false;
  const file = openSync(path, 'r');
  try {
    const { size, mtimeMs, ino } = fstatSync(file);
    const state = `${size} ${mtimeMs} ${ino}`;
    if (foundWhole.get(path) === state) return true;
    if (!matchesTrailer(file, size)) return false;
    // Reading leaves the time of change alone; the time of access tells which file was used last.
    foundWhole.set(path, state);
    utimesSync(path, new Date(), new Date(mtimeMs));
    const { mtimeMs: after } = fstatSync(file);
    foundWhole.set(path, `${size} ${after} ${ino}`);
    return true;
  } finally {
    closeSync(file);
  }
}

function matchesTrailer(file: number, size: number): boolean {
  const trailer = Buffer.alloc(TRAILER_BYTES);
  const length = size - TRAILER_BYTES;
  if (length < 0 || readSync(file, trailer, 0, TRAILER_BYTES, length) !== TRAILER_BYTES) return false;
  if (trailer.toString('latin1', 0, 8) !== MARK || trailer.readBigUInt64LE(8) !== BigInt(length)) return false;
  const block = Buffer.alloc(Math.min(BLOCK_BYTES, Math.max(1, length)));
  let sum = 0;
  for (let at = 0; at < length;) {
    const got = readSync(file, block, 0, Math.min(block.length, length - at), at);
    if (got === 0) return false;
    sum = crc32(block.subarray(0, got), sum);
    at += got;
  }
  return trailer.readUInt32LE(16) === sum;
}

/** Raw bytes of a region (clipped to the frame) at the file's own depth. */
export async function readSamples(file: SampleFile, wanted: Region): Promise<{ region: Region; bytes: Buffer }> {
  await ensureSamples(file);
  const region = intersect(wanted, { x: 0, y: 0, width: file.width, height: file.height });
  const perPixel = file.channels * (file.bits / 8);
  const perRow = region.width * perPixel;
  const bytes = Buffer.alloc(perRow * region.height);
  const handle = openSync(file.path, 'r');
  try {
    const isWide = region.width === file.width;
    const runs = isWide ? Math.min(1, region.height) : region.height;
    const perRun = isWide ? bytes.length : perRow;
    for (let run = 0; run < runs; run++) {
      const at = ((region.y + run) * file.width + region.x) * perPixel;
      if (readSync(handle, bytes, run * perRun, perRun, at) < perRun) throw shortened(file.path);
    }
  } finally {
    closeSync(handle);
  }
  return { region, bytes };
}

/** The next asker gets them made again. */
function shortened(path: string): Error {
  foundWhole.delete(path);
  rmSync(path, { force: true });
  return new Error('The decoded samples were shorter than they should be; they are made again. Try once more.');
}

export async function readCodes(file: SampleFile, wanted: Region): Promise<CodePiece> {
  const { region, bytes } = await readSamples(file, wanted);
  const { channels } = file;
  const count = region.width * region.height * channels;
  if (file.bits === 16) return { region, channels, codes: new Uint16Array(bytes.buffer, bytes.byteOffset, count) };
  const codes = new Uint16Array(count);
  for (let i = 0; i < count; i++) codes[i] = bytes[i] * 257;
  return { region, channels, codes };
}

const BAND_SAMPLES = 4e6;

/** All of a frame from top to bottom, a few rows at a time: a large frame is never held whole. */
export async function* bandsOf(file: SampleFile): AsyncGenerator<CodePiece> {
  const { width, height, channels } = file;
  const rows = Math.max(1, Math.floor(BAND_SAMPLES / (width * channels)));
  for (let y = 0; y < height; y += rows) {
    yield await readCodes(file, { x: 0, y, width, height: Math.min(rows, height - y) });
  }
}
