import { keptRange } from '../picture/neighbourhoodRange';
import type { Plane } from '../picture/plane';

/**
 * Holds `result` to the range of `original` in its neighbourhood: a sample may leave [minimum, maximum] of the square
 * of 2·reach + 1 px around it by at most `limitPercent` of that range. In place on `result`. The range is taken between
 * square roots of linear light: seen from a highlight, a tenth of the linear range would let all dark beside it go
 * black.
 *
 * @param original - Must never change.
 */
export function limitHalos(result: Plane, original: Plane, reach: number, limitPercent: number): void {
  const range = keptRange(original, reach);
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
