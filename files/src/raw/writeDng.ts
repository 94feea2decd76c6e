import type { BayerPattern, Size } from '@vitrocept/core';
import {
  asciiField,
  byteField,
  longField,
  rationalField,
  shortField,
  signedRationalField,
  writeDirectoriesAt,
  writeDirectory,
  type Directories,
  type Directory,
  type Field,
} from '../ifd';
import { DNG, PHOTOMETRIC } from './dngTags';

/** What a camera's colours are, as a DNG says it. */
export interface DngColour {
  readonly uniqueModel: string;
  readonly colorMatrix: readonly number[];
  /** EXIF LightSource of the matrix. */
  readonly illuminant: number;
  readonly asShotNeutral: readonly number[];
}

export interface DngWish extends Size {
  /** Interleaved: one plane of a mosaic, or three. */
  readonly samples: Uint16Array;
  /** Null: no mosaic. */
  readonly pattern: BayerPattern | null;
  /** The samples as they are to stand in the file; without it 16 bits each, lowest byte first. */
  readonly packed?: { readonly bytes: Buffer; readonly compression: number; readonly bits: number };
  readonly black: number;
  readonly white: number;
  readonly colour: DngColour | readonly Field[];
  /** More of the sensor data, or in place of what is written of them. */
  readonly rawFields?: readonly Field[];
  /** An upright JPEG for the first look, with its size. */
  readonly preview: Size & { readonly jpeg: Buffer };
  /** What was known of the shot. */
  readonly directories: Directories;
}

const HEAD = 8;
const even = (length: number) => length + (length % 2);

/**
 * A DNG: preview in the first directory, sensor data in one it points to, in one strip.
 * Source: the open DNG specification (1.4.0.0, chapters 2 to 4).
 */
export const writeDng = (wish: DngWish): Buffer => Buffer.concat(dngParts(wish));

/** The same part by part, to be written one after the other. */
export function dngParts(wish: DngWish): Buffer[] {
  const { samples, preview, directories, packed } = wish;
  const pixels = packed?.bytes ?? Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  const previewAt = HEAD;
  const pixelsAt = previewAt + even(preview.jpeg.length);
  const rawAt = pixelsAt + even(pixels.length);
  const raw = directoryFrom(rawFields(wish, pixelsAt, pixels.length));
  const rawBytes = writeDirectory(raw, rawAt);
  const mainAt = rawAt + even(rawBytes.length);
  const own = directoryFrom([
    ...previewFields(preview, previewAt),
    ...cameraFields(wish),
    longField(DNG.subIfds, rawAt),
  ]);
  const main = new Map([...directories.main, ...own]);
  const { bytes: mainBytes } = writeDirectoriesAt({ ...directories, main }, mainAt);
  const head = Buffer.from([0x49, 0x49, 42, 0, 0, 0, 0, 0]);
  head.writeUInt32LE(mainAt, 4);
  return [head, ...[preview.jpeg, pixels, rawBytes].map(padded), mainBytes];
}

const padded = (bytes: Buffer) => (bytes.length % 2 ? Buffer.concat([bytes, Buffer.alloc(1)]) : bytes);
const directoryFrom = (fields: readonly Field[]): Directory => new Map(fields.map((field) => [field.tag, field]));

const previewFields = ({ width, height, jpeg }: DngWish['preview'], at: number): Field[] => [
  longField(DNG.subFileType, 1),
  longField(DNG.width, width),
  longField(DNG.height, height),
  shortField(DNG.bitsPerSample, 8, 8, 8),
  shortField(DNG.compression, 7),
  shortField(DNG.photometric, 6),
  longField(DNG.stripOffsets, at),
  shortField(DNG.samplesPerPixel, 3),
  longField(DNG.rowsPerStrip, height),
  longField(DNG.stripBytes, jpeg.length),
  shortField(DNG.planarConfiguration, 1),
];

function cameraFields({ colour }: DngWish): Field[] {
  const version = [byteField(DNG.version, 1, 4, 0, 0), byteField(DNG.backwardVersion, 1, 1, 0, 0)];
  if (!('colorMatrix' in colour)) return [...version, ...colour];
  return [
    ...version,
    asciiField(DNG.uniqueModel, colour.uniqueModel),
    signedRationalField(DNG.colorMatrix1, ...colour.colorMatrix),
    rationalField(DNG.asShotNeutral, ...colour.asShotNeutral),
    shortField(DNG.illuminant1, colour.illuminant),
  ];
}

function rawFields(wish: DngWish, at: number, bytes: number): Field[] {
  const { width, height, samples, pattern, black, white, packed, rawFields: more = [] } = wish;
  const planes = pattern ? 1 : samples.length / (width * height);
  return [
    longField(DNG.subFileType, 0),
    longField(DNG.width, width),
    longField(DNG.height, height),
    shortField(DNG.bitsPerSample, ...Array<number>(planes).fill(packed?.bits ?? 16)),
    shortField(DNG.compression, packed?.compression ?? 1),
    shortField(DNG.photometric, pattern ? PHOTOMETRIC.mosaic : PHOTOMETRIC.linear),
    longField(DNG.stripOffsets, at),
    shortField(DNG.samplesPerPixel, planes),
    longField(DNG.rowsPerStrip, height),
    longField(DNG.stripBytes, bytes),
    shortField(DNG.planarConfiguration, 1),
    ...(pattern ? mosaicFields(pattern) : []),
    shortField(DNG.blackRepeat, 1, 1),
    shortField(DNG.black, ...Array<number>(planes).fill(black)),
    longField(DNG.white, ...Array<number>(planes).fill(white)),
    longField(DNG.cropOrigin, 0, 0),
    longField(DNG.cropSize, width, height),
    ...more,
  ];
}

const mosaicFields = (pattern: BayerPattern): Field[] => [
  shortField(DNG.cfaRepeat, 2, 2),
  byteField(DNG.cfaPattern, ...pattern),
  byteField(DNG.cfaPlaneColors, 0, 1, 2),
  shortField(DNG.cfaLayout, 1),
];
