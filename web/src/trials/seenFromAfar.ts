import type { Region, Size } from '@vitrocept/core';

/** What is taken back of a blur smaller than this on the screen cannot be seen, px. */
const LEAST_SEEN_PX = 0.5;

/** Screen px of a px of the frame where all of a region is shown in a cell; never larger than the pixels. */
export const scaleFromAfar = (cell: Size, { width, height }: Region): number =>
  Math.min(cell.width / width, cell.height / height, 1);

/** Whether a recovery of such a blur shows at all. Where it does not, thousands of pieces need not be computed. */
export const isSeenFromAfar = (blurSizePx: number, scale: number): boolean => blurSizePx * scale >= LEAST_SEEN_PX;
