import { createPlane, type Plane } from './plane';
import type { Size } from './region';

/**
 * A picture made smaller while it comes in, a few rows at a time: every new sample is the mean of the samples it covers,
 * those at its border by the share that lies in it. In linear light no brightness is lost.
 */
export class Shrinking {
  private readonly planes: Plane[];
  private readonly across: Spans;
  private readonly down: Spans;

  /**
   * @param tables - Of each channel: linear light by code.
   * @param size - Of the result: nowhere larger than the picture.
   */
  constructor(
    private readonly whole: Size,
    private readonly tables: readonly Float32Array[],
    private readonly size: Size,
  ) {
    this.planes = tables.map(() => createPlane(size.width, size.height));
    this.across = spansOf(whole.width, size.width);
    this.down = spansOf(whole.height, size.height);
  }

  /** @param codes - Whole rows of the picture, channels interleaved, each row given once; the first of them is row `y`. */
  add(codes: Uint16Array, y: number): void {
    const stride = this.tables.length;
    const rows = codes.length / (this.whole.width * stride);
    const line = new Float32Array(this.size.width);
    this.tables.forEach((table, c) => {
      for (let row = 0; row < rows; row++) {
        sumAcross(line, codes, row * this.whole.width * stride + c, stride, table, this.across);
        const { first, share } = this.down.of(y + row);
        addLine(this.planes[c], first, line, share);
        if (share < this.down.ratio) addLine(this.planes[c], first + 1, line, this.down.ratio - share);
      }
    });
  }

  /** After all rows. */
  get result(): readonly Plane[] {
    return this.planes;
  }
}

/** A size of the same shape with so many px at most on its longer side; a smaller one stays as it is. */
export function sizeWithin(whole: Size, side: number): Size {
  const scale = Math.min(1, side / Math.max(whole.width, whole.height));
  return {
    width: Math.max(1, Math.round(whole.width * scale)),
    height: Math.max(1, Math.round(whole.height * scale)),
  };
}

/** How `from` samples lie under `to` new ones. */
interface Spans {
  /** New samples for each old one. */
  readonly ratio: number;
  /** Of each new sample: the old ones that lie wholly in it, from `start` on and before `end`. */
  readonly start: Int32Array;
  readonly end: Int32Array;
  /** Weights of the old sample before `start` and of the one at `end`, which lie in it partly. */
  readonly before: Float32Array;
  readonly after: Float32Array;
  /** The new sample that an old one begins in, and its weight there; the rest of `ratio` goes to the next. */
  of(index: number): { first: number; share: number };
}

const CLOSE = 1e-9;

function spansOf(from: number, to: number): Spans {
  const ratio = to / from;
  const [start, end] = [new Int32Array(to), new Int32Array(to)];
  const [before, after] = [new Float32Array(to), new Float32Array(to)];
  for (let o = 0; o < to; o++) {
    const [low, high] = [o / ratio, (o + 1) / ratio];
    start[o] = Math.ceil(low - CLOSE);
    end[o] = Math.max(start[o], Math.floor(high + CLOSE));
    before[o] = Math.max(0, start[o] - low) * ratio;
    after[o] = Math.max(0, high - end[o]) * ratio;
    if (before[o] < CLOSE) before[o] = 0;
    if (after[o] < CLOSE || end[o] >= from) after[o] = 0;
  }
  const of = (index: number) => {
    const first = Math.min(to - 1, Math.floor(index * ratio + CLOSE));
    const share = Math.min(ratio, first + 1 - index * ratio);
    return { first, share: first === to - 1 || share > ratio - CLOSE ? ratio : share };
  };
  return { ratio, start, end, before, after, of };
}

function sumAcross(
  line: Float32Array,
  codes: Uint16Array,
  offset: number,
  stride: number,
  table: Float32Array,
  { ratio, start, end, before, after }: Spans,
): void {
  for (let o = 0; o < line.length; o++) {
    let sum = 0;
    const last = offset + end[o] * stride;
    for (let i = offset + start[o] * stride; i < last; i += stride) sum += table[codes[i]];
    sum *= ratio;
    if (before[o] > 0) sum += before[o] * table[codes[offset + (start[o] - 1) * stride]];
    if (after[o] > 0) sum += after[o] * table[codes[last]];
    line[o] = sum;
  }
}

function addLine({ width, height, data }: Plane, row: number, line: Float32Array, weight: number): void {
  if (row >= height) return;
  for (let x = 0, i = row * width; x < width; x++, i++) data[i] += weight * line[x];
}
