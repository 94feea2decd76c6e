import sharp, { type Sharp } from 'sharp';
import { colourSpaceOf, CoreError, hasTables } from '@vitrocept/core';
import { isOpRgb, NO_EXPOSURE, orientationOf, parseExif, readExposure } from '../exif';
import { copySpace } from '../convertedPage';
import { FileError } from '../fileError';
import type { Directories } from '../ifd';
import { fromTableProfile } from '../tableProfile';
import { iptcDatasets } from '../metadata/iptc';
import { checkSize, LIMITS } from '../limits';
import type { Decoder, DecodeOptions, FileFormat, PictureFacts } from './decoder';

/** What a kind of file says by itself, before the library looks at it. */
interface Looked {
  readonly page: number;
  /** Null: as the library finds them. */
  readonly directories: Directories | null;
  /** In place of the embedded one. */
  readonly icc?: Buffer;
}

/** A decoder whose samples the image library decodes. */
export function rasterDecoder(
  format: FileFormat,
  label: string,
  isItsOwn: Decoder['isItsOwn'],
  look: (path: string, options: DecodeOptions) => Looked = () => ({ page: 0, directories: null }),
): Decoder {
  return {
    format,
    label,
    isItsOwn,
    inspect: (path, bytes, options) => inspect(path, bytes, format, label, look(path, options)),
    decode: async (path, facts) => ({ samples: await decode(path, facts, label) }),
  };
}

async function inspect(
  path: string,
  size: number,
  format: FileFormat,
  label: string,
  { page, directories: own, icc: said }: Looked,
): Promise<PictureFacts> {
  const meta = await sharp(path, { ...READ, page, limitInputPixels: false })
    .metadata()
    .catch((error: Error) => {
      throw damaged(label, error);
    });
  const { width = 0, height = 0 } = meta;
  checkSize({ width, height });
  if (meta.space === 'cmyk') {
    throw new CoreError('PROFILE_CMYK', 'The picture is in CMYK ink values. Export it as RGB and bring that in.');
  }
  const bits = bitsOf(meta.depth, label);
  const colours = (meta.channels ?? 3) - (meta.hasAlpha ? 1 : 0);
  if (colours !== 1 && colours !== 3) {
    throw new FileError('PICTURE_CHANNELS', `The picture has ${colours} colour channels; 1 (grey) or 3 are taken.`);
  }
  const growth = width * height * colours * (bits / 8);
  if (growth > size * MOST_GROWTH) {
    throw damaged(label, new Error(`${width} × ${height} px cannot come from ${size} bytes`));
  }
  const directories = own ?? parseExif(meta.exif);
  const orientation = directories ? orientationOf(directories) : (meta.orientation ?? 1);
  const turned = orientation >= 5;
  const embedded = said ?? meta.icc ?? (directories && isOpRgb(directories) ? copySpace('oprgb', colours).icc : null);
  // What a table says is worked out once, when the samples are decoded.
  const tables = embedded && hasTables(embedded) && colours === 3 ? embedded : undefined;
  const icc = tables ? copySpace('romm', 3).icc : embedded;
  return {
    format,
    width: turned ? height : width,
    height: turned ? width : height,
    channels: colours,
    bits: tables ? 16 : bits,
    fileBits: bits,
    tables,
    icc,
    space: colourSpaceOf(icc, colours),
    directories,
    exposure: directories ? readExposure(directories) : NO_EXPOSURE,
    xmp: meta.xmp ?? null,
    iptc: iptcDatasets(meta.iptc),
    orientation,
    isSensorData: false,
    page,
  };
}

async function decode(path: string, facts: PictureFacts, label: string): Promise<Uint8Array | Uint16Array> {
  const { page, fileBits, tables } = facts;
  const wanted =
    fileBits === 16
      ? sharp(path, { ...READ, page }).toColourspace(facts.channels === 1 ? 'grey16' : 'rgb16')
      : sharp(path, { ...READ, page }).toColourspace(facts.channels === 1 ? 'b-w' : 'srgb');
  const { data, info } = await turn(wanted, facts.orientation)
    .removeAlpha()
    .raw({ depth: fileBits === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch((error: Error) => {
      throw damaged(label, error);
    });
  if (info.channels !== facts.channels || info.width !== facts.width || info.height !== facts.height) {
    throw new FileError('PICTURE_CHANNELS', 'The picture’s samples do not fit its header.');
  }
  if (data.byteLength !== facts.width * facts.height * facts.channels * (fileBits / 8)) {
    throw damaged(label, new Error(`it decodes to ${data.byteLength} bytes`));
  }
  const { buffer, byteOffset, byteLength } = data;
  const samples =
    fileBits === 16
      ? new Uint16Array(buffer, byteOffset, byteLength / 2)
      : new Uint8Array(buffer, byteOffset, byteLength);
  return tables ? fromTableProfile(samples, facts, tables) : samples;
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

function bitsOf(depth: string | undefined, label: string): 8 | 16 {
  if (depth === 'uchar') return 8;
  if (depth === 'ushort') return 16;
  throw new FileError('PICTURE_DEPTH', `The ${label} holds ${depth} samples; 8 or 16 bits are taken.`);
}

export function damaged(label: string, error: Error): FileError {
  // Neither which part of the library complains nor where the file happens to lie.
  const why = error.message
    .split('\n')[0]
    .replace(/^.*?: /, '')
    .replace(/\S*[/\\]\S+: /g, '');
  return new FileError('PICTURE_DAMAGED', `The ${label} is damaged or cut off and cannot be read to its end (${why}).`);
}
