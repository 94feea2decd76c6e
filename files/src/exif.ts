import type { CopyMetadata } from '@vitrocept/core';
import {
  asciiField,
  longField,
  rationalField,
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
/** XMP packet and IPTC datasets in a TIFF directory: XMP specification part 3, 1.1.4; TIFF/EP. */
export const XMP_TAG = 700;
export const IPTC_TAG = 33723;
/** Written as whole numbers of four bytes, as readers expect it, filled up with zeros. */
export function iptcField(iptc: Buffer): Field {
  const value = Buffer.concat([iptc, Buffer.alloc((4 - (iptc.length % 4)) % 4)]);
  return { tag: IPTC_TAG, type: 4, count: value.length / 4, value };
}

const ORIENTATION = 0x0112;
const COLOR_SPACE = 0xa001;
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

/**
 * Whether a camera says that its picture is in its optional colour space, opRGB.
 * Source: DCF 2.0 (CIPA DC-009-2010), 5: ColorSpace uncalibrated with the interoperability index R03.
 */
export const isOpRgb = ({ exif, interop }: Directories): boolean =>
  integer(exif.get(COLOR_SPACE)) === 65535 && ascii(interop?.get(1)) === 'R03';

export function orientationOf({ main }: Directories): number {
  const value = integer(main.get(ORIENTATION)) ?? 1;
  return value >= 1 && value <= 8 ? value : 1;
}

/** What is carried over, and what is said anew. */
export interface Carrying {
  readonly metadata?: CopyMetadata;
  /** ISO 8601; null: not said anew. */
  readonly changedAt?: string | null;
  readonly ppi?: number | null;
  /** EXIF ColorSpace where the copy was converted: 1 sRGB, 65535 any other. */
  readonly colorSpace?: number;
}

const SOFTWARE = 0x0131;
const CHANGED = 0x0132;
const X_RESOLUTION = 0x011a;
const Y_RESOLUTION = 0x011b;
const RESOLUTION_UNIT = 0x0128;
const INCH = 2;
/** Exif 2.32, 4.6.4: what is written where the resolution is unknown. */
const UNKNOWN_PPI = 72;

/** EXIF knows no zone here: local time, as cameras write it. */
function exifDate(iso: string): string {
  const at = new Date(iso);
  const two = (value: number) => String(value).padStart(2, '0');
  const day = [at.getFullYear(), at.getMonth() + 1, at.getDate()].map(two).join(':');
  return `${day} ${[at.getHours(), at.getMinutes(), at.getSeconds()].map(two).join(':')}`;
}

/** The descriptive tags for a new file: upright, with its own pixel size. */
export function carriedDirectories(
  from: Directories | null,
  width: number,
  height: number,
  { metadata = 'all', changedAt = null, ppi = null, colorSpace }: Carrying = {},
): Directories {
  const main: Directory = new Map();
  const exif: Directory = new Map();
  if (from && metadata !== 'none') {
    for (const field of from.main.values()) if (KEPT_MAIN_TAGS.has(field.tag)) main.set(field.tag, field);
    for (const field of from.exif.values()) if (!DROPPED_EXIF_TAGS.has(field.tag)) exif.set(field.tag, field);
  }
  main.set(ORIENTATION, shortField(ORIENTATION, 1));
  main.set(SOFTWARE, asciiField(SOFTWARE, 'Vitrocept'));
  if (changedAt) main.set(CHANGED, asciiField(CHANGED, exifDate(changedAt)));
  for (const tag of [X_RESOLUTION, Y_RESOLUTION]) main.set(tag, rationalField(tag, ppi ?? UNKNOWN_PPI));
  main.set(RESOLUTION_UNIT, shortField(RESOLUTION_UNIT, INCH));
  if (colorSpace !== undefined) exif.set(COLOR_SPACE, shortField(COLOR_SPACE, colorSpace));
  exif.set(PIXEL_X, longField(PIXEL_X, width));
  exif.set(PIXEL_Y, longField(PIXEL_Y, height));
  return { main, exif, gps: new Map(metadata === 'all' ? from?.gps : []) };
}

/**
 * A bare Exif block (a TIFF stream without the “Exif\0\0” prefix). Where it may have only so many bytes (a segment of a
 * JPEG) its largest fields are left out until it has.
 */
export function exifBlock(
  from: Directories | null,
  width: number,
  height: number,
  carrying: Carrying = {},
  most = Infinity,
): Buffer {
  const { main, exif, gps } = carriedDirectories(from, width, height, carrying);
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
