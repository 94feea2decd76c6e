/** How a finished picture is saved. */
export const SAVE_FORMATS = ['tiff16', 'png16', 'png8', 'jpeg', 'dng'] as const;
export type SaveFormat = (typeof SAVE_FORMATS)[number];

interface SaveFormatDescription {
  readonly name: string;
  readonly help: string;
  readonly ending: string;
  readonly mime: string;
  readonly bits: 8 | 16;
  /** Every sample comes out of the file as it went in. */
  readonly isExact: boolean;
}

export const SAVE_FORMAT_DESCRIPTIONS: Record<SaveFormat, SaveFormatDescription> = {
  tiff16: {
    name: 'TIFF, 16 bit',
    help: 'For the next editor: nothing is lost.',
    ending: '.tiff',
    mime: 'image/tiff',
    bits: 16,
    isExact: true,
  },
  png16: {
    name: 'PNG, 16 bit',
    help: 'Nothing is lost; opens nearly everywhere.',
    ending: '.png',
    mime: 'image/png',
    bits: 16,
    isExact: true,
  },
  png8: {
    name: 'PNG, 8 bit',
    help: 'Exact in 256 steps; smaller.',
    ending: '.png',
    mime: 'image/png',
    bits: 8,
    isExact: true,
  },
  jpeg: {
    name: 'JPEG',
    help: 'For sending and showing; compressed again.',
    ending: '.jpg',
    mime: 'image/jpeg',
    bits: 8,
    isExact: false,
  },
  dng: {
    name: 'DNG, linear',
    help: 'Light as the camera saw it.',
    ending: '.dng',
    mime: 'image/x-dng',
    bits: 16,
    isExact: true,
  },
};

/** Null where a frame of a file format can be saved so; else a sentence. Asked before anything is rendered. */
export const saveFormatFault = (wanted: SaveFormat, frameFormat: string): string | null =>
  wanted === 'dng' && frameFormat !== 'dng'
    ? 'Only what came from a DNG can be written as one. Choose TIFF for this frame.'
    : null;

/** Whether a frame of a file format came from a sensor's numbers. */
export const isSensorFormat = (format: string): boolean => format === 'dng' || format === 'raw';

/** DNG is for what came from one. */
export const saveFormatsFor = (isDng: boolean): readonly SaveFormat[] =>
  isDng ? SAVE_FORMATS : SAVE_FORMATS.filter((format) => format !== 'dng');

export const DEFAULT_JPEG_QUALITY = 92;
