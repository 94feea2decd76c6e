import { installedFilters } from './filters';
import { createPlane, type Plane } from './plane';
import type { Size } from './region';

/**
 * A picture made smaller while it comes in, a few rows at a time: every new sample is the mean of the samples it
 * covers, those at its border by the share that lies in it. In linear light no brightness is lost.
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

  /**
   * @param codes - Whole rows of the picture, channels interleaved, each row given once; the first of them is row `y`.
   */
  add(codes: Uint16Array, y: number): void {
    const { width } = this.whole;
    const rows = codes.length / (width * this.tables.length);
    const filters = rows >= WORTH_HANDING_OVER ? installedFilters({ width, height: rows }) : null;
    const lines = (filters?.sumsAcross ?? plainSumsAcross)(codes, width, this.tables, this.across);
    lines.forEach((sums, c) => {
      for (let row = 0; row < rows; row++) {
        const line = sums.subarray(row * this.size.width, (row + 1) * this.size.width);
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

/** Rows of a picture below which the tables take longer to hand over than the sums to find. */
const WORTH_HANDING_OVER = 8;

/** Of a line made shorter: which samples lie under each new one. */
export interface LineSpans {
  /** New samples for each old one. */
  readonly ratio: number;
  /** Of each new sample: the old ones that lie wholly in it, from `start` on and before `end`. */
  readonly start: Int32Array;
  readonly end: Int32Array;
  /** Weights of the old sample before `start` and of the one at `end`, which lie in it partly. */
  readonly before: Float32Array;
  readonly after: Float32Array;
}

interface Spans extends LineSpans {
  /** The new sample that an old one begins in, and its weight there; the rest of `ratio` goes to the next. */
  of(index: number): { first: number; share: number };
}

const CLOSE = 1e-9;

export function spansOf(from: number, to: number): Spans {
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

/** Rows of interleaved codes made shorter, in linear light: of each channel all rows, one after the other. */
export function plainSumsAcross(
  codes: Uint16Array,
  width: number,
  tables: readonly Float32Array[],
  spans: LineSpans,
): Float32Array[] {
  const stride = tables.length;
  const count = spans.start.length;
  const rows = codes.length / (width * stride);
  return tables.map((table, c) => {
    const sums = new Float32Array(rows * count);
    for (let row = 0; row < rows; row++) {
      const line = sums.subarray(row * count, (row + 1) * count);
      sumAcross(line, codes, row * width * stride + c, stride, table, spans);
    }
    return sums;
  });
}

function sumAcross(
  line: Float32Array,
  codes: Uint16Array,
  offset: number,
  stride: number,
  table: Float32Array,
  { ratio, start, end, before, after }: LineSpans,
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
