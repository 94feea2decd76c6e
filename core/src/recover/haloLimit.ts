import type { Plane } from '../picture/plane';

/**
 * Holds `result` to the range of `original` in its neighbourhood: a sample may leave [minimum, maximum] of the square
 * of 2·reach + 1 px around it by at most `limitPercent` of that range. In place on `result`. The range is taken between
 * square roots of linear light: seen from a highlight, a tenth of the linear range would let all dark beside it go black.
 */
export function limitHalos(result: Plane, original: Plane, reach: number, limitPercent: number): void {
  const range = neighbourhoodRange(original, reach);
  const [low, high, data] = [range.low.data, range.high.data, result.data];
  for (let i = 0; i < data.length; i++) {
    const value = data[i];
    if (value >= low[i] && value <= high[i]) continue;
    const darkest = Math.sqrt(Math.max(0, low[i]));
    const brightest = Math.sqrt(Math.max(0, high[i]));
    const room = ((brightest - darkest) * limitPercent) / 100;
    if (value > high[i]) data[i] = Math.min(value, (brightest + room) ** 2);
    else data[i] = Math.max(value, Math.max(0, darkest - room) ** 2);
  }
}

/**
 * Minimum and maximum over the square of 2·reach + 1 px around each sample, cut at the plane's edges. The cost does not
 * grow with reach: minima from the start and from the end of blocks as long as the window, joined.
 * Source: van Herk, Pattern Recognition Letters 13 (1992); Gil & Werman, IEEE TPAMI 15 (1993).
 */
export function neighbourhoodRange(plane: Plane, reach: number): { low: Plane; high: Plane } {
  const { width, height } = plane;
  const high = leastAround(turned(plane.data), width, height, reach);
  return {
    low: { width, height, data: leastAround(plane.data, width, height, reach) },
    high: { width, height, data: turned(high) },
  };
}

function turned(data: Float32Array): Float32Array {
  const out = new Float32Array(data.length);
  for (let i = 0; i < data.length; i++) out[i] = -data[i];
  return out;
}

function leastAround(data: Float32Array, width: number, height: number, reach: number): Float32Array {
  return leastDown(leastAcross(data, width, height, reach), width, height, reach);
}

function leastAcross(data: Float32Array, width: number, height: number, reach: number): Float32Array {
  const window = 2 * reach + 1;
  const room = Math.ceil((width + 2 * reach) / window) * window;
  const line = new Float32Array(room).fill(Infinity);
  const fromStart = new Float32Array(room);
  const fromEnd = new Float32Array(room);
  const out = new Float32Array(data.length);
  for (let row = 0; row < height * width; row += width) {
    for (let x = 0; x < width; x++) line[x + reach] = data[row + x];
    for (let block = 0; block < room; block += window) {
      let least = Infinity;
      for (let i = block; i < block + window; i++) {
        if (line[i] < least) least = line[i];
        fromStart[i] = least;
      }
      least = Infinity;
      for (let i = block + window - 1; i >= block; i--) {
        if (line[i] < least) least = line[i];
        fromEnd[i] = least;
      }
    }
    for (let x = 0; x < width; x++) {
      const a = fromEnd[x];
      const b = fromStart[x + window - 1];
      out[row + x] = a < b ? a : b;
    }
  }
  return out;
}

/** As leastAcross, all columns at once, so that memory is read in order. */
function leastDown(data: Float32Array, width: number, height: number, reach: number): Float32Array {
  const window = 2 * reach + 1;
  const room = Math.ceil((height + 2 * reach) / window) * window;
  const fromStart = new Float32Array(room * width).fill(Infinity);
  for (let i = 0; i < data.length; i++) fromStart[reach * width + i] = data[i];
  const fromEnd = fromStart.slice();
  for (let row = 0; row < room; row++) {
    if (row % window !== 0) joinRow(fromStart, row * width, (row - 1) * width, width);
    const back = room - 1 - row;
    if (back % window !== window - 1) joinRow(fromEnd, back * width, (back + 1) * width, width);
  }
  const out = new Float32Array(data.length);
  const ahead = (window - 1) * width;
  for (let i = 0; i < out.length; i++) {
    const a = fromEnd[i];
    const b = fromStart[i + ahead];
    out[i] = a < b ? a : b;
  }
  return out;
}

function joinRow(data: Float32Array, to: number, from: number, width: number): void {
  for (let x = 0; x < width; x++) {
    if (data[from + x] < data[to + x]) data[to + x] = data[from + x];
  }
}
