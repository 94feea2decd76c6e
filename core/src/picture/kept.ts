const kept = new WeakMap<object, Map<string, unknown>>();
const MOST_VALUES = 32;

/**
 * What `make` gave before for this owner and key, or gives now. Kept as long as the owner is: nobody waits for what did not
 * change. The owner must never change, and the key must name everything else that the value depends on.
 */
export function keptWith<T>(owner: object, key: string, make: () => T): T {
  const values = kept.get(owner) ?? new Map<string, unknown>();
  kept.set(owner, values);
  if (values.has(key)) {
    const found = values.get(key) as T;
    values.delete(key);
    values.set(key, found);
    return found;
  }
  const made = make();
  values.set(key, made);
  if (values.size > MOST_VALUES) values.delete(values.keys().next().value!);
  return made;
}
