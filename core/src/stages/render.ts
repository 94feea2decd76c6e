import { encodeChannels, type CodePiece } from '../picture/picture';
import { cropPlane } from '../picture/crop';
import type { Plane } from '../picture/plane';
import { placedIn, type Region } from '../picture/region';
import type { Prescription } from '../prescription/prescription';
import { cutTo, passThrough } from './pipeline';
import type { Passed, RenderSource, StageEffort } from './stage';

export interface RenderedTile {
  /** Interleaved 16-bit codes of the tile. */
  readonly codes: Uint16Array;
  /** False: every code is the original's own. */
  readonly changed: boolean;
}

/**
 * One tile of the result: a pure function of the original, the prescription and the region. Where the mask is 0 (or
 * nothing is prescribed) the original's code values are copied, never decoded and encoded again.
 *
 * @param piece - Holds at least the part of `regionNeeded` that lies in the frame.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function renderTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  effort: StageEffort,
): RenderedTile {
  return encodeTile(source, piece, tile, passThrough(source, prescription, piece, tile, effort));
}

/** @param passed - Covers the tile; null: it is the original's own. */
export function encodeTile(source: RenderSource, piece: CodePiece, tile: Region, passed: Passed | null): RenderedTile {
  const original = copyCodes(piece, tile);
  if (!passed?.touched) return { codes: original, changed: false };
  const codes = encodeChannels(cutTo(passed, tile), source.space);
  keepUntouched(codes, original, cropPlane(passed.touched, placedIn(tile, passed.region)), piece.channels);
  return { codes, changed: true };
}

export function copyCodes({ region, channels, codes }: CodePiece, tile: Region): Uint16Array {
  const out = new Uint16Array(tile.width * tile.height * channels);
  for (let row = 0; row < tile.height; row++) {
    const from = ((tile.y + row - region.y) * region.width + tile.x - region.x) * channels;
    out.set(codes.subarray(from, from + tile.width * channels), row * tile.width * channels);
  }
  return out;
}

function keepUntouched(codes: Uint16Array, original: Uint16Array, touched: Plane, channels: number): void {
  for (let i = 0; i < touched.data.length; i++) {
    if (touched.data[i] > 0) continue;
    for (let c = 0; c < channels; c++) codes[i * channels + c] = original[i * channels + c];
  }
}
