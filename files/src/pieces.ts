import { intersect, type CodePiece, type Region } from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';

/** Cuts a region (clipped to the frame) out of decoded samples as 16-bit codes: 8-bit v becomes 257 v. */
export function pieceOf(picture: DecodedPicture, wanted: Region): CodePiece {
  const { width, height, channels, samples, bits } = picture;
  const region = intersect(wanted, { x: 0, y: 0, width, height });
  const codes = new Uint16Array(region.width * region.height * channels);
  const perRow = region.width * channels;
  for (let row = 0; row < region.height; row++) {
    const from = ((region.y + row) * width + region.x) * channels;
    const own = samples.subarray(from, from + perRow);
    if (bits === 8) widen(own, codes, row * perRow);
    else codes.set(own, row * perRow);
  }
  return { region, channels, codes };
}

function widen(samples: Uint8Array | Uint16Array, codes: Uint16Array, to: number): void {
  for (let i = 0; i < samples.length; i++) codes[to + i] = samples[i] * 257;
}
