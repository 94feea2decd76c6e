import type { MaskView } from '../stores/brushStore';
import type { MaskPainter, Rect } from './MaskPainter';

/** Pale paper over what stays untouched; what lies under it can still be seen. */
const PAPER = [236, 236, 234] as const;
const PAPER_OPACITY = 0.72;

/** Draws the mask as tracing paper, or plainly as white on black. */
export function paintVeil(canvas: HTMLCanvasElement, painter: MaskPainter, view: MaskView, area?: Rect): void {
  const { x, y, width, height } = area ?? { x: 0, y: 0, width: painter.width, height: painter.height };
  const pixels = new ImageData(width, height);
  const { data } = pixels;
  for (let row = 0, at = 0; row < height; row++) {
    for (let i = (y + row) * painter.width + x, end = i + width; i < end; i++, at += 4) {
      const value = painter.valueAt(i);
      if (view === 'mask') {
        data[at] = data[at + 1] = data[at + 2] = 255 * value;
        data[at + 3] = 255;
      } else {
        [data[at], data[at + 1], data[at + 2]] = PAPER;
        data[at + 3] = 255 * PAPER_OPACITY * (1 - value);
      }
    }
  }
  canvas.getContext('2d')!.putImageData(pixels, x, y);
}
