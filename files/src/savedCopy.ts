import { deflateSync } from 'node:zlib';
import sharp, { type Raw } from 'sharp';
import type { PictureFacts } from './readPicture';
import { exifBlock, carriedDirectories } from './exif';
import { asciiField, bytesField, longField, shortField, writeDirectories, writeDirectory, type Field } from './ifd';

export const SAVE_FORMATS = ['tiff16', 'png16', 'png8', 'jpeg'] as const;
export type SaveFormat = (typeof SAVE_FORMATS)[number];

export const FORMAT_ENDING: Record<SaveFormat, string> = { tiff16: '.tiff', png16: '.png', png8: '.png', jpeg: '.jpg' };
export const FORMAT_MIME: Record<SaveFormat, string> = {
  tiff16: 'image/tiff',
  png16: 'image/png',
  png8: 'image/png',
  jpeg: 'image/jpeg',
};
export const DEFAULT_JPEG_QUALITY = 92;

/** A finished picture: 16-bit codes, interleaved, upright, in the colour space of the file it came from. */
export interface FinishedPicture {
  readonly facts: Pick<PictureFacts, 'width' | 'height' | 'channels' | 'icc' | 'directories'>;
  readonly codes: Uint16Array;
}

/** The bytes of a file with the colour profile and EXIF of the original; size and orientation are the new file's. */
export async function encodeCopy(
  picture: FinishedPicture,
  format: SaveFormat,
  quality = DEFAULT_JPEG_QUALITY,
): Promise<Buffer> {
  if (format === 'tiff16') return encodePages(picture.facts, [{ name: '', codes: picture.codes }]);
  const { width, height, channels, icc, directories } = picture.facts;
  const exif = exifBlock(directories, width, height);
  if (format === 'png16') {
    const image = sharp(picture.codes, { raw: { width, height, channels, depth: 'ushort' } as Raw });
    const png = await image
      .toColourspace(channels === 1 ? 'grey16' : 'rgb16')
      .png({ compressionLevel: 6 })
      .toBuffer();
    return withPngChunks(png, icc, exif);
  }
  const image = sharp(eightBit(picture.codes), { raw: { width, height, channels } });
  if (format === 'png8') return withPngChunks(await image.png({ compressionLevel: 6 }).toBuffer(), icc, exif);
  return withJpegSegments(await image.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer(), icc, exif);
}

/** 257 v goes back to v exactly; all else to the nearest. */
function eightBit(codes: Uint16Array): Uint8Array {
  const out = new Uint8Array(codes.length);
  for (let i = 0; i < codes.length; i++) out[i] = Math.round(codes[i] / 257);
  return out;
}

const ROWS_PER_STRIP = 64;

/** One page of a file of several. */
export interface Page {
  readonly name: string;
  readonly codes: Uint16Array;
}

type PageFacts = FinishedPicture['facts'];

/**
 * A 16-bit TIFF of several pages, each with its name (tag 285); what was known of the shot stands on the first.
 * Source: TIFF 6.0 (1992); ICC.1:2022 annex B.4 for tag 34675; Exif 2.32 for the Exif directory.
 */
