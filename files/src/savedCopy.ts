import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { rm, writeFile, type FileHandle } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { DEFAULT_JPEG_QUALITY, SAVE_FORMAT_DESCRIPTIONS, type SaveFormat } from '@vitrocept/core';
import type { PictureFacts } from './decoders/decoder';
import { exifBlock, carriedDirectories } from './exif';
import { asciiField, bytesField, longField, shortField, writeDirectoriesAt, writeDirectory, type Field } from './ifd';
import { openPlainTiff } from './plainTiff';
import { writeFileAtomically, type Replacing } from './writeAtomically';

export type CopyFacts = Pick<PictureFacts, 'width' | 'height' | 'channels' | 'icc' | 'directories'>;

/** A finished picture: 16-bit codes, interleaved, upright, in the colour space of the file it came from. */
export interface Page {
  readonly name: string;
  /** Whole rows; asked for from top to bottom. */
  rows(from: number, count: number): Uint16Array;
}

/** A page whose codes are held whole. */
export const pageOf = (name: string, codes: Uint16Array, { width, channels }: CopyFacts): Page => ({
  name,
  rows: (from, count) => codes.subarray(from * width * channels, (from + count) * width * channels),
});

export interface CopyWish {
  readonly facts: CopyFacts;
  /** Several become pages of one TIFF. */
  readonly pages: readonly Page[];
  readonly format: SaveFormat;
  readonly quality?: number;
}

/**
 * Writes a file with the colour profile and EXIF of the original; size and orientation are the new file's. A few rows
 * are held at a time. Resolves with the bytes written.
 *
 * @throws FileError FILE_EXISTS where something is there and must not be replaced, DISK_*.
 */
export async function writeCopy(place: string, wish: CopyWish, replacing: Replacing = 'never'): Promise<number> {
  const { facts, pages, format, quality = DEFAULT_JPEG_QUALITY } = wish;
  return writeFileAtomically(place, replacing, async (file) => {
    if (format === 'tiff16') return writePages(file, facts, pages);
    const plain = join(dirname(place), `.${randomUUID()}.part`);
    const packed = join(dirname(place), `.${randomUUID()}.part`);
    try {
      writePlain(plain, facts, pages[0], SAVE_FORMAT_DESCRIPTIONS[format].bits);
      const { width, height, channels, icc, directories } = facts;
      const grey = format === 'png16' ? 'grey16' : 'b-w';
      const colour = format === 'png16' ? 'rgb16' : 'srgb';
      const image = sharp(plain, { sequentialRead: true, limitInputPixels: false }).toColourspace(
        channels === 1 ? grey : colour,
      );
      if (format === 'jpeg') {
        const jpeg = await image.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
        await file.writeFile(withJpegSegments(jpeg, icc, exifBlock(directories, width, height, SEGMENT_BYTES)));
      } else {
        await image.png({ compressionLevel: 6 }).toFile(packed);
        await writePngWithChunks(file, packed, icc, exifBlock(directories, width, height));
      }
    } finally {
      await rm(plain, { force: true });
      await rm(packed, { force: true });
    }
  });
}

const ROWS_AT_ONCE = 64;

function writePlain(path: string, { width, height, channels }: CopyFacts, page: Page, bits: 8 | 16): void {
  const tiff = openPlainTiff({ path, width, height, channels, bits }, true);
  try {
    for (let y = 0; y < height; y += ROWS_AT_ONCE) {
      const count = Math.min(ROWS_AT_ONCE, height - y);
      const rows = page.rows(y, count);
      tiff.write({ x: 0, y, width, height: count }, bits === 16 ? rows : eightBit(rows));
    }
  } finally {
    tiff.close();
  }
}

/** 257 v goes back to v exactly; all else to the nearest. */
function eightBit(codes: Uint16Array): Uint8Array {
  const out = new Uint8Array(codes.length);
  for (let i = 0; i < codes.length; i++) out[i] = Math.round(codes[i] / 257);
  return out;
}

/**
 * A 16-bit TIFF of one or several pages, each of several with its name (tag 285); what was known of the shot stands on
 * the first. The samples come first, the directories after them.
 * Source: TIFF 6.0 (1992); ICC.1:2022 annex B.4 for tag 34675; Exif 2.32 for the Exif directory.
 */
