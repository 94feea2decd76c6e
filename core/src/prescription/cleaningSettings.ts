import { MID_TONE } from '../noise/noise';
import { automaticCleaning } from './cleaning';
import type { AcceptedReading, Cleaning } from './prescription';

export const CLEANING_SETTINGS = ['gentle', 'even', 'strong', 'shadows-first', 'colour-only', 'worst-channel'] as const;
export type CleaningSetting = (typeof CLEANING_SETTINGS)[number];

/** Shadows are cleaned wholly up to here and lights left from there, over encoded brightness. */
const SHADOWS = [0, 0, 0.3, 0.6] as const;
/** A channel this much noisier than the quietest is cleaned alone. */
const MUCH_NOISIER = 1.4;

const byHand = (value: number) => ({ value, auto: false });

/** A way to set cleaning, all else on Automatic; null where it makes no sense for this frame. */
export function cleaningAs(setting: CleaningSetting, reading: AcceptedReading | null): Cleaning | null {
  const even = automaticCleaning(reading);
  switch (setting) {
    case 'gentle':
      return { ...even, luminance: byHand(60), detailKept: byHand(Math.min(60, even.detailKept.value + 20)) };
    case 'even':
      return even;
    case 'strong':
      return { ...even, luminance: byHand(140), colour: byHand(140), detailKept: byHand(0) };
    case 'shadows-first':
      return { ...even, luminance: byHand(130), band: SHADOWS };
    case 'colour-only':
      return { ...even, luminance: byHand(0), colour: byHand(120) };
    case 'worst-channel': {
      const noise = (reading?.grain?.noise ?? reading?.noise ?? []).map(({ a, b }) => Math.sqrt(a * MID_TONE + b));
      const worst = Math.max(...noise);
      if (noise.length < 3 || worst < MUCH_NOISIER * Math.min(...noise)) return null;
      return { ...even, channelPercents: noise.map((value) => (value === worst ? 100 : 40)) };
    }
  }
}
