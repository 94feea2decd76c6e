import type { Plane } from '../picture/plane';

/**
 * Holds `result` to the range of `original` in its neighbourhood: a sample may leave [minimum, maximum] of the square
 * of 2·reach + 1 px around it by at most `limitPercent` of that range. In place on `result`. The range is taken between
 * square roots of linear light: seen from a highlight, a tenth of the linear range would let all dark beside it go black.
 */
export function limitHalos(result: Plane, original: Plane, reach: number, limitPercent: number): void {
  const { low, high } = neighbourhoodRange(original, reach);
  for (let i = 0; i < result.data.length; i++) {
    const value = result.data[i];
    if (value >= low.data[i] && value <= high.data[i]) continue;
    const darkest = Math.sqrt(Math.max(0, low.data[i]));
    const brightest = Math.sqrt(Math.max(0, high.data[i]));
    const room = ((brightest - darkest) * limitPercent) / 100;
    if (value > high.data[i]) result.data[i] = Math.min(value, (brightest + room) ** 2);
    else result.data[i] = Math.max(value, Math.max(0, darkest - room) ** 2);
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
