import type { CodePiece } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { createPlane } from '../picture/plane';

/** Codes at or above this count as white: the last percent of the scale, where JPEG rings around clipping. */
export const WHITE_CODE = 64900;
export const TONE_BINS = 128;

/** How many samples of every channel lie in each of TONE_BINS equal steps of the file's own code values. */
export function tonesOf({ codes, channels }: CodePiece): number[][] {
  const counts = Array.from({ length: channels }, () => new Array<number>(TONE_BINS).fill(0));
  for (let i = 0; i < codes.length; i++) counts[i % channels][(codes[i] * TONE_BINS) >> 16]++;
  return counts;
}

export const CLIPPED = { none: 0, white: 1, black: 2 } as const;

/**
 * Where any channel is clipped, on a map of `width` × `height` places: white where any sample under the place reached
 * white, else black where all channels of any sample are 0.
 */
export function clippingMap({ region, channels, codes }: CodePiece, width: number, height: number): Plane {
  const map = createPlane(width, height);
  for (let y = 0, i = 0; y < region.height; y++) {
    const row = Math.floor((y * height) / region.height) * width;
    for (let x = 0; x < region.width; x++, i += channels) {
      const at = row + Math.floor((x * width) / region.width);
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
  return map;
}
