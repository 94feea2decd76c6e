import type { Plane } from '../picture/plane';

/**
 * Holds `result` to the range of `original` in its neighbourhood: a sample may leave [minimum, maximum] of the square
 * of 2·reach + 1 px around it by at most `limitPercent` of that range. In place on `result`.
 */
export function limitHalos(result: Plane, original: Plane, reach: number, limitPercent: number): void {
  const { low, high } = neighbourhoodRange(original, reach);
  for (let i = 0; i < result.data.length; i++) {
    const room = ((high.data[i] - low.data[i]) * limitPercent) / 100;
    const value = result.data[i];
    if (value > high.data[i] + room) result.data[i] = high.data[i] + room;
    else if (value < low.data[i] - room) result.data[i] = low.data[i] - room;
  }
}

/** Minimum and maximum over the square of 2·reach + 1 px around each sample, cut at the plane's edges. */
export function neighbourhoodRange(plane: Plane, reach: number): { low: Plane; high: Plane } {
  const { width, height, data } = plane;
  const lowAcross = new Float32Array(data.length);
  const highAcross = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const end = row + Math.min(width - 1, x + reach);
      let low = data[row + x];
      let high = low;
      for (let i = row + Math.max(0, x - reach); i <= end; i++) {
        const value = data[i];
        if (value < low) low = value;
        else if (value > high) high = value;
      }
      lowAcross[row + x] = low;
      highAcross[row + x] = high;
    }
  }
  const low = { width, height, data: lowAcross.slice() };
  const high = { width, height, data: highAcross.slice() };
  for (let y = 0; y < height; y++) {
    const end = Math.min(height - 1, y + reach);
    for (let at = Math.max(0, y - reach); at <= end; at++) {
      // Row by row, so that memory is read in order.
      for (let i = y * width, j = at * width, last = i + width; i < last; i++, j++) {
        if (lowAcross[j] < low.data[i]) low.data[i] = lowAcross[j];
        if (highAcross[j] > high.data[i]) high.data[i] = highAcross[j];
      }
    }
  }
  return { low, high };
}
