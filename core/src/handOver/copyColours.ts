import { adaptation } from '../correct/adaptation';
import type { Chromaticity } from '../correct/daylight';
import { inverse3, multiply3 } from '../picture/colourSpace';
import type { WrittenProfile } from '../picture/writeIccProfile';
import { D50 } from '../raw/cameraColour';

/** The colour spaces a copy can be handed over in. */
export const COPY_COLOURS = ['as-original', 'srgb', 'display-p3', 'oprgb', 'romm'] as const;
export type CopyColour = (typeof COPY_COLOURS)[number];

export const COPY_COLOUR_NAMES: Readonly<Record<CopyColour, string>> = {
  'as-original': 'as the original',
  srgb: 'sRGB',
  'display-p3': 'Display P3',
  oprgb: 'opRGB',
  romm: 'ROMM RGB',
};

/** CIE 1931 chromaticities. */
export interface Primaries {
  readonly red: Chromaticity;
  readonly green: Chromaticity;
  readonly blue: Chromaticity;
  readonly white: Chromaticity;
}

const D65: Chromaticity = { x: 0.3127, y: 0.329 };
/** IEC 61966-2-1, as a parametric curve: g, a, b, c, d. */
const SRGB_CURVE = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045];

/** Primaries and curve of each. */
const SPACES: Readonly<Record<Exclude<CopyColour, 'as-original'>, Primaries & { readonly curve: readonly number[] }>> =
  {
    // IEC 61966-2-1:1999.
    srgb: {
      red: { x: 0.64, y: 0.33 },
      green: { x: 0.3, y: 0.6 },
      blue: { x: 0.15, y: 0.06 },
      white: D65,
      curve: SRGB_CURVE,
    },
    // SMPTE EG 432-1:2010, table 1, with the white and the curve of sRGB.
    'display-p3': {
      red: { x: 0.68, y: 0.32 },
      green: { x: 0.265, y: 0.69 },
      blue: { x: 0.15, y: 0.06 },
      white: D65,
      curve: SRGB_CURVE,
    },
    // IEC 61966-2-5:2007: a gamma of 563/256.
    oprgb: {
      red: { x: 0.64, y: 0.33 },
      green: { x: 0.21, y: 0.71 },
      blue: { x: 0.15, y: 0.06 },
      white: D65,
      curve: [563 / 256],
    },
    // ISO 22028-2:2013: linear below 16/512 of the code.
    romm: {
      red: { x: 0.7347, y: 0.2653 },
      green: { x: 0.1596, y: 0.8404 },
      blue: { x: 0.0366, y: 0.0001 },
      white: D50,
      curve: [1.8, 1, 0, 1 / 16, 16 / 512],
    },
  };

const xyzOf = ({ x, y }: Chromaticity) => [x / y, 1, (1 - x - y) / y];

/**
 * Linear red, green and blue of given primaries to XYZ under D50, row by row.
 * Source: SMPTE RP 177:1993 for the matrix; Bradford's adaptation, CIE 159:2004.
 */
export function primariesToXyzD50({ red, green, blue, white }: Primaries): number[] {
  const columns = [red, green, blue].map(xyzOf);
  const plain = [0, 1, 2].flatMap((row) => columns.map((column) => column[row]));
  const back = inverse3(plain);
  const target = xyzOf(white);
  const gains = [0, 1, 2].map((row) => target.reduce((sum, value, i) => sum + back[3 * row + i] * value, 0));
  const toXyz = plain.map((value, i) => value * gains[i % 3]);
  return multiply3(adaptation(white, D50), toXyz);
}

/** The profile of a colour space that a copy is converted to. */
export function copyProfile(colour: Exclude<CopyColour, 'as-original'>): WrittenProfile {
  const { curve, ...primaries } = SPACES[colour];
  return { description: COPY_COLOUR_NAMES[colour], toXyzD50: primariesToXyzD50(primaries), curve };
}
