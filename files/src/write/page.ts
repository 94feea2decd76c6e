import type { PictureFacts } from '../decoders/decoder';

export type CopyFacts = Pick<PictureFacts, 'width' | 'height' | 'channels' | 'icc' | 'directories'> &
  Partial<Pick<PictureFacts, 'space' | 'xmp' | 'iptc'>>;

/** A finished picture: 16-bit codes, interleaved, upright, in the colour space of the file it came from. */
export interface Page {
  readonly name: string;
  /** Whole rows; asked for from top to bottom. */
  rows(from: number, count: number): Uint16Array;
}

/** Rows that are written at a time. */
export const ROWS_AT_ONCE = 64;
