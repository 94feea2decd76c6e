import {
  asLinearSrgb,
  areaOperation,
  MOST_AREA_SIDE,
  Shrinking,
  sizeWithin,
  subjectArea,
  wholeOf,
  type AreaOperation,
  type Channels,
} from '@vitrocept/core';
import { spaceOfSamples } from './keptFacts';
import { nodeKernels } from './nodeKernels';
import { pieceOf } from './pieces';
import type { DecodedPicture } from './readPicture';
import { bandsOf, readCodes, type SampleFile } from './sampleFile';

const BAND_ROWS = 256;

/** A whole frame in linear sRGB, its long side at most `side`, from its decoded samples; never held whole. */
export async function smallPicture(file: SampleFile, side: number): Promise<Channels> {
  return asLinearSrgb(await shrunkSamples(file, side), await spaceOfSamples(file));
}

/** The same in its own space. */
export async function shrunkSamples(file: SampleFile, side: number): Promise<Channels> {
  const { decode } = await spaceOfSamples(file);
  const small = new Shrinking(file, decode, sizeWithin(file, side));
  for await (const band of bandsOf(file)) small.add(band.codes, band.region.y);
  return small.result;
}

/** So many rows of the frame make a row of a rough small picture. */
const ROUGH_ROWS = 4;

/** The same from a few rows of the frame only, evenly spread: for a first look. */
export async function roughSmallPicture(file: SampleFile, side: number): Promise<Channels> {
  const space = await spaceOfSamples(file);
  const size = sizeWithin(file, side);
  const rows = Math.min(file.height, ROUGH_ROWS * size.height);
  const small = new Shrinking({ width: file.width, height: rows }, space.decode, size);
  for (let row = 0; row < rows; row++) {
    const y = Math.floor(((row + 0.5) * file.height) / rows);
    const { codes } = await readCodes(file, { x: 0, y, width: file.width, height: 1 });
    small.add(codes, row);
  }
  return asLinearSrgb(small.result, space);
}

/** The same of a picture that is held already. */
export function smallOf(picture: DecodedPicture, side: number): Channels {
  return asLinearSrgb(shrunkPicture(picture, side), picture.space);
}

/** The same in its own space. */
export function shrunkPicture(picture: DecodedPicture, side: number): Channels {
  const { width, height, space } = picture;
  const small = new Shrinking(picture, space.decode, sizeWithin(picture, side));
  for (let y = 0; y < height; y += BAND_ROWS) {
    const rows = { ...wholeOf(picture), y, width, height: Math.min(BAND_ROWS, height - y) };
    small.add(pieceOf(picture, rows).codes, y);
  }
  return small.result;
}

/** The subject of a frame as an operation of a mask, and the share of the frame it covers. */
export function subjectOf(small: Channels, frame: SampleFile | DecodedPicture) {
  const coverage = subjectArea(small, []);
  const share = coverage.data.reduce((sum, value) => sum + value, 0) / coverage.data.length;
  const operation: AreaOperation = areaOperation(coverage, frame, 'add', { kind: 'subject', dabs: [] });
  return { operation, share };
}

/** The same of decoded samples. */
export async function subjectInFile(file: SampleFile) {
  // With them comes what tells a subject.
  await nodeKernels();
  return subjectOf(await smallPicture(file, SUBJECT_SIDE), file);
}

/** Long side of the picture in which a subject is found. */
export const SUBJECT_SIDE = MOST_AREA_SIDE;
