import { FileError } from './fileError';

/** One field of a TIFF directory with its value as raw little-endian bytes. */
export interface Field {
  readonly tag: number;
  readonly type: number;
  readonly count: number;
  readonly value: Buffer;
}

export type Directory = Map<number, Field>;

/** Bytes per value of each field type. Source: TIFF 6.0 (1992), section 2; Exif 2.32 uses the same types. */
const TYPE_BYTES: Record<number, number> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
};
/** Width of the units that a byte order change turns around. */
const SWAP_BYTES: Record<number, number> = { 3: 2, 4: 4, 5: 4, 8: 2, 9: 4, 10: 4, 11: 4, 12: 8 };
const MOST_FIELDS = 2000;
const MOST_PAGES = 200;
const MOST_VALUE_BYTES = 1 << 20;
/** Of all fields of one directory together: many may point to the same bytes. */
const MOST_DIRECTORY_BYTES = 1 << 24;
const MOST_PAGES_BYTES = 1 << 26;

export const EXIF_POINTER = 0x8769;
export const GPS_POINTER = 0x8825;
const INTEROP_POINTER = 0xa005;

/**
 * The first directory and the Exif and GPS directories it points to, of a TIFF stream (a TIFF file or an Exif block).
 */
export interface Directories {
  readonly main: Directory;
  readonly exif: Directory;
  readonly gps: Directory;
  /** What the Exif directory points to: how files are exchanged. */
  readonly interop?: Directory;
}

/** Bytes that are read where they are needed: of a buffer, or of a file that is not read whole. */
export interface ByteSource {
  readonly length: number;
  /** Fewer bytes where the source ends before. */
  read(at: number, length: number): Buffer;
}

export const sourceOf = (bytes: Buffer): ByteSource => ({
  length: bytes.length,
  read: (at, length) => bytes.subarray(at, at + length),
});

/** @throws FileError TIFF_BROKEN */
export function readDirectories(source: ByteSource): Directories {
  const [main] = readPages(source, 1);
  return withPointed(source, main);
}

/** The directories that one of a page points to. @throws FileError TIFF_BROKEN */
export function withPointed(source: ByteSource, main: Directory): Directories {
  const { little } = headOf(source);
  const at = (tag: number, from: Directory) => {
    const pointer = from.get(tag);
    if (!pointer || pointer.value.length < 4) return new Map<number, Field>();
    return readDirectory(source, pointer.value.readUInt32LE(0), little).fields;
  };
  const exif = at(EXIF_POINTER, main);
  return { main, exif, gps: at(GPS_POINTER, main), interop: interopOf(() => at(INTEROP_POINTER, exif)) };
}

/** Says too little to refuse a file for. */
function interopOf(read: () => Directory): Directory | undefined {
  try {
    return read();
  } catch {
    return undefined;
  }
}

/** The directory of each page, in their order. @throws FileError TIFF_BROKEN */
export function readPages(source: ByteSource, most = MOST_PAGES): Directory[] {
  const { little, first } = headOf(source);
  const pages: Directory[] = [];
  const seen = new Set<number>();
  let held = 0;
  for (let offset = first; offset !== 0 && pages.length < most && !seen.has(offset);) {
    seen.add(offset);
    const { fields, next } = readDirectory(source, offset, little);
    for (const { value } of fields.values()) held += value.length;
    if (held > MOST_PAGES_BYTES) throw broken('those of its pages claim more than they can hold');
    pages.push(fields);
    offset = next;
  }
  if (pages.length === 0) throw broken('it is missing');
  return pages;
}

function headOf(source: ByteSource): { little: boolean; first: number } {
  const head = source.read(0, 8);
  const order = head.toString('latin1', 0, 2);
  if (head.length < 8 || (order !== 'II' && order !== 'MM')) throw broken('it has no byte order mark');
  const little = order === 'II';
  return { little, first: little ? head.readUInt32LE(4) : head.readUInt32BE(4) };
}

