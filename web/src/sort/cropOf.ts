import type { SheetFrame } from '@vitrocept/server';

type Placed = Pick<SheetFrame, 'id' | 'width' | 'height' | 'sortedAs'>;

/** Address of the place of a frame's subject, px for px, as large as asked for or as the frame is. */
export function cropAddress({ id, width, height, sortedAs }: Placed, wide: number, high: number): string {
  const place = sortedAs?.place ?? { x: width / 2, y: height / 2 };
  const [across, down] = [Math.min(wide, width), Math.min(high, height)];
  const within = (middle: number, size: number, whole: number) =>
    Math.round(Math.min(whole - size, Math.max(0, middle - size / 2)));
  return `/api/frames/${id}/crop.jpg?x=${within(place.x, across, width)}&y=${within(place.y, down, height)}&width=${across}&height=${down}`;
}
