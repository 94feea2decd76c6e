import type { Size } from '@vitrocept/core';
import { copySpace } from './convertedPage';
import { FileError } from './fileError';

/** The package has no types of its own: what is used of it stands below. */
const LCMS: string = 'lcms-wasm';
const ROWS = 64;
/** LittleCMS, of which lcms-wasm is a build: relative colorimetric, and black taken to black. */
const RELATIVE_COLORIMETRIC = 1;
const BLACK_POINT = 0x2000;

/**
 * Samples of a picture whose profile works by tables, in ROMM RGB of 16 bits: relative colorimetric with black point
 * compensation.
 *
 * @throws FileError PROFILE_BROKEN
 */
export async function fromTableProfile(
  samples: Uint8Array | Uint16Array,
  { width, height }: Size,
  icc: Buffer,
): Promise<Uint16Array> {
  // Few files need it: it is loaded by the first that does.
  const { instantiate } = (await import(/* @vite-ignore */ LCMS)) as LcmsModule;
  const lcms = await instantiate();
  const wanted = copySpace('romm', 3).icc;
  const [from, to] = [icc, wanted].map((bytes) => lcms.cmsOpenProfileFromMem(new Uint8Array(bytes), bytes.length));
  if (!from || !to) throw broken();
  const bytes = samples.BYTES_PER_ELEMENT;
  const formats = [
    lcms.cmsFormatterForColorspaceOfProfile(from, bytes, 0),
    lcms.cmsFormatterForColorspaceOfProfile(to, 2, 0),
  ];
  const transform = lcms.cmsCreateTransform(from, formats[0], to, formats[1], RELATIVE_COLORIMETRIC, BLACK_POINT);
  if (!transform) throw broken();
  const out = new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y += ROWS) {
    const end = Math.min(height, y + ROWS) * width * 3;
    const part = samples.subarray(y * width * 3, end);
    out.set(lcms.cmsDoTransform(transform, part, part.length / 3), y * width * 3);
  }
  lcms.cmsDeleteTransform(transform);
  lcms.cmsCloseProfile(from);
  lcms.cmsCloseProfile(to);
  return out;
}

const broken = () =>
  new FileError('PROFILE_BROKEN', 'The colour profile inside the file is damaged and cannot be used.');

interface LcmsModule {
  instantiate(): Promise<Lcms>;
}

interface Lcms {
  cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
  cmsCloseProfile(profile: number): void;
  cmsFormatterForColorspaceOfProfile(profile: number, bytes: number, isFloat: number): number;
  cmsCreateTransform(from: number, format: number, to: number, toFormat: number, intent: number, flags: number): number;
  cmsDoTransform(transform: number, samples: Uint8Array | Uint16Array, count: number): Uint8Array | Uint16Array;
  cmsDeleteTransform(transform: number): void;
}
