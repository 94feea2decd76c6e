import type { AuditMap } from '@vitrocept/core';

/** How a cell is held against the original. */
export const WAYS = {
  result: 'Result',
  divider: 'Divider',
  pair: 'Pair',
  blink: 'Blink',
  difference: 'Difference',
} as const;
export type Way = keyof typeof WAYS;

/** What the audit draws over the pixels. */
export const MAP_NAMES: Record<AuditMap, string> = {
  unproven: 'unproven detail',
  rim: 'rims of halos',
  drift: 'colour drift',
  leak: 'background beyond the mask',
};

/** Of the close look's picture, px of the screen. */
export const WIDTH = 640;
export const HEIGHT = 560;
export const DIFFERENCE_GAIN = 4;