function broken(why: string): FileError {
  return new FileError('TIFF_BROKEN', `The file is damaged or cut off: of its directory of tags, ${why}.`);
}

function readDirectory(source: ByteSource, offset: number, little: boolean): { fields: Directory; next: number } {
  if (offset + 2 > source.length) throw broken('it starts behind the end of the file');
  const head = source.read(offset, 2);
  const count = little ? head.readUInt16LE(0) : head.readUInt16BE(0);
  if (count > MOST_FIELDS || offset + 2 + count * 12 > source.length) throw broken(`it claims ${count} fields`);
  const bytes = source.read(offset + 2, count * 12 + 4);
  const u16 = (at: number) => (little ? bytes.readUInt16LE(at) : bytes.readUInt16BE(at));
  const u32 = (at: number) => (little ? bytes.readUInt32LE(at) : bytes.readUInt32BE(at));
  const fields: Directory = new Map();
  let held = 0;
  for (let i = 0; i < count; i++) {
    const at = i * 12;
    const type = u16(at + 2);
    const values = u32(at + 4);
    const length = (TYPE_BYTES[type] ?? 0) * values;
    if (length === 0 || length > MOST_VALUE_BYTES) continue;
    held += length;
    if (held > MOST_DIRECTORY_BYTES) throw broken('its fields claim more than it can hold');
    const value = Buffer.from(length <= 4 ? bytes.subarray(at + 8, at + 8 + length) : source.read(u32(at + 8), length));
    if (value.length < length) continue;
    if (!little) swap(value, SWAP_BYTES[type] ?? 1);
    fields.set(u16(at), { tag: u16(at), type, count: values, value });
  }
  // Exif blocks may end right after their last field.
  return { fields, next: bytes.length >= count * 12 + 4 ? u32(count * 12) : 0 };
}

/** The whole numbers a field holds; empty for fields of other types. */
export function numbersOf(field: Field | undefined): number[] {
  if (!field) return [];
  const bytes = { 1: 1, 3: 2, 4: 4 }[field.type];
  if (!bytes) return [];
  return Array.from({ length: field.value.length / bytes }, (_, i) => field.value.readUIntLE(i * bytes, bytes));
}

/** The numbers a field holds, whole, fractions or floating point; empty for texts. Source: TIFF 6.0, section 2. */
export function realsOf(field: Field | undefined): number[] {
  if (!field) return [];
  const { type, value } = field;
  const width = TYPE_BYTES[type];
  const read: Record<number, (at: number) => number> = {
    5: (at) => value.readUInt32LE(at) / value.readUInt32LE(at + 4),
    8: (at) => value.readInt16LE(at),
    9: (at) => value.readInt32LE(at),
    10: (at) => value.readInt32LE(at) / value.readInt32LE(at + 4),
    11: (at) => value.readFloatLE(at),
    12: (at) => value.readDoubleLE(at),
  };
  if (!read[type]) return numbersOf(field);
  return Array.from({ length: value.length / width }, (_, i) => read[type](i * width));
}

/** Whether a TIFF stream's numbers have their lowest byte first. @throws FileError TIFF_BROKEN */
export const isLittle = (source: ByteSource): boolean => headOf(source).little;

/** A directory that another points to. @throws FileError TIFF_BROKEN */
export const directoryAt = (source: ByteSource, offset: number): Directory =>
  readDirectory(source, offset, headOf(source).little).fields;

function swap(value: Buffer, unit: number): void {
  if (unit === 2) value.swap16();
  else if (unit === 4) value.swap32();
  else if (unit === 8) value.swap64();
}

export function shortField(tag: number, ...values: number[]): Field {
  const value = Buffer.alloc(values.length * 2);
  values.forEach((v, i) => value.writeUInt16LE(v, i * 2));
  return { tag, type: 3, count: values.length, value };
}

export function longField(tag: number, ...values: number[]): Field {
  const value = Buffer.alloc(values.length * 4);
  values.forEach((v, i) => value.writeUInt32LE(v, i * 4));
  return { tag, type: 4, count: values.length, value };
}

