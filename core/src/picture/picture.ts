import { mix } from './arithmetic';
import { createPlane, type Plane } from './plane';
import type { ColourSpace } from './colourSpace';
import type { Region, Size } from './region';
import { clampIndex } from './crop';
import { installedFilters } from './filters';
import type { CodeFinder } from './toneCurve';

/** Linear-light channels of one size: one (grey) or three (the file's own red, green, blue). */
export type Channels = readonly Plane[];

/**
 * Code values of a piece of an original: 16 bits per sample (8-bit files stand at 257 v), channels interleaved,
 * upright. `origin` is the place of its first pixel in the frame.
 */
export interface CodePiece {
  readonly region: Region;
  readonly channels: 1 | 3;
  readonly codes: Uint16Array;
}

/** Decodes `wanted` out of `piece` to linear light; outside the piece its border samples repeat. */
export function decodePiece(piece: CodePiece, wanted: Region, space: ColourSpace): Plane[] {
  const { codes, channels, region } = piece;
  const columns = Int32Array.from(
    { length: wanted.width },
    (_, column) => clampIndex(wanted.x + column - region.x, region.width) * channels,
  );
  return space.decode.map((table, channel) => {
    const plane = createPlane(wanted.width, wanted.height);
    const { data } = plane;
    for (let row = 0, to = 0; row < wanted.height; row++) {
      const from = clampIndex(wanted.y + row - region.y, region.height) * region.width * channels + channel;
      for (let column = 0; column < columns.length; column++, to++) data[to] = table[codes[from + columns[column]]];
    }
    return plane;
  });
}

/** Nearest code of every linear sample, interleaved. Clips to 0..1: the only place where values are clipped. */
export function encodeChannels(channels: Channels, { finders }: Pick<ColourSpace, 'finders'>): Uint16Array {
  return (installedFilters(channels[0])?.codesOf ?? plainCodesOf)(channels, finders);
}

export function plainCodesOf(channels: Channels, finders: readonly CodeFinder[]): Uint16Array {
  const stride = channels.length;
  const codes = new Uint16Array(channels[0].data.length * stride);
  channels.forEach(({ data }, channel) => {
    const finder = finders[channel];
    for (let i = 0, to = channel; i < data.length; i++, to += stride) codes[to] = finder.codeOf(data[i]);
  });
  return codes;
}

/** Luma in linear light. */
export function lumaOf(channels: Channels, weights: readonly number[]): Plane {
  return channels.length === 1 ? channels[0] : mix(channels, weights);
}

export function sizeOf(plane: Plane): Size {
  return { width: plane.width, height: plane.height };
}
