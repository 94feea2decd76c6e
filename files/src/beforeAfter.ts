import { asLinearSrgb, decodePiece, type Channels, type CodePiece, type Region } from '@vitrocept/core';
import { jpegOf } from './cropJpeg';
import { spaceOfSamples } from './keptFacts';
import { openPlainTiff, type PlainTiff } from './plainTiff';
import { readCodes, type SampleFile } from './sampleFile';

/** Two JPEGs of one place of a frame, px for px: as it was taken, and as `result` has it. */
export interface BeforeAfter {
  readonly before: Buffer;
  readonly after: Buffer;
}

/** @param result - Of the frame's size: codes of 16 bits, or linear light of 32. */
export async function beforeAfter(file: SampleFile, result: PlainTiff, place: Region): Promise<BeforeAfter> {
  const taken = await readCodes(file, place);
  const space = await spaceOfSamples(file);
  const jpeg = (piece: CodePiece) => jpegOf(asLinearSrgb(decodePiece(piece, piece.region, space), space));
  const after =
    result.bits === 32
      ? jpegOf(asLinearSrgb(lightIn(result, taken.region), space))
      : jpeg(pieceIn(result, taken.region));
  return { before: await jpeg(taken), after: await after };
}

function lightIn(result: PlainTiff, region: Region): Channels {
  const { channels } = result;
  const { width, height } = region;
  const handle = openPlainTiff(result, false);
  try {
    const values = handle.floats(region);
    return Array.from({ length: channels }, (_, c) => {
      const data = new Float32Array(width * height);
      for (let i = 0; i < data.length; i++) data[i] = values[i * channels + c];
      return { width, height, data };
    });
  } finally {
    handle.close();
  }
}

function pieceIn(result: PlainTiff, region: Region): CodePiece {
  const { channels, width } = result;
  const handle = openPlainTiff(result, false);
  try {
    const rows = handle.rows(region.y, region.height);
    const codes = new Uint16Array(region.width * region.height * channels);
    for (let row = 0; row < region.height; row++) {
      const from = (row * width + region.x) * channels;
      codes.set(rows.subarray(from, from + region.width * channels), row * region.width * channels);
    }
    return { region, channels, codes };
  } finally {
    handle.close();
  }
}