export function asciiField(tag: number, text: string): Field {
  const value = Buffer.from(`${text}\0`, 'utf8');
  return { tag, type: 2, count: value.length, value };
}

export function rationalField(tag: number, ...values: number[]): Field {
  const value = Buffer.alloc(values.length * 8);
  values.forEach((v, i) => {
    value.writeUInt32LE(Math.round(v * FRACTION), i * 8);
    value.writeUInt32LE(FRACTION, i * 8 + 4);
  });
  return { tag, type: 5, count: values.length, value };
}

export function signedRationalField(tag: number, ...values: number[]): Field {
  const value = Buffer.alloc(values.length * 8);
  values.forEach((v, i) => {
    value.writeInt32LE(Math.round(v * FRACTION), i * 8);
    value.writeInt32LE(FRACTION, i * 8 + 4);
  });
  return { tag, type: 10, count: values.length, value };
}

/** What fractions are written over. */
const FRACTION = 1_000_000;

export function byteField(tag: number, ...values: number[]): Field {
  return { tag, type: 1, count: values.length, value: Buffer.from(values) };
}

export function bytesField(tag: number, bytes: Uint8Array): Field {
  return { tag, type: 7, count: bytes.length, value: Buffer.from(bytes) };
}

/** Writes directories as a little-endian TIFF stream starting with its header. */
export function writeDirectories(directories: Directories): Buffer {
  const header = Buffer.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
  return Buffer.concat([header, writeDirectoriesAt(directories, header.length).bytes]);
}

/** The bytes of directories that will lie at `offset`, and where in them the place of the next page's stands. */
export function writeDirectoriesAt(
  { main, exif, gps }: Directories,
  offset: number,
): { bytes: Buffer; nextAt: number } {
  const top: Directory = new Map(main);
  top.delete(EXIF_POINTER);
  top.delete(GPS_POINTER);
  if (exif.size) top.set(EXIF_POINTER, longField(EXIF_POINTER, 0));
  if (gps.size) top.set(GPS_POINTER, longField(GPS_POINTER, 0));
  const exifAt = offset + sizeOf(top);
  const gpsAt = exifAt + (exif.size ? sizeOf(exif) : 0);
  if (exif.size) top.set(EXIF_POINTER, longField(EXIF_POINTER, exifAt));
  if (gps.size) top.set(GPS_POINTER, longField(GPS_POINTER, gpsAt));
  const parts = [writeDirectory(top, offset)];
  if (exif.size) parts.push(writeDirectory(exif, exifAt));
  if (gps.size) parts.push(writeDirectory(gps, gpsAt));
  return { bytes: Buffer.concat(parts), nextAt: 2 + top.size * 12 };
}

const even = (length: number) => length + (length % 2);

function sizeOf(directory: Directory): number {
  let size = 2 + directory.size * 12 + 4;
  for (const { value } of directory.values()) if (value.length > 4) size += even(value.length);
  return size;
}

/** One directory that lies at `offset`. */
export function writeDirectory(directory: Directory, offset: number, next = 0): Buffer {
  const out = Buffer.alloc(sizeOf(directory));
  const fields = [...directory.values()].sort((a, b) => a.tag - b.tag);
  out.writeUInt16LE(fields.length, 0);
  out.writeUInt32LE(next, 2 + fields.length * 12);
  let free = 2 + fields.length * 12 + 4;
  fields.forEach((field, i) => {
    const at = 2 + i * 12;
    out.writeUInt16LE(field.tag, at);
    out.writeUInt16LE(field.type, at + 2);
    out.writeUInt32LE(field.count, at + 4);
    if (field.value.length <= 4) {
      field.value.copy(out, at + 8);
    } else {
      out.writeUInt32LE(offset + free, at + 8);
      field.value.copy(out, free);
      free += even(field.value.length);
    }
  });
  return out;
}
