import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { colourSpaceOf, DEFAULT_JPEG_QUALITY, SAVE_FORMAT_DESCRIPTIONS } from '@vitrocept/core';
import { convertedPage, copySpace } from './convertedPage';
import { exifBlock } from './exif';
import { openPlainTiff } from './plainTiff';
import { besideOf } from './write/beside';
import { AS_ORIGINAL, type CopyWish } from './write/copyWish';
import { writeDngCopy } from './write/dngCopy';
import { SEGMENT_BYTES, withJpegSegments } from './write/jpegSegments';
import { ROWS_AT_ONCE, type CopyFacts, type Page } from './write/page';
import { writePngWithChunks } from './write/pngWithChunks';
import { writePages } from './write/tiffPages';
import { writeFileAtomically, type Replacing } from './writeAtomically';

export type { CopyWish } from './write/copyWish';
export type { HowMade } from './metadata/xmp';
export type { CopyFacts, Page } from './write/page';

/** A page whose codes are held whole. */
export const pageOf = (name: string, codes: Uint16Array, { width, channels }: CopyFacts): Page => ({
  name,
  rows: (from, count) => codes.subarray(from * width * channels, (from + count) * width * channels),
});

/**
 * Writes a file with the colour profile and EXIF of the original; size and orientation are the new file's. A few rows
 * are held at a time. Resolves with the bytes written.
 *
 * @throws FileError FILE_EXISTS where something is there and must not be replaced, DISK_*.
 */
export async function writeCopy(place: string, wish: CopyWish, replacing: Replacing = 'never'): Promise<number> {
  const { format, quality = DEFAULT_JPEG_QUALITY } = wish;
  const { facts, pages } = inWishedColours(wish);
  const beside = besideOf(wish);
  return writeFileAtomically(place, replacing, async (file) => {
    if (format === 'dng') return writeDngCopy(file, facts, pages[0], beside);
    if (format === 'tiff16') return writePages(file, facts, pages, beside);
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
        const exif = exifBlock(directories, width, height, beside.carrying, SEGMENT_BYTES);
        await file.writeFile(withJpegSegments(jpeg, icc, exif, beside));
      } else {
        await image.png({ compressionLevel: 6 }).toFile(packed);
        const exif = exifBlock(directories, width, height, beside.carrying);
        await writePngWithChunks(file, packed, icc, exif, beside.xmp);
      }
    } finally {
      await rm(plain, { force: true });
      await rm(packed, { force: true });
    }
  });
}

/** Pages and facts as they are to be written, converted where another colour space is wished for. */
function inWishedColours({ facts, pages, wishes = AS_ORIGINAL }: CopyWish): Pick<CopyWish, 'facts' | 'pages'> {
  const { colour } = wishes;
  if (colour === 'as-original') return { facts, pages };
  const { icc, space } = copySpace(colour, facts.channels);
  const from = facts.space ?? colourSpaceOf(facts.icc, facts.channels);
  return { facts: { ...facts, icc, space }, pages: pages.map((page) => convertedPage(page, facts, from, space)) };
}

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

/** 257 v goes back to v exactly; all else to the nearest: round(code / 257) in whole numbers. */
function eightBit(codes: Uint16Array): Uint8Array {
  const out = new Uint8Array(codes.length);
  for (let i = 0; i < codes.length; i++) out[i] = (codes[i] * 255 + 32895) >> 16;
  return out;
}
