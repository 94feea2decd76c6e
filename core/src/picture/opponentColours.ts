import { mix, mixes } from './arithmetic';
import { keptWith } from './kept';
import type { Channels } from './picture';
import type { Plane } from './plane';

const A = 1 / Math.sqrt(3);
const B = 1 / Math.sqrt(2);
const C = 1 / Math.sqrt(6);
/** Rows: brightness, red against blue, green against both. Orthonormal: the way back is the transpose. */
const ROWS = [
  [A, A, A],
  [B, 0, -B],
  [-C, 2 * C, -C],
];
const COLUMNS = [0, 1, 2].map((c) => ROWS.map((row) => row[c]));

/**
 * Red, green, blue to brightness (their sum / √3) and two opponent colours, lengths kept: noise that the camera or
 * JPEG left unequal between brightness and colour can then be weighed for each. A single channel stays as it is.
 */
export function toOpponent(channels: Channels): Plane[] {
  return channels.length === 1 ? [channels[0]] : mixes(channels, ROWS);
}

export function fromOpponent(components: readonly Plane[]): Plane[] {
  if (components.length === 1) return [components[0]];
  return mixes(components, COLUMNS);
}

/** The first of `toOpponent` alone. */
export function brightnessOf(channels: Channels): Plane {
  return channels.length === 1 ? channels[0] : mix(channels, ROWS[0]);
}

/** `toOpponent` of channels that never change. */
export function keptOpponent(channels: Channels): readonly Plane[] {
  return keptWith(channels[0], 'opponent', () => toOpponent(channels));
}

/** Variances of the components of channels whose noise is each one's own. */
export function opponentVariances(variances: readonly number[]): number[] {
  if (variances.length === 1) return [variances[0]];
  return ROWS.map((row) => row.reduce((sum, weight, c) => sum + weight * weight * variances[c], 0));
}
