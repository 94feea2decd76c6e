import {
  asLinearSrgb,
  areaOperation,
  MOST_AREA_SIDE,
  Shrinking,
  subjectArea,
  wholeOf,
  type AreaOperation,
  type Channels,
} from '@vitrocept/core';
import { spaceOfSamples } from './keptFacts';
import { pieceOf } from './pieces';
import type { DecodedPicture } from './readPicture';
import { bandsOf, type SampleFile } from './sampleFile';

const BAND_ROWS = 256;

/** A whole frame in linear sRGB, its long side at most `side`, from its decoded samples; never held whole. */
export async function smallPicture(file: SampleFile, side: number): Promise<Channels> {
  const space = await spaceOfSamples(file);
  const small = new Shrinking(file, space.decode, side);
  for await (const band of bandsOf(file)) small.add(band.codes, band.region.y);
  return asLinearSrgb(small.result, space);
}

/** The same of a picture that is held already. */
export function smallOf(picture: DecodedPicture, side: number): Channels {
  const { width, height, space } = picture;
  const small = new Shrinking(picture, space.decode, side);
  for (let y = 0; y < height; y += BAND_ROWS) {
    const rows = { ...wholeOf(picture), y, width, height: Math.min(BAND_ROWS, height - y) };
    small.add(pieceOf(picture, rows).codes, y);
  }
  return asLinearSrgb(small.result, space);
}

/** The subject of a frame as an operation of a mask, and the share of the frame it covers. */
export function subjectOf(small: Channels, frame: SampleFile | DecodedPicture) {
  const coverage = subjectArea(small, []);
  const share = coverage.data.reduce((sum, value) => sum + value, 0) / coverage.data.length;
  const operation: AreaOperation = areaOperation(coverage, frame, 'add', { kind: 'subject', dabs: [] });
  return { operation, share };
}

/** Long side of the picture in which a subject is found. */
export const SUBJECT_SIDE = MOST_AREA_SIDE;
