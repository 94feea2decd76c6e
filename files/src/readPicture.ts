import { open, stat } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { colourSpaceOf, CoreError, type ColourSpace } from '@vitrocept/core';
import { FileError } from './fileError';
import { LIMITS } from './limits';
import type { Directories } from './ifd';
import { checkPngColour, pngChunks } from './pngChunks';
import { tiffLayout, type TiffLayout } from './tiffLayout';
import { NO_EXPOSURE, orientationOf, parseExif, readExposure, type Exposure } from './exif';

export type FileFormat = 'jpeg' | 'png' | 'tiff';

/** What is known of a picture file before its samples are decoded. */
export interface PictureFacts {
  readonly format: FileFormat;
  /** Upright size, after the EXIF turn. */
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
  readonly icc: Buffer | null;
  readonly space: ColourSpace;
  readonly directories: Directories | null;
  readonly exposure: Exposure;
  readonly orientation: number;
  /** Of a TIFF: the page that holds the picture. */
  readonly page: number;
}

export interface DecodedPicture extends PictureFacts {
  /** Upright, interleaved; 8-bit files as Uint8Array, 16-bit as Uint16Array. */
  readonly samples: Uint8Array | Uint16Array;
}

const NAMES: Record<FileFormat, string> = { jpeg: 'JPEG', png: 'PNG', tiff: 'TIFF' };

/**
 * Looks at a file without decoding it: kind by its first bytes (never by its name), size limits, colour profile, EXIF.
 *
 * @throws FileError with a sentence; CoreError PROFILE_* for colour profiles that cannot be used.
 *
 * With `onlyValues` the codes are taken as they stand (masks, point spread functions): how a PNG means them is nothing.
 */
export async function inspectPicture(path: string, { onlyValues = false } = {}): Promise<PictureFacts> {
  const size = await bytesOf(path);
  if (size === 0) throw new FileError('FILE_EMPTY', 'The file is empty (0 bytes).');
  if (size > LIMITS.fileBytes) {
    throw new FileError(
      'FILE_TOO_LARGE',
      `The file has ${megabytes(size)} MB; at most ${megabytes(LIMITS.fileBytes)} MB are taken.`,
    );
  }
  const format = await formatOf(path);
  const chunks = format === 'png' ? pngChunks(path) : null;
  if (chunks?.has('acTL')) throw new FileError('PICTURE_ANIMATED', 'The PNG is animated; a single picture is taken.');
  if (chunks && !onlyValues) checkPngColour(chunks);
  const layout = format === 'tiff' ? layoutOf(path) : null;
  const page = layout?.page ?? 0;
  const meta = await sharp(path, { ...READ, page, limitInputPixels: false })
    .metadata()
    .catch((error: Error) => {
      throw damaged(format, error);
    });
  const { width = 0, height = 0 } = meta;
  if (width < 1 || height < 1) throw new FileError('PICTURE_EMPTY', 'The picture has no pixels.');
  if (width > LIMITS.sidePx || height > LIMITS.sidePx || width * height > LIMITS.megapixels * 1e6) {
    throw new FileError(
      'PICTURE_TOO_LARGE',
      `The picture has ${width} × ${height} px; at most ${LIMITS.megapixels} megapixels and ${LIMITS.sidePx} px a side are taken.`,
    );
  }
  if (meta.space === 'cmyk') {
    throw new CoreError('PROFILE_CMYK', 'The picture is in CMYK ink values. Export it as RGB and bring that in.');
  }
  const bits = bitsOf(meta.depth, format);
  const colours = (meta.channels ?? 3) - (meta.hasAlpha ? 1 : 0);
  if (colours !== 1 && colours !== 3) {
    throw new FileError('PICTURE_CHANNELS', `The picture has ${colours} colour channels; 1 (grey) or 3 are taken.`);
  }
  const growth = width * height * colours * (bits / 8);
  if (growth > size * MOST_GROWTH) {
    throw damaged(format, new Error(`${width} × ${height} px cannot come from ${size} bytes`));
  }
  const directories = layout ? layout.directories : parseExif(meta.exif);
  const orientation = directories ? orientationOf(directories) : (meta.orientation ?? 1);
  const turned = orientation >= 5;
  const icc = meta.icc ?? null;
  return {
    format,
    width: turned ? height : width,
    height: turned ? width : height,
    channels: colours,
    bits,
    icc,
    space: colourSpaceOf(icc, colours),
    directories,
    exposure: directories ? readExposure(directories) : NO_EXPOSURE,
    orientation,
    page,
  };
}

