import type { CodePiece } from '../picture/picture';
import type { Plane } from '../picture/plane';
import type { Size } from '../picture/region';

/** Codes at or above this count as white: the last percent of the scale, where JPEG rings around clipping. */
export const WHITE_CODE = 64900;
export const TONE_BINS = 128;

/** How many samples of every channel lie in each of TONE_BINS equal steps of the file's own code values. */
export function tonesOf(piece: CodePiece): number[][] {
  return addTones(noTones(piece.channels), piece);
}

export const noTones = (channels: number): number[][] =>
  Array.from({ length: channels }, () => new Array<number>(TONE_BINS).fill(0));

/** Counts a piece into `counts`, so that a frame can be counted band by band. */
export function addTones(counts: number[][], { codes, channels }: CodePiece): number[][] {
  counts.forEach((own, c) => {
    for (let i = c; i < codes.length; i += channels) own[(codes[i] * TONE_BINS) >> 16]++;
  });
  return counts;
}

export const CLIPPED = { none: 0, white: 1, black: 2 } as const;

/**
 * Marks on a map of the frame where any channel of a piece is clipped: white where any sample under the place reached
 * white, else black where all channels of any sample are 0. `map` starts at CLIPPED.none.
 */
export function addClipped(map: Plane, { region, channels, codes }: CodePiece, frame: Size): void {
  const { width, height } = map;
  for (let y = 0, i = 0; y < region.height; y++) {
    const row = Math.floor(((region.y + y) * height) / frame.height) * width;
    for (let x = 0; x < region.width; x++, i += channels) {
      const at = row + Math.floor(((region.x + x) * width) / frame.width);
      let isWhite = false;
      let isBlack = true;
      for (let c = 0; c < channels; c++) {
        isWhite ||= codes[i + c] >= WHITE_CODE;
        isBlack &&= codes[i + c] === 0;
      }
      if (isWhite) map.data[at] = CLIPPED.white;
      else if (isBlack && map.data[at] === CLIPPED.none) map.data[at] = CLIPPED.black;
    }
  }
}
