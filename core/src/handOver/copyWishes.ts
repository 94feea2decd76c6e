import type { SaveFormat } from '../prescription/saveFormats';
import type { CopyColour } from './copyColours';
import { patternFault } from '../kept/namePattern';

/** How much of what is known of the shot goes into a copy. */
export const COPY_METADATA = ['all', 'without-place', 'none'] as const;
export type CopyMetadata = (typeof COPY_METADATA)[number];

export const COPY_METADATA_NAMES: Readonly<Record<CopyMetadata, string>> = {
  all: 'all that is known of the shot',
  'without-place': 'without where it was taken',
  none: 'nothing but the colours',
};

/** How a finished picture is handed over, beside its format. */
export interface CopyWishes {
  readonly colour: CopyColour;
  readonly metadata: CopyMetadata;
  /** px an inch, written into the file for whoever prints it; null: not said. */
  readonly ppi: number | null;
  readonly namePattern: string;
}

export const HAND_OVER_NAME = '{frame}-{stage}';
export const PPI = { least: 36, most: 2400 } as const;

/**
 * What a photographer would choose: a JPEG is looked at anywhere, so it is in sRGB; a raw file's own space is no one's.
 */
export function usualWishes(format: SaveFormat, isSensorData: boolean): CopyWishes {
  const colour = format === 'jpeg' ? 'srgb' : isSensorData && format !== 'dng' ? 'romm' : 'as-original';
  return { colour, metadata: 'all', ppi: null, namePattern: HAND_OVER_NAME };
}

/** Null where the wishes can be met; else a sentence. */
export function wishesFault(wishes: CopyWishes, format: SaveFormat): string | null {
  if (format === 'dng' && wishes.colour !== 'as-original') return 'A DNG stays in the camera’s own colours.';
  if (wishes.ppi !== null && !(wishes.ppi >= PPI.least && wishes.ppi <= PPI.most)) {
    return `${PPI.least} to ${PPI.most} px an inch are taken.`;
  }
  return patternFault(wishes.namePattern);
}