async function writePages(file: FileHandle, facts: CopyFacts, pages: readonly Page[]): Promise<void> {
  let end = 8;
  const append = async (bytes: Buffer) => {
    const at = end;
    await file.write(bytes, 0, bytes.length, at);
    end += bytes.length + (bytes.length % 2);
    return at;
  };
  await file.write(Buffer.from([0x49, 0x49, 42, 0, 0, 0, 0, 0]), 0, 8, 0);
  /** Where the place of the next directory has to be written. */
  let pointer = 4;
  for (const [number, page] of pages.entries()) {
    const offsets: number[] = [];
    const counts: number[] = [];
    for (let row = 0; row < facts.height; row += ROWS_AT_ONCE) {
      const rows = Math.min(ROWS_AT_ONCE, facts.height - row);
      const strip = deflateSync(differenced(page.rows(row, rows), rows, facts), { level: 4 });
      counts.push(strip.length);
      offsets.push(await append(strip));
    }
    const fields = [...pageFields(facts, offsets, counts), ...(pages.length > 1 ? pageName(page, number, pages) : [])];
    const own = new Map(fields.map((field) => [field.tag, field]));
    const at = end;
    const carried = carriedDirectories(facts.directories, facts.width, facts.height);
    const { bytes, nextAt } =
      number === 0
        ? writeDirectoriesAt({ ...carried, main: new Map([...carried.main, ...own]) }, at)
        : { bytes: writeDirectory(own, at), nextAt: 2 + own.size * 12 };
    await append(bytes);
    const place = Buffer.alloc(4);
    place.writeUInt32LE(at, 0);
    await file.write(place, 0, 4, pointer);
    pointer = at + nextAt;
  }
}

const pageName = (page: Page, number: number, pages: readonly Page[]): Field[] => [
  longField(254, 2),
  asciiField(285, page.name),
  shortField(297, number, pages.length),
];

function pageFields(
  { width, height, channels, icc }: CopyFacts,
  offsets: readonly number[],
  counts: readonly number[],
): Field[] {
  return [
    longField(256, width),
    longField(257, height),
    shortField(258, ...Array<number>(channels).fill(16)),
    shortField(259, 8),
    shortField(262, channels === 1 ? 1 : 2),
    longField(273, ...offsets),
    shortField(277, channels),
    longField(278, ROWS_AT_ONCE),
    longField(279, ...counts),
    shortField(284, 1),
    shortField(317, 2),
    ...(icc ? [bytesField(34675, icc)] : []),
  ];
}

/** Horizontal differencing (predictor 2) of 16-bit samples: TIFF 6.0, section 14. */
function differenced(codes: Uint16Array, rows: number, { width, channels }: CopyFacts): Buffer {
  const perRow = width * channels;
  const out = new Uint16Array(rows * perRow);
  for (let row = 0; row < rows; row++) {
    const from = row * perRow;
    for (let i = 0; i < channels; i++) out[from + i] = codes[from + i];
    for (let i = from + channels; i < from + perRow; i++) out[i] = codes[i] - codes[i - channels];
  }
  return Buffer.from(out.buffer);
}

/** Signature and IHDR of every PNG: W3C PNG (third edition), 5.2 and 11.2.1. */
const PNG_HEAD_BYTES = 8 + 25;

/** Source: W3C PNG (third edition), 11.3.2.3 iCCP and 11.3.4.5 eXIf. */
async function writePngWithChunks(file: FileHandle, packed: string, icc: Buffer | null, exif: Buffer): Promise<void> {
  const chunks = [];
  if (icc) chunks.push(pngChunk('iCCP', Buffer.concat([Buffer.from('ICC profile\0\0', 'latin1'), deflateSync(icc)])));
  chunks.push(pngChunk('eXIf', exif));
  await writeFile(
    file,
    (async function* () {
      yield* createReadStream(packed, { start: 0, end: PNG_HEAD_BYTES - 1 });
      yield* chunks;
      yield* createReadStream(packed, { start: PNG_HEAD_BYTES, highWaterMark: 1 << 20 });
    })(),
  );
}

function pngChunk(kind: string, body: Buffer): Buffer {
  const out = Buffer.alloc(12 + body.length);
  out.writeUInt32BE(body.length, 0);
  out.write(kind, 4, 'latin1');
  body.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + body.length)), 8 + body.length);
  return out;
}

/** What a JPEG segment holds beside its head and the names of its kinds: ITU-T T.81, B.1.1.4, 65535 with its length. */
const SEGMENT_BYTES = 65_000;

/** Source: Exif 2.32, 4.5.4 (APP1); ICC.1:2022, annex B.4 (APP2, split into numbered parts). */
function withJpegSegments(jpeg: Buffer, icc: Buffer | null, exif: Buffer): Buffer {
  const segments = [segment(0xe1, Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), exif]))];
  if (icc) {
    const parts = Math.ceil(icc.length / SEGMENT_BYTES);
    for (let part = 0; part < parts; part++) {
      const head = Buffer.from(`ICC_PROFILE\0${String.fromCharCode(part + 1, parts)}`, 'latin1');
      segments.push(
        segment(0xe2, Buffer.concat([head, icc.subarray(part * SEGMENT_BYTES, (part + 1) * SEGMENT_BYTES)])),
      );
    }
  }
  const afterStart = jpeg[2] === 0xff && jpeg[3] === 0xe0 ? 4 + jpeg.readUInt16BE(4) : 2;
  return Buffer.concat([jpeg.subarray(0, afterStart), ...segments, jpeg.subarray(afterStart)]);
}

function segment(marker: number, body: Buffer): Buffer {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([head, body]);
}
