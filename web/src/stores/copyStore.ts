import { create } from 'zustand';
import {
  DEFAULT_JPEG_QUALITY,
  HAND_OVER_NAME,
  isSensorFormat,
  usualWishes,
  type CopyColour,
  type CopyMetadata,
  type CopyWishes,
  type SaveFormat,
} from '@vitrocept/core';

interface CopyState {
  readonly format: SaveFormat;
  readonly quality: number;
  /** Null: what is usual for the format. */
  readonly colour: CopyColour | null;
  readonly metadata: CopyMetadata;
  readonly ppi: number | null;
  readonly namePattern: string;
  set(change: Partial<Omit<CopyState, 'set'>>): void;
}

/** How copies are handed over: the same for the next frame, until the page is closed. */
export const useCopyStore = create<CopyState>()((set) => ({
  format: 'tiff16',
  quality: DEFAULT_JPEG_QUALITY,
  colour: null,
  metadata: 'all',
  ppi: null,
  namePattern: HAND_OVER_NAME,
  set: (change) => set(change),
}));

/** What is wished for a frame: what was chosen, else what is usual. Only what came as a DNG goes as one. */
export function wishesFor(state: CopyState, frameFormat: string): { format: SaveFormat; wishes: CopyWishes } {
  const { metadata, ppi, namePattern, colour } = state;
  const format = state.format === 'dng' && frameFormat !== 'dng' ? 'tiff16' : state.format;
  const usual = usualWishes(format, isSensorFormat(frameFormat));
  return {
    format,
    wishes: { colour: format === 'dng' ? usual.colour : (colour ?? usual.colour), metadata, ppi, namePattern },
  };
}
