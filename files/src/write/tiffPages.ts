import type { FileHandle } from 'node:fs/promises';
import { deflateSync } from 'node:zlib';
import { carriedDirectories, iptcField, XMP_TAG } from '../exif';
import { asciiField, bytesField, longField, shortField, writeDirectoriesAt, writeDirectory, type Field } from '../ifd';
import type { Beside } from './beside';
import { ROWS_AT_ONCE, type CopyFacts, type Page } from './page';

/**
 * A 16-bit TIFF of one or several pages, each of several with its name (tag 285); what was known of the shot stands on
 * the first. The samples come first, the directories after them.
 * Source: TIFF 6.0 (1992); ICC.1:2022 annex B.4 for tag 34675; Exif 2.32 for the Exif directory.
 */
export async function writePages(
  file: FileHandle,
  facts: CopyFacts,
  pages: readonly Page[],
  { carrying, xmp, iptc }: Beside,
): Promise<void> {
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
    const carried = carriedDirectories(facts.directories, facts.width, facts.height, carrying);
    const told = [{ tag: XMP_TAG, type: 1, count: xmp.length, value: xmp }, ...(iptc ? [iptcField(iptc)] : [])];
    const { bytes, nextAt } =
      number === 0
        ? writeDirectoriesAt({ ...carried, main: new Map([...carried.main, ...told.map(byTag), ...own]) }, at)
        : { bytes: writeDirectory(own, at), nextAt: 2 + own.size * 12 };
    await append(bytes);
    const place = Buffer.alloc(4);
    place.writeUInt32LE(at, 0);
    await file.write(place, 0, 4, pointer);
    pointer = at + nextAt;
  }
}

const byTag = (field: Field) => [field.tag, field] as const;

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
