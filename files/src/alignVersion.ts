import {
  align,
  coveredBy,
  encodeChannels,
  inverse3,
  lumaOf,
  matchTones,
  decodePiece,
  multiply3,
  resampled,
  srgbEncode,
  wholeOf,
  type Alignment,
  type Channels,
  type ColourSpace,
  type Kernels,
  type Plane,
} from '@vitrocept/core';
import { FileError } from './fileError';
import { pieceOf } from './pieces';
import { readPicture, type DecodedPicture } from './readPicture';

export interface PlacedVersion {
  readonly alignment: Alignment;
  /** Size of the file it came from. */
  readonly width: number;
  readonly height: number;
  /** Codes in the frame's own colour space and size; outside the version the original's. Empty where it was refused. */
  readonly codes: Uint16Array;
}

/** Lays another version of a frame onto it: scale, crop, shift and tones. */
export async function alignVersion(
  originalPath: string,
  versionPath: string,
  kernels: Kernels,
): Promise<PlacedVersion> {
  const [original, version] = [await readPicture(originalPath), await readPicture(versionPath)];
  const before = linearOf(original);
  const after = inSpaceOf(linearOf(version), version.space, original.space);
  const alignment = align(encodedLuma(before, original.space), encodedLuma(after, original.space), kernels);
  const { width, height } = version;
  if (!alignment.isAligned) return { alignment, width, height, codes: new Uint16Array(0) };
  const covered = coveredBy(version, alignment.placement, original);
  const laid = after.map((plane, c) => {
    const placed = resampled(plane, alignment.placement, original);
    const toned = matchTones(before[c], placed, covered);
    return { ...toned, data: toned.data.map((value, i) => (covered.data[i] > 0 ? value : before[c].data[i])) };
  });
  return { alignment, width, height, codes: encodeChannels(laid, original.space) };
}

function linearOf(picture: DecodedPicture): Plane[] {
  const whole = wholeOf(picture);
  return decodePiece(pieceOf(picture, whole), whole, picture.space);
}

function inSpaceOf(channels: Plane[], from: ColourSpace, to: ColourSpace): Plane[] {
  if (from.channels !== to.channels) {
    const [one, other] = from.channels === 1 ? ['grey', 'in colour'] : ['in colour', 'grey'];
    throw new FileError('VERSION_CHANNELS', `This version is ${one}, the frame is ${other}: they cannot be compared.`);
  }
  if (!from.toLinearSrgb || !to.toLinearSrgb) return channels;
  const m = multiply3(inverse3(to.toLinearSrgb), from.toLinearSrgb);
  const [r, g, b] = channels;
  return [0, 3, 6].map((row) => ({
    ...r,
    data: r.data.map((value, i) => m[row] * value + m[row + 1] * g.data[i] + m[row + 2] * b.data[i]),
  }));
}

function encodedLuma(channels: Channels, space: ColourSpace): Plane {
  const luma = lumaOf(channels, space.lumaWeights);
  return { ...luma, data: luma.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))) };
}
