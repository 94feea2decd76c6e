import { FileError } from '../fileError';
import { withFile } from '../fileSource';
import { numbersOf, readPages, withPointed, type Directories, type Directory } from '../ifd';

/** How a TIFF says that its samples lie in the file, before any of them is decoded. */
export interface TiffLayout {
  /** The page that holds the picture: not a thumbnail that stands before it. */
  readonly page: number;
  readonly directories: Directories;
}

/**
 * Names: TIFF 6.0 (1992), section 2 and Technical Notes 2 and 3; registered numbers as the common libraries know them.
 */
const COMPRESSIONS: Record<number, string> = {
  1: 'none',
  2: 'CCITT run length',
  3: 'CCITT fax 3',
  4: 'CCITT fax 4',
  5: 'LZW',
  6: 'old JPEG',
  7: 'JPEG',
  8: 'Deflate',
  32773: 'PackBits',
  32946: 'Deflate',
  33003: 'JPEG 2000',
  33004: 'JPEG 2000',
  33005: 'JPEG 2000',
  34661: 'JBIG',
  34676: 'LogLuv',
  34677: 'LogLuv',
  34712: 'JPEG 2000',
  34887: 'LERC',
  34892: 'lossy JPEG',
  34925: 'LZMA',
  50000: 'Zstandard',
  50001: 'WebP',
  50002: 'JPEG XL',
  52546: 'JPEG XL',
};
/**
 * What is read, and how many bytes one byte of the file can become at most: RFC 1951 (258 bytes for two bits), PackBits
 * (TIFF 6.0, section 9: 128 for two), LZW (codes of 12 bits for strings of up to 3838 bytes), JPEG (flat blocks).
 */
const MOST_GROWTH: Record<number, number> = { 1: 1, 5: 2600, 7: 3000, 8: 1040, 32773: 64, 32946: 1040 };

const NEW_SUBFILE_TYPE = 254;
const REDUCED = 1;

/** @throws FileError TIFF_BROKEN, TIFF_COMPRESSION, PICTURE_DAMAGED */
export function tiffLayout(path: string): TiffLayout {
  return withFile(path, (source) => {
    const pages = readPages(source);
    const page = pictureAmong(pages);
    checkSamplesAreThere(pages[page], source.length);
    const { main, exif, gps } = withPointed(source, pages[page]);
    const first = page === 0 ? { main, exif, gps } : withPointed(source, pages[0]);
    // What describes the shot may stand with the thumbnail; what describes the samples is the page's own.
    return {
      page,
      directories: {
        main: new Map([...first.main, ...main]),
        exif: exif.size > 0 ? exif : first.exif,
        gps: gps.size > 0 ? gps : first.gps,
      },
    };
  });
}

/** The first page that is no reduced copy of another and not far smaller than the largest. */
function pictureAmong(pages: readonly Directory[]): number {
  const area = (page: Directory) => (numbersOf(page.get(256))[0] ?? 0) * (numbersOf(page.get(257))[0] ?? 0);
  const isReduced = (page: Directory) => ((numbersOf(page.get(NEW_SUBFILE_TYPE))[0] ?? 0) & REDUCED) !== 0;
  const whole = pages.filter((page) => !isReduced(page));
  const among = whole.length > 0 ? whole : pages;
  const largest = Math.max(...among.map(area));
  const found = among.find((page) => area(page) >= largest / 4) ?? pages[0];
  return pages.indexOf(found);
}

/** Holds what the page claims against the bytes that are there. */
function checkSamplesAreThere(page: Directory, fileBytes: number): void {
  const [compression = 1] = numbersOf(page.get(259));
  const growth = MOST_GROWTH[compression];
  if (growth === undefined) {
    const name = COMPRESSIONS[compression] ?? `method ${compression}`;
    throw new FileError(
      'TIFF_COMPRESSION',
      `The TIFF is compressed with ${name}, which is not read. Save it without compression, with LZW or with Deflate.`,
    );
  }
  const isTiled = page.has(324);
  const offsets = numbersOf(page.get(isTiled ? 324 : 273));
  const counts = numbersOf(page.get(isTiled ? 325 : 279));
  if (offsets.length === 0) throw missing('it does not say where its samples lie');
  const last = offsets.reduce((end, offset, i) => Math.max(end, offset + (counts[i] ?? 0)), 0);
  if (last > fileBytes) throw missing(`samples lie up to byte ${last}, the file ends at ${fileBytes}`);
  const [width = 0] = numbersOf(page.get(256));
  const [height = 0] = numbersOf(page.get(257));
  const [samples = 1] = numbersOf(page.get(277));
  const [bits = 1] = numbersOf(page.get(258));
  const needed = (width * height * samples * bits) / 8;
  const present = counts.length > 0 ? counts.reduce((sum, count) => sum + count, 0) : fileBytes;
  if (present * growth < needed) {
    throw missing(`${width} × ${height} px cannot come from the ${present} bytes that are there`);
  }
}

function missing(why: string): FileError {
  return new FileError('PICTURE_DAMAGED', `The TIFF is damaged or cut off and cannot be read to its end (${why}).`);
}
