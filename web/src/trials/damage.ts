import { levelOf, LIMITS, type Figures } from '@vitrocept/core';

/** How bad the worst figure is on one scale: 1 where *check* begins, 2 where *damaged* begins. */
export function damageOf(figures: Figures): number {
  const { halo, ringing, unproven, colour, grain, leak } = figures;
  const measured = [
    [halo, levelOf(halo.value, LIMITS.halo)],
    [ringing, levelOf(ringing.value, LIMITS.ringing)],
    [unproven, unproven.value],
    [colour, levelOf(colour.value, LIMITS.colour)],
    [grain, levelOf(grain.value, LIMITS.grain)],
    [leak, levelOf(leak.value, LIMITS.leak)],
  ] as const;
  return Math.max(0, ...measured.filter(([figure]) => figure.verdict !== 'not measurable').map(([, level]) => level));
}

/** How many times finer edges have become, 1 where nothing changed; null where too few edges lie. */
export function gainOf({ gain }: Figures): number | null {
  return gain ? gain.before / gain.after : null;
}

export interface Trade {
  readonly gain: number;
  readonly damage: number;
}

/** Those that no other beats in both gain and damage, from the least to the most gain. */
export function bestTrades<T extends Trade>(trades: readonly T[]): T[] {
  return trades
    .filter((one) => !trades.some((other) => other.gain > one.gain && other.damage <= one.damage))
    .filter((one) => !trades.some((other) => other.gain === one.gain && other.damage < one.damage))
    .sort((p, q) => p.gain - q.gain);
}
