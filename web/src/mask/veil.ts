import type { MaskView } from '../stores/brushStore';
import type { MaskPainter, Rect } from './MaskPainter';

/** Pale paper over what stays untouched; what lies under it can still be seen. */
const PAPER = [236, 236, 234] as const;
const PAPER_OPACITY = 0.72;

/** Lines at 10, 50 and 90 %; the middle one is white, the others dark. */
const CONTOURS = [0.5, 0.1, 0.9];

function contourAt(painter: MaskPainter, i: number): number | null {
  const value = painter.valueAt(i);
  const right = (i + 1) % painter.width === 0 ? value : painter.valueAt(i + 1);
  const below = i + painter.width < painter.width * painter.height ? painter.valueAt(i + painter.width) : value;
  return CONTOURS.find((level) => value >= level !== right >= level || value >= level !== below >= level) ?? null;
}

/** Draws the mask as tracing paper, as contour lines, or plainly as white on black. */
export function paintVeil(canvas: HTMLCanvasElement, painter: MaskPainter, view: MaskView, area?: Rect): void {
  const { x, y, width, height } = area ?? { x: 0, y: 0, width: painter.width, height: painter.height };
  const pixels = new ImageData(width, height);
  const { data } = pixels;
  for (let row = 0, at = 0; row < height; row++) {
    for (let i = (y + row) * painter.width + x, end = i + width; i < end; i++, at += 4) {
      const value = painter.valueAt(i);
      if (view === 'contours') {
        const level = contourAt(painter, i);
        if (level === null) continue;
        data[at] = data[at + 1] = data[at + 2] = level === 0.5 ? 255 : 28;
        data[at + 3] = 255;
      } else if (view === 'mask') {
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