async function bytesOf(path: string): Promise<number> {
  const found = await stat(path).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') throw new FileError('FILE_MISSING', `There is no file ${path}.`);
    if (error.code === 'EACCES') throw new FileError('FILE_FORBIDDEN', `${path} may not be read: no permission.`);
    throw error;
  });
  if (!found.isFile()) throw new FileError('FILE_NOT_ONE', `${path} is not a file.`);
  return found.size;
}

/** Decodes to upright code values, untouched by any colour profile. Transparency is left out. */
export async function readPicture(path: string, options?: { onlyValues?: boolean }): Promise<DecodedPicture> {
  const facts = await inspectPicture(path, options);
  const { page } = facts;
  const wanted =
    facts.bits === 16
      ? sharp(path, { ...READ, page }).toColourspace(facts.channels === 1 ? 'grey16' : 'rgb16')
      : sharp(path, { ...READ, page }).toColourspace(facts.channels === 1 ? 'b-w' : 'srgb');
  const { data, info } = await turn(wanted, facts.orientation)
    .removeAlpha()
    .raw({ depth: facts.bits === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch((error: Error) => {
      throw damaged(facts.format, error);
    });
  if (info.channels !== facts.channels || info.width !== facts.width || info.height !== facts.height) {
    throw new FileError('PICTURE_CHANNELS', 'The picture’s samples do not fit its header.');
  }
  if (data.byteLength !== facts.width * facts.height * facts.channels * (facts.bits / 8)) {
    throw damaged(facts.format, new Error(`it decodes to ${data.byteLength} bytes`));
  }
  const { buffer, byteOffset, byteLength } = data;
  const samples =
    facts.bits === 16
      ? new Uint16Array(buffer, byteOffset, byteLength / 2)
      : new Uint8Array(buffer, byteOffset, byteLength);
  return { ...facts, samples };
}

/** Of any of the three, no byte becomes more: a flat JPEG of only direct current terms comes closest. */
const MOST_GROWTH = 3000;

/** One strictness for all that is decoded, views too: what is taken can be shown, and what is damaged is not taken. */
export const READ = {
  ignoreIcc: true,
  failOn: 'error',
  limitInputPixels: LIMITS.megapixels * 1e6,
  sequentialRead: true,
} as const;

/**
 * EXIF orientation applied by hand, because TIFF carries it where the decoder does not always look. The library flops
 * before it rotates, in whatever order it is told.
 */
export function turn(image: Sharp, orientation: number): Sharp {
  switch (orientation) {
    case 2:
      return image.flop();
    case 3:
      return image.rotate(180);
    case 4:
      return image.flip();
    case 5:
      return image.rotate(270).flop();
    case 6:
      return image.rotate(90);
    case 7:
      return image.rotate(90).flop();
    case 8:
      return image.rotate(270);
    default:
      return image;
  }
}

async function formatOf(path: string): Promise<FileFormat> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(16), 0, 16, 0);
    const head = buffer.subarray(0, bytesRead);
    if (head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff) return 'jpeg';
    if (head.subarray(0, 8).equals(Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'))) return 'png';
    const start = head.toString('latin1', 0, 4);
    if (start === 'II*\0' || start === 'MM\0*') return 'tiff';
    if (start === 'II+\0' || start === 'MM\0+') {
      throw new FileError(
        'TIFF_BIG',
        'The file is a BigTIFF, which is not read. Save it as an ordinary TIFF (under 4 GB).',
      );
    }
    throw new FileError('NOT_A_PICTURE', 'The file is not a JPEG, PNG or TIFF picture, whatever its name says.');
  } finally {
    await file.close();
  }
}

function bitsOf(depth: string | undefined, format: FileFormat): 8 | 16 {
  if (depth === 'uchar') return 8;
  if (depth === 'ushort') return 16;
  throw new FileError('PICTURE_DEPTH', `The ${NAMES[format]} holds ${depth} samples; 8 or 16 bits are taken.`);
}

function layoutOf(path: string): TiffLayout {
  try {
    return tiffLayout(path);
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw damaged('tiff', error as Error);
  }
}

function damaged(format: FileFormat, error: Error): FileError {
  const why = error.message.split('\n')[0].replace(/^.*?: /, '');
  return new FileError(
    'PICTURE_DAMAGED',
    `The ${NAMES[format]} is damaged or cut off and cannot be read to its end (${why}).`,
  );
}

const megabytes = (bytes: number) => Math.round(bytes / (1024 * 1024));
