import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { FileError } from '../fileError';
import type { DngLayout } from './dngLayout';

/** What is used of the raw library. */
interface RawLibrary {
  readonly LibRaw: new () => RawFile;
}
interface RawFile {
  open(bytes: Uint8Array, settings: object): void;
  metadata(isFull: boolean): Record<string, unknown> | undefined;
  rawImageData(): RawImage | undefined;
  delete?(): void;
}

interface RawImage {
  readonly raw_width: number;
  readonly raw_height: number;
  readonly data: Uint16Array;
}

/** The library's own build for the page starts a worker; its plain module runs in the thread that asks. */
async function library(): Promise<RawLibrary> {
  const require = createRequire(import.meta.url);
  const builds = dirname(require.resolve('libraw-wasm/dist/libraw.js'));
  const wasmBinary = await readFile(join(builds, 'libraw.wasm'));
  const { default: instantiate } = (await import(/* @vite-ignore */ pathToFileURL(join(builds, 'libraw.js')).href)) as {
    default: (options: object) => Promise<RawLibrary>;
  };
  return instantiate({ wasmBinary });
}

/**
 * The sensor's numbers of the active area as the raw library finds them.
 *
 * @throws FileError PICTURE_DAMAGED
 */
export async function libraryRawSamples(path: string, layout: DngLayout): Promise<Uint16Array> {
  // An instance each: what a damaged file leaves behind meets no other.
  const file = new (await library()).LibRaw();
  let found: RawImage | undefined;
  try {
    file.open(await readFile(path), {});
    found = file.rawImageData();
  } catch (error) {
    throw notRead((error as Error).message);
  } finally {
    file.delete?.();
  }
  const { raw_width: across, raw_height: down, data } = found ?? {};
  const { stored, active } = layout;
  if (across !== stored.width || down !== stored.height || !(data && data.length >= across * down)) {
    throw notRead('the raw library finds another size');
  }
  const out = new Uint16Array(active.width * active.height);
  for (let y = 0; y < active.height; y++) {
    const from = (active.y + y) * across + active.x;
    out.set(data.subarray(from, from + active.width), y * active.width);
  }
  return out;
}

const notRead = (why: string) =>
  new FileError('PICTURE_DAMAGED', `The DNG is damaged or cut off and cannot be read to its end (${why}).`);
