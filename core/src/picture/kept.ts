import { LastUsed } from '../lastUsed';

const kept = new WeakMap<object, LastUsed<string, { readonly value: unknown }>>();
const MOST_VALUES = 32;

/**
 * What `make` gave before for this owner and key, or gives now. Kept as long as the owner is: nobody waits for what did
 * not change. The owner must never change, and the key must name everything else that the value depends on.
 */
export function keptWith<T>(owner: object, key: string, make: () => T): T {
  const values = kept.get(owner) ?? new LastUsed<string, { readonly value: unknown }>(MOST_VALUES);
  kept.set(owner, values);
  return values.of(key, () => ({ value: make() })).value as T;
}

/** The same of two owners: kept as long as both are. */
export function keptWithBoth<T>(owner: object, other: object, key: string, make: () => T): T {
  const pairs = keptWith(owner, 'with another', () => new WeakMap<object, object>());
  const pair = pairs.get(other) ?? {};
  pairs.set(other, pair);
  return keptWith(pair, key, make);
}
