import { createPlane, type Plane } from './plane';
import type { Size } from './region';

/**
 * A picture made smaller while it comes in, a few rows at a time: every new sample is the mean of the samples it covers,
 * those at its border by the share that lies in it. In linear light no brightness is lost.
 */
export class Shrinking {
  readonly size: Size;
  private readonly planes: Plane[];

  /** @param side - Most px of the longer side of the result; a smaller picture stays as it is. */
  constructor(
    private readonly whole: Size,
    channels: number,
    side: number,
  ) {
    const scale = Math.min(1, side / Math.max(whole.width, whole.height));
    this.size = {
      width: Math.max(1, Math.round(whole.width * scale)),
      height: Math.max(1, Math.round(whole.height * scale)),
    };
    this.planes = Array.from({ length: channels }, () => createPlane(this.size.width, this.size.height));
  }

  /** @param rows - Whole rows of the picture, each given once; the first of them is row `y`. */
  add(rows: readonly Plane[], y: number): void {
    const across = sharesOf(this.whole.width, this.size.width);
    const down = sharesOf(this.whole.height, this.size.height);
    const line = new Float32Array(this.size.width + 1);
    rows.forEach(({ width, height, data }, c) => {
      for (let row = 0; row < height; row++) {
        line.fill(0);
        for (let x = 0, i = row * width; x < width; x++, i++) {
          line[across.first[x]] += across.share[x] * data[i];
          line[across.first[x] + 1] += across.next[x] * data[i];
        }
        const first = down.first[y + row];
        addLine(this.planes[c], first, line, down.share[y + row]);
        if (down.next[y + row] > 0) addLine(this.planes[c], first + 1, line, down.next[y + row]);
      }
    });
  }

  /** After all rows. */
  get result(): readonly Plane[] {
    return this.planes;
  }
}

interface Shares {
  readonly first: Int32Array;
  readonly share: Float32Array;
  readonly next: Float32Array;
}

/** Of each of `from` samples: the first of `to` new ones it lies in, and its part of the mean there and in the one after. */
function sharesOf(from: number, to: number): Shares {
  const ratio = to / from;
  const [first, share, next] = [new Int32Array(from), new Float32Array(from), new Float32Array(from)];
  for (let i = 0; i < from; i++) {
    const [start, end] = [i * ratio, Math.min(to, (i + 1) * ratio)];
    first[i] = Math.min(to - 1, Math.floor(start + 1e-9));
    share[i] = Math.min(end, first[i] + 1) - start;
    next[i] = Math.max(0, end - start - share[i]);
  }
  return { first, share, next };
}

function addLine({ width, data }: Plane, row: number, line: Float32Array, weight: number): void {
  if (row * width >= data.length) return;
  for (let x = 0, i = row * width; x < width; x++, i++) data[i] += weight * line[x];
}
