import {
  grow,
  reachOfPrescription,
  renderTile,
  tilesTouching,
  wholeOf,
  type Prescription,
  type RecoveryEffort,
  type RenderSource,
} from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';
import { pieceOf } from './pieces';

/** Renders a whole frame tile by tile in this thread. */
export function renderPicture(
  picture: DecodedPicture,
  prescription: Prescription,
  source: Omit<RenderSource, 'frame' | 'space'>,
  effort: RecoveryEffort,
): Uint16Array {
  const out = pieceOf(picture, wholeOf(picture)).codes;
  const tiles = tilesTouching(wholeOf(picture), picture);
  const reach = reachOfPrescription(prescription, source.psf);
  for (const tile of tiles) {
    const piece = pieceOf(picture, grow(tile, reach));
    const { codes, changed } = renderTile(
      { ...source, frame: picture, space: picture.space },
      prescription,
      piece,
      tile,
      effort,
    );
    if (changed) placeTile(out, picture, tile, codes);
  }
  return out;
}

/** Puts a tile's codes into the whole picture's. */
export function placeTile(
  whole: Uint16Array,
  frame: { width: number; channels: number },
  tile: { x: number; y: number; width: number; height: number },
  codes: Uint16Array,
): void {
  const perRow = tile.width * frame.channels;
  for (let row = 0; row < tile.height; row++) {
    whole.set(
      codes.subarray(row * perRow, (row + 1) * perRow),
      ((tile.y + row) * frame.width + tile.x) * frame.channels,
    );
  }
}
