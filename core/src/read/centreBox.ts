import type { Region, Size } from '../picture/region';

const LEAST_BOX_PX = 512;

/** The middle half of the frame in each direction, of a small frame more: where a reading starts without a mask. */
export function centreBox({ width, height }: Size): Region {
  const side = (length: number) => Math.min(length, Math.max(LEAST_BOX_PX, Math.round(length / 2)));
  const box = { width: side(width), height: side(height) };
  return { x: Math.round((width - box.width) / 2), y: Math.round((height - box.height) / 2), ...box };
}