export function encodePages(facts: PageFacts, pages: readonly Page[]): Buffer {
  const strips = pages.map(({ codes }) => stripsOf(facts, codes));
  const fields = (page: number, offsets: readonly number[]) => [
    ...pageFields(facts, strips[page], offsets),
    ...(pages.length > 1
      ? [longField(254, 2), asciiField(285, pages[page].name), shortField(297, page, pages.length)]
      : []),
  ];
  const carried = carriedDirectories(facts.directories, facts.width, facts.height);
  const first = (offsets: readonly number[], next: number) => {
    const own = fields(0, offsets).map((field) => [field.tag, field] as const);
    return writeDirectories({ ...carried, main: new Map([...carried.main, ...own]) }, next);
  };
  const later = (page: number, offsets: readonly number[], at: number, next: number) =>
    writeDirectory(new Map(fields(page, offsets).map((field) => [field.tag, field])), at, next);
  // Lengths do not depend on the offsets, so a first writing tells where all lies.
  const none = strips.map((page) => page.map(() => 0));
  const lengths = pages.map((_, page) => (page === 0 ? first(none[0], 0) : later(page, none[page], 0, 0)).length);
  const places = lengths.map((_, page) => lengths.slice(0, page).reduce((sum, length) => sum + length, 0));
  let at = lengths.reduce((sum, length) => sum + length, 0);
  const offsets = strips.map((page) =>
    page.map((strip) => {
      const here = at;
      at += strip.length;
      return here;
    }),
  );
  const heads = pages.map((_, page) => {
    const next = places[page + 1] ?? 0;
    return page === 0 ? first(offsets[0], next) : later(page, offsets[page], places[page], next);
  });
  return Buffer.concat([...heads, ...strips.flat()]);
}

function stripsOf({ width, height, channels }: PageFacts, codes: Uint16Array): Buffer[] {
  const strips: Buffer[] = [];
  for (let row = 0; row < height; row += ROWS_PER_STRIP) {
    const rows = Math.min(ROWS_PER_STRIP, height - row);
    strips.push(deflateSync(differenced(codes, row * width * channels, rows, width, channels), { level: 4 }));
  }
  return strips;
}

function pageFields(
  { width, height, channels, icc }: PageFacts,
  strips: readonly Buffer[],
  offsets: readonly number[],
): Field[] {
  return [
    longField(256, width),
    longField(257, height),
    shortField(258, ...Array<number>(channels).fill(16)),
    shortField(259, 8),
    shortField(262, channels === 1 ? 1 : 2),
    longField(273, ...offsets),
    shortField(277, channels),
    longField(278, ROWS_PER_STRIP),
    longField(279, ...strips.map((strip) => strip.length)),
    shortField(284, 1),
    shortField(317, 2),
    ...(icc ? [bytesField(34675, icc)] : []),
  ];
}

/** Horizontal differencing (predictor 2) of 16-bit samples: TIFF 6.0, section 14. */
function differenced(codes: Uint16Array, from: number, rows: number, width: number, channels: number): Buffer {
  const out = Buffer.alloc(rows * width * channels * 2);
  const perRow = width * channels;
  for (let row = 0; row < rows; row++) {
    for (let i = 0; i < perRow; i++) {
      const at = from + row * perRow + i;
      const left = i >= channels ? codes[at - channels] : 0;
      out.writeUInt16LE((codes[at] - left) & 0xffff, (row * perRow + i) * 2);
    }
  }
  return out;
}

/** Source: W3C PNG (third edition), 11.3.2.3 iCCP and 11.3.4.5 eXIf. */
function withPngChunks(png: Buffer, icc: Buffer | null, exif: Buffer): Buffer {
  const afterHeader = 8 + 25;
  const chunks = [];
  if (icc) chunks.push(pngChunk('iCCP', Buffer.concat([Buffer.from('ICC profile\0\0', 'latin1'), deflateSync(icc)])));
  chunks.push(pngChunk('eXIf', exif));
  return Buffer.concat([png.subarray(0, afterHeader), ...chunks, png.subarray(afterHeader)]);
}

function pngChunk(kind: string, body: Buffer): Buffer {
  const out = Buffer.alloc(12 + body.length);
  out.writeUInt32BE(body.length, 0);
  out.write(kind, 4, 'latin1');
  body.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + body.length)), 8 + body.length);
  return out;
}

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

/** Source: W3C PNG (third edition), annex D. */
function crc32(bytes: Buffer): number {
  let crc = 0xffffffff;
  for (const byte of bytes) crc = CRC_TABLE[(crc ^ byte) & 0xff] ^ (crc >>> 8);
  return (crc ^ 0xffffffff) >>> 0;
}

const SEGMENT_BYTES = 65000;

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
