import { brushProfile, distanceToSegment } from '@vitrocept/core';

export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

interface Brush {
  readonly mode: 'add' | 'erase';
  readonly sizePx: number;
  readonly featherPercent: number;
  readonly opacityPercent: number;
}

/**
 * The mask at the scale of the page, kept up to date while a stroke is being drawn: each new segment touches only its
 * own surroundings. The result is what core's drawMask gives for the finished stroke.
 */
export class MaskPainter {
  private stroke: Float32Array | null = null;
  private brush: Brush | null = null;
  private last: { x: number; y: number } | null = null;

  constructor(
    readonly width: number,
    readonly height: number,
    /** Drawn px per px of the frame. */
    readonly scale: number,
    private base: Float32Array,
  ) {}

  begin(brush: Brush, x: number, y: number): Rect | null {
    this.brush = brush;
    this.stroke = new Float32Array(this.base.length);
    this.last = { x, y };
    return this.extend(x, y);
  }

  /** Draws on to a place of the frame; returns what changed. */
  extend(x: number, y: number): Rect | null {
    const { brush, stroke, last, scale } = this;
    if (!brush || !stroke || !last) return null;
    this.last = { x, y };
    const [x0, y0, x1, y1] = [last.x, last.y, x, y].map((value) => (value + 0.5) * scale - 0.5);
    const radius = (brush.sizePx / 2) * scale;
    const left = Math.max(0, Math.floor(Math.min(x0, x1) - radius - 1));
    const top = Math.max(0, Math.floor(Math.min(y0, y1) - radius - 1));
    const right = Math.min(this.width, Math.ceil(Math.max(x0, x1) + radius + 2));
    const bottom = Math.min(this.height, Math.ceil(Math.max(y0, y1) + radius + 2));
    if (right <= left || bottom <= top) return null;
    for (let row = top; row < bottom; row++) {
      for (let column = left; column < right; column++) {
        const c = brushProfile(distanceToSegment(column, row, x0, y0, x1, y1), radius, brush.featherPercent, 1);
        const at = row * this.width + column;
        if (c > stroke[at]) stroke[at] = c;
      }
    }
    return { x: left, y: top, width: right - left, height: bottom - top };
  }

  end(): void {
    if (this.stroke) this.base = Float32Array.from(this.base, (_, i) => this.valueAt(i));
    this.stroke = null;
    this.brush = null;
    this.last = null;
  }

  valueAt(i: number): number {
    const c = this.stroke && this.brush ? (this.stroke[i] * this.brush.opacityPercent) / 100 : 0;
    if (c === 0) return this.base[i];
    return this.brush?.mode === 'erase' ? this.base[i] * (1 - c) : 1 - (1 - this.base[i]) * (1 - c);
  }
}
