import {
  asciiField,
  longField,
  readDirectories,
  sourceOf,
  shortField,
  writeDirectories,
  type Directories,
  type Directory,
  type Field,
} from './ifd';

/** What is shown of a frame's exposure. Null where the file does not say. */
export interface Exposure {
  readonly iso: number | null;
  readonly shutterS: number | null;
  readonly fNumber: number | null;
  readonly focalLengthMm: number | null;
  readonly lens: string | null;
  readonly camera: string | null;
  /** As written by the camera, local time: 2026-05-18 06:41:09. */
  readonly takenAt: string | null;
}

export const NO_EXPOSURE: Exposure = {
  iso: null,
  shutterS: null,
  fNumber: null,
  focalLengthMm: null,
  lens: null,
  camera: null,
  takenAt: null,
};

/** Tags of the first directory that describe the shot; all others describe the stored samples and are left behind. */
const KEPT_MAIN_TAGS = new Set([0x010e, 0x010f, 0x0110, 0x0131, 0x0132, 0x013b, 0x8298]);
/** Maker notes hold offsets into the old file and would be wrong in a new one; the interoperability pointer too. */
const DROPPED_EXIF_TAGS = new Set([0x927c, 0xa005, 0xa002, 0xa003]);
const ORIENTATION = 0x0112;
const PIXEL_X = 0xa002;
const PIXEL_Y = 0xa003;

/** Tag numbers: Exif 2.32 (CIPA DC-008-2019), 4.6. */
export function readExposure({ main, exif }: Directories): Exposure {
  const date = ascii(exif.get(0x9003)) ?? ascii(main.get(0x0132));
  return {
    iso: integer(exif.get(0x8827)),
    shutterS: rational(exif.get(0x829a)),
    fNumber: rational(exif.get(0x829d)),
    focalLengthMm: rational(exif.get(0x920a)),
    lens: ascii(exif.get(0xa434)),
    camera: ascii(main.get(0x0110)),
    takenAt: date ? date.replace(/^(\d{4}):(\d\d):(\d\d)/, '$1-$2-$3') : null,
  };
}

export function orientationOf({ main }: Directories): number {
  const value = integer(main.get(ORIENTATION)) ?? 1;
  return value >= 1 && value <= 8 ? value : 1;
}

/** The descriptive tags for a new file: upright, with its own pixel size. */
export function carriedDirectories(from: Directories | null, width: number, height: number): Directories {
  const main: Directory = new Map();
  const exif: Directory = new Map();
  if (from) {
    for (const field of from.main.values()) if (KEPT_MAIN_TAGS.has(field.tag)) main.set(field.tag, field);
    for (const field of from.exif.values()) if (!DROPPED_EXIF_TAGS.has(field.tag)) exif.set(field.tag, field);
  }
  main.set(ORIENTATION, shortField(ORIENTATION, 1));
  if (!main.has(0x0131)) main.set(0x0131, asciiField(0x0131, 'Vitrocept'));
  exif.set(PIXEL_X, longField(PIXEL_X, width));
  exif.set(PIXEL_Y, longField(PIXEL_Y, height));
  return { main, exif, gps: new Map(from?.gps) };
}

/**
 * A bare Exif block (a TIFF stream without the “Exif\0\0” prefix). Where it may have only so many bytes (a segment of a
 * JPEG) its largest fields are left out until it has.
 */
export function exifBlock(from: Directories | null, width: number, height: number, most = Infinity): Buffer {
  const { main, exif, gps } = carriedDirectories(from, width, height);
  let block = writeDirectories({ main, exif, gps });
  while (block.length > most) {
    const fields = [main, exif, gps].flatMap((directory) =>
      [...directory.values()].map((field) => ({ directory, field })),
    );
    const largest = fields.reduce((a, b) => (b.field.value.length > a.field.value.length ? b : a));
    largest.directory.delete(largest.field.tag);
    block = writeDirectories({ main, exif, gps });
  }
  return block;
}

/** Directories of an Exif block with or without its prefix; null where it is damaged: a picture opens without it. */
export function parseExif(block: Buffer | undefined): Directories | null {
  if (!block) return null;
  const bare = block.toString('latin1', 0, 4) === 'Exif' ? block.subarray(6) : block;
  try {
    return readDirectories(sourceOf(bare));
  } catch {
    return null;
  }
}

function ascii(field: Field | undefined): string | null {
  if (!field || field.type !== 2) return null;
  return field.value.toString('utf8').replace(/\0.*$/s, '').trim() || null;
}

function integer(field: Field | undefined): number | null {
  if (!field) return null;
  if (field.type === 3 && field.value.length >= 2) return field.value.readUInt16LE(0);
  return field.type === 4 && field.value.length >= 4 ? field.value.readUInt32LE(0) : null;
}

function rational(field: Field | undefined): number | null {
  if (!field || field.type !== 5 || field.value.length < 8) return null;
  const divisor = field.value.readUInt32LE(4);
  return divisor ? field.value.readUInt32LE(0) / divisor : null;
}
