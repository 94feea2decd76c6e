import { contentKey } from '../contentKey';
import { keptWith } from '../picture/kept';
import type { CodePiece } from '../picture/picture';
import { intersect, type Region } from '../picture/region';
import { WHITE_CODE } from '../read/tones';

/** 1 where a channel of the photograph reached white; never changed after. */
export function clippedOver(piece: CodePiece, area: Region): Uint8Array {
  return keptWith(piece, contentKey(['clipped', area]), () => reachedWhite(piece, area));
}

function reachedWhite(piece: CodePiece, area: Region): Uint8Array {
  const clipped = new Uint8Array(area.width * area.height);
  const inside = intersect(area, piece.region);
  for (let y = inside.y; y < inside.y + inside.height; y++) {
    for (let x = inside.x; x < inside.x + inside.width; x++) {
      const from = ((y - piece.region.y) * piece.region.width + x - piece.region.x) * piece.channels;
      for (let c = 0; c < piece.channels; c++) {
        if (piece.codes[from + c] >= WHITE_CODE) clipped[(y - area.y) * area.width + x - area.x] = 1;
      }
    }
  }
  return clipped;
}
