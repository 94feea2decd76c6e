import { asLinearSrgb, decodePiece, type CodePiece, type Region } from '@vitrocept/core';
import { jpegOf } from './cropJpeg';
import { spaceOfSamples } from './keptFacts';
import { openPlainTiff, type PlainTiff } from './plainTiff';
import { readCodes, type SampleFile } from './sampleFile';

/** Two JPEGs of one place of a frame, px for px: as it was taken, and as `result` has it. */
export interface BeforeAfter {
  readonly before: Buffer;
  readonly after: Buffer;
}

/** @param result - Of the frame's size, 16 bits. */
export async function beforeAfter(file: SampleFile, result: PlainTiff, place: Region): Promise<BeforeAfter> {
  const taken = await readCodes(file, place);
  const space = await spaceOfSamples(file);
  const jpeg = (piece: CodePiece) => jpegOf(asLinearSrgb(decodePiece(piece, piece.region, space), space));
  return { before: await jpeg(taken), after: await jpeg(pieceIn(result, taken.region)) };
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
