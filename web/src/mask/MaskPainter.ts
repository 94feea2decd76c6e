import { combine, coverSegment } from '@vitrocept/core';

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
  private last: { x: number; y: number; pressure: number } | null = null;

  constructor(
    readonly width: number,
    readonly height: number,
    /** Drawn px per px of the frame. */
    readonly scale: number,
    private base: Float32Array,
  ) {}

  begin(brush: Brush, x: number, y: number, pressure = 1): Rect | null {
    this.brush = brush;
    this.stroke = new Float32Array(this.base.length);
    this.last = { x, y, pressure };
    return this.extend(x, y, pressure);
  }

  /** Draws on to a place of the frame; returns what changed. */
  extend(x: number, y: number, pressure = 1): Rect | null {
    const { brush, stroke, last, scale } = this;
    if (!brush || !stroke || !last) return null;
    this.last = { x, y, pressure };
    const [x0, y0, x1, y1] = [last.x, last.y, x, y].map((value) => (value + 0.5) * scale - 0.5);
    const radius = (brush.sizePx / 2) * scale;
    const segment = { x0, y0, x1, y1, radius0: radius * last.pressure, radius1: radius * pressure };
    return coverSegment(stroke, this.width, this.height, segment, brush.featherPercent);
  }

  end(): void {
    if (this.stroke) this.base = Float32Array.from(this.base, (_, i) => this.valueAt(i));
    this.cancel();
  }

  /** Drops the stroke that is being drawn. */
  cancel(): void {
    this.stroke = null;
    this.brush = null;
    this.last = null;
  }

  valueAt(i: number): number {
    const c = this.stroke && this.brush ? (this.stroke[i] * this.brush.opacityPercent) / 100 : 0;
    return c === 0 ? this.base[i] : combine(this.base[i], c, this.brush!.mode);
  }
}
