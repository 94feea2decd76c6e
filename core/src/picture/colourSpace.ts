import { CoreError } from '../errors';
import { mixes } from './arithmetic';
import type { Plane } from './plane';
import { GREY_SRGB, parseIccProfile, SRGB, type MatrixCurves } from './iccProfile';
import { CodeFinder, tabulate, type DecodeTable } from './toneCurve';

/** How the codes of a file become linear light and back, and what its channels weigh in luma. */
export interface ColourSpace {
  readonly description: string;
  readonly channels: 1 | 3;
  readonly decode: readonly DecodeTable[];
  readonly finders: readonly CodeFinder[];
  /** Share of each channel in luma (the Y row of the profile's matrix, scaled to sum 1). */
  readonly lumaWeights: readonly number[];
  /** Linear values of this space to linear sRGB, row by row; null for grey. */
  readonly toLinearSrgb: readonly number[] | null;
}

/**
 * @param icc - The profile embedded in the file, or null for none (then sRGB's curve and primaries hold).
 * @throws CoreError PROFILE_* as parseIccProfile, and PROFILE_CHANNELS where it does not fit the picture.
 */
export function colourSpaceOf(icc: Uint8Array | null, channels: 1 | 3): ColourSpace {
  const profile = icc ? parseIccProfile(icc) : channels === 1 ? GREY_SRGB : SRGB;
  if (profile.curves.length !== channels) {
    throw new CoreError(
      'PROFILE_CHANNELS',
      `The colour profile “${profile.description}” is for ${profile.curves.length} channels, the picture has ${channels}.`,
    );
  }
  const tables = new Map(profile.curves.map((curve) => [curve, tabulate(curve)] as const));
  const decode = profile.curves.map((curve) => tables.get(curve)!);
  const finders = new Map(decode.map((table) => [table, new CodeFinder(table)] as const));
  return {
    description: profile.description,
    channels,
    decode,
    finders: decode.map((table) => finders.get(table)!),
    lumaWeights: lumaWeights(profile),
    toLinearSrgb: profile.toXyzD50 && multiply3(inverse3(SRGB.toXyzD50!), profile.toXyzD50),
  };
}

/** Linear channels of a space as linear sRGB, three of them, grey too; may lie outside 0..1. */
export function asLinearSrgb(channels: readonly Plane[], { toLinearSrgb: m }: ColourSpace): readonly Plane[] {
  if (!m) return [channels[0], channels[0], channels[0]];
  return mixes(channels, [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)]);
}

function lumaWeights({ toXyzD50 }: MatrixCurves): number[] {
  if (!toXyzD50) return [1];
  const row = toXyzD50.slice(3, 6).map((value) => Math.max(0, value));
  const sum = row.reduce((total, value) => total + value, 0);
  return row.map((value) => value / sum);
}

export function multiply3(a: readonly number[], b: readonly number[]): number[] {
  const out: number[] = [];
  for (let row = 0; row < 3; row++) {
    for (let column = 0; column < 3; column++) {
      out.push(a[row * 3] * b[column] + a[row * 3 + 1] * b[3 + column] + a[row * 3 + 2] * b[6 + column]);
    }
  }
  return out;
}

export function inverse3(m: readonly number[]): number[] {
  const [a, b, c, d, e, f, g, h, i] = m;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-12) {
    throw new CoreError('PROFILE_BROKEN', 'The colour profile inside the file is damaged: its primaries coincide.');
  }
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((value) => value / determinant);
}
