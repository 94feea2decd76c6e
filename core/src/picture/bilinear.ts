import { clampIndex } from './crop';
import type { Plane } from './plane';

/** The plane between its samples, where all four of them lie inside. */
export function between({ width, data }: Plane, x: number, y: number): number {
  const left = Math.floor(x);
  const top = Math.floor(y);
  const u = x - left;
  const v = y - top;
  const i = top * width + left;
  return (data[i] * (1 - u) + data[i + 1] * u) * (1 - v) + (data[i + width] * (1 - u) + data[i + width + 1] * u) * v;
}

/** The plane between its samples; outside, the border's value. */
export function bilinear({ width, height, data }: Plane, x: number, y: number): number {
  const left = clampIndex(Math.floor(x), width - 1);
  const top = clampIndex(Math.floor(y), height - 1);
  const u = Math.min(1, Math.max(0, x - left));
  const v = Math.min(1, Math.max(0, y - top));
  const i = top * width + left;
  return (data[i] * (1 - u) + data[i + 1] * u) * (1 - v) + (data[i + width] * (1 - u) + data[i + width + 1] * u) * v;
}
