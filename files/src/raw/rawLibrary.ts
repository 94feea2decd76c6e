import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';

/** What is used of the raw library, LibRaw as WebAssembly. */
interface RawLibrary {
  readonly LibRaw: new () => RawFile;
}

interface RawFile {
  open(bytes: Uint8Array, settings: object): void;
  metadata(isFull: boolean): RawFacts | undefined;
  rawImageData(): RawImage | undefined;
  delete?(): void;
}

/** Sensor numbers as they are stored, margins with them. */
export interface RawImage {
  readonly raw_width: number;
  readonly raw_height: number;
  readonly top_margin: number;
  readonly left_margin: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/** What the library says of a file, by its own names. */
export interface RawFacts {
  readonly width: number;
  readonly height: number;
  readonly raw_width: number;
  readonly raw_height: number;
  /** Four directions: 0 upright, 3 half a turn, 5 a quarter turn left, 6 right. */
  readonly flip: number;
  readonly camera_make: string;
  readonly camera_model: string;
  readonly iso_speed: number;
  readonly shutter: number;
  readonly aperture: number;
  readonly focal_len: number;
  /** Seconds since 1970, of the camera's own clock. */
  readonly timestamp: number;
  readonly lens?: { readonly Lens?: string };
  readonly colors: number;
  /** The mosaic, two bits a place; 0 without one, 9 for one of 6 × 6. */
  readonly filters: number;
  readonly color_data: {
    readonly black: number;
    readonly cblack?: ArrayLike<number>;
    readonly maximum: number;
    readonly cam_mul: readonly number[];
    readonly pre_mul: readonly number[];
    /** Balanced camera colours to linear sRGB. */
    readonly rgb_cam: readonly (readonly number[])[];
  };
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
 * What the raw library finds in a file; its sensor numbers only where they are asked for. Null where it does not know
 * the file or finds it damaged. An instance each: what a damaged file leaves behind meets no other.
 */
export async function openRaw(
  path: string,
  wantsNumbers: boolean,
): Promise<{ readonly facts: RawFacts; readonly image: RawImage | null } | null> {
  const file = new (await library()).LibRaw();
  try {
    file.open(await readFile(path), {});
    const facts = file.metadata(true);
    const image = wantsNumbers ? (file.rawImageData() ?? null) : null;
    return facts ? { facts, image } : null;
  } catch {
    // Its errors are numbers of its own, without words.
    return null;
  } finally {
    file.delete?.();
  }
}
